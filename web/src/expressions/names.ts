import {
  type Design,
  type ExpressionScopes,
  expressionScopes,
  type Scope,
  type Study,
  type ValueType,
} from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";
import type { Names } from "./completion.ts";

export interface ExpressionOf {
  /** Whether an entity is at hand where it is read. */
  readonly entity?: boolean;
  /** Words it may be in place of an expression. */
  readonly words?: readonly string[];
  /** Id of the family of which a member is at hand. */
  readonly family?: string;
  /** Id of the table of which a row is at hand. */
  readonly rows?: string;
  /** Id of the entity type of which a row of a table is at hand. */
  readonly type?: string;
  /** A way that is drawn is at hand. */
  readonly road?: boolean;
  /** Ids of the resources of a member of which it may ask, if it may. */
  readonly who?: readonly string[];
  /** What may be named there, where that is more than the place tells; the rest where it gives none. */
  readonly scope?: () => Scope | undefined;
  /** What it must yield, where it may draw: then a distribution can be picked for it. */
  readonly draws?: ValueType;
}

/** By the design, for as long as the tables and variables of its study are the same too. */
const known = new WeakMap<
  Design,
  { readonly tables: Study["tables"]; readonly variables: Study["variables"]; readonly scopes: ExpressionScopes }
>();

/** The names of a place that knows a member, a row or a type besides. */
function whereAt(scopes: ExpressionScopes, { family, rows, type, road }: ExpressionOf) {
  if (road) return scopes.ofRoad();
  if (family !== undefined) return scopes.ofFamily(family);
  if (rows !== undefined) return scopes.ofRows(rows);
  return type === undefined ? scopes : scopes.ofType(type);
}

/** What may be named in expressions of the design at hand. */
function scopeNow({ entity, scope, who, ...at }: ExpressionOf): Scope | undefined {
  const given = scope?.();
  if (given && !who) return given;
  const { history, designId } = useStudy.getState();
  const study = history?.present;
  const design = study?.designs.find((d) => d.id === designId);
  if (!study || !design) return undefined;
  const before = known.get(design);
  const { tables, variables } = study;
  const isKnown = before?.tables === tables && before.variables === variables;
  const scopes = isKnown ? before.scopes : expressionScopes(study, design);
  if (scopes !== before?.scopes) known.set(design, { tables, variables, scopes });
  const { withEntity, withoutEntity } = whereAt(scopes, at);
  const found = given ?? (entity ? withEntity : withoutEntity);
  return who ? scopes.knowingWho(found, who) : found;
}

/** What may stand in an expression at such a place, asked when it is written. */
export const namesWhere = (place: ExpressionOf): Names => ({
  scope: () => scopeNow(place),
  words: place.words,
});
