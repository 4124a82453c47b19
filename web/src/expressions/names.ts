import { type Design, expressionScopes, type Scope, type Study, type ValueType } from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";
import type { Names } from "./completion.ts";

export interface ExpressionOf {
  /** Whether an entity is at hand where it is read. */
  readonly entity?: boolean;
  /** Words it may be in place of an expression. */
  readonly words?: readonly string[];
  /** Id of the family of which a member is at hand. */
  readonly family?: string;
  /** Id of the entity type of which a row of a table is at hand. */
  readonly type?: string;
  /** What it must yield, where it may draw: then a distribution can be picked for it. */
  readonly draws?: ValueType;
}

/** By the design, for as long as the tables of its study are the same too. */
const known = new WeakMap<
  Design,
  { readonly tables: Study["tables"]; readonly scopes: ReturnType<typeof expressionScopes> }
>();

/** What may be named in expressions of the design at hand. */
function scopeNow({ entity, family, type }: ExpressionOf): Scope | undefined {
  const { history, designId } = useStudy.getState();
  const study = history?.present;
  const design = study?.designs.find((d) => d.id === designId);
  if (!study || !design) return undefined;
  const before = known.get(design);
  const scopes = before?.tables === study.tables ? before.scopes : expressionScopes(study, design);
  if (scopes !== before?.scopes) known.set(design, { tables: study.tables, scopes });
  const { withEntity, withoutEntity } =
    family !== undefined ? scopes.ofFamily(family) : type !== undefined ? scopes.ofType(type) : scopes;
  return entity ? withEntity : withoutEntity;
}

/** What may stand in an expression at such a place, asked when it is written. */
export const namesWhere = (place: ExpressionOf): Names => ({
  scope: () => scopeNow(place),
  words: place.words,
});
