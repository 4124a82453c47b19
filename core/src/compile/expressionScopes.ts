import type { StudyOf } from "../document/study.ts";
import { tablesOf } from "../document/table.ts";
import { type Scope, withRow } from "../expression/index.ts";
import { namedIn, unfold } from "./families/unfold.ts";
import { readDays } from "./resolve/calendars.ts";
import { knowingMember, knowingTypeRow } from "./resolve/members.ts";
import { Problems } from "./resolve/problems.ts";
import { withinWay } from "./resolve/roads.ts";
import { followsRoute, routeTableOf } from "./resolve/route.ts";
import { makeScopes } from "./resolve/scopes.ts";
import { makeTexts } from "./resolve/texts.ts";
import { tableOfMembers } from "./resolve/who.ts";
import { readTables } from "./resolve/tables.ts";

/** What may be named in expressions of one design of a study: where an entity is at hand, and where none is. */
export interface ExpressionScopes {
  readonly withEntity: Scope;
  readonly withoutEntity: Scope;
  /** The same in settings of a family, which know the member and its row; of anything else, as above. */
  ofFamily(elementId: string): Pick<ExpressionScopes, "withEntity" | "withoutEntity">;
  /** The same in settings of an element that goes by the rows of a table, which know the row it takes. */
  ofRows(tableId: string): Pick<ExpressionScopes, "withEntity" | "withoutEntity">;
  /** The same in what an entity type says that stands for the rows of a table. */
  ofType(typeId: string): Pick<ExpressionScopes, "withEntity" | "withoutEntity">;
  /** The same in what is said of a way that is drawn, which knows itself. */
  ofRoad(): Pick<ExpressionScopes, "withEntity" | "withoutEntity">;
  /** The same as some scope in a setting that asks of members of these resources, which knows the row of one. */
  knowingWho(scope: Scope, resourceIds: readonly string[]): Scope;
}

export function expressionScopes(study: StudyOf, design: StudyOf["designs"][number]): ExpressionScopes {
  const unheard = new Problems(design, []);
  const { intern, textOf } = makeTexts();
  const along = followsRoute(design) ? routeTableOf(tablesOf(study.tables, design.tables)) : undefined;
  const unfolded = unfold(study, design);
  const elements = namedIn(unfolded);
  const { entityTypes } = unfolded.design;
  const scopes = makeScopes(
    { study, document: design, ofStudy: unheard },
    unfolded,
    intern,
    unheard,
    (scope) =>
      readTables({ study, design, elements, entityTypes, intern, textOf, ...readDays(study, unheard) }, scope, unheard),
    along?.id,
  );
  return {
    ...scopes,
    ofFamily(elementId) {
      const member = [...unfolded.members.values()].find(({ family }) => family.id === elementId);
      return member ? knowingMember(scopes, member) : scopes;
    },
    ofRows(tableId) {
      const table = scopes.tables.find(({ id }) => id === tableId);
      if (!table) return scopes;
      const [withEntity, withoutEntity] = [scopes.withEntity, scopes.withoutEntity].map((scope) =>
        withRow(scope, table, () => -1),
      );
      return { withEntity, withoutEntity };
    },
    ofRoad: () => ({ ...scopes, withoutEntity: withinWay(scopes.withoutEntity, "") }),
    knowingWho(scope, ids) {
      const table = tableOfMembers(ids, design.elements, scopes.tables);
      return table ? withRow(scope, table, () => -1, "who") : scope;
    },
    ofType(typeId) {
      const row = [...unfolded.typeRows.values()].find(({ type }) => type === typeId);
      return row ? knowingTypeRow(scopes, row) : scopes;
    },
  };
}
