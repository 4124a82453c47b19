import { type Design, expressionScopes, type Scope, type ValueType } from "@busy-harbor/core";
import { useStudy } from "../state/study.ts";
import type { Names } from "./completion.ts";

export interface ExpressionOf {
  /** Whether an entity is at hand where it is read. */
  readonly entity?: boolean;
  /** Words it may be in place of an expression. */
  readonly words?: readonly string[];
  /** What it must yield, where it may draw: then a distribution can be picked for it. */
  readonly draws?: ValueType;
}

const known = new WeakMap<Design, ReturnType<typeof expressionScopes>>();

/** What may be named in expressions of the design at hand. */
function scopeNow(entity: boolean): Scope | undefined {
  const { history, designId } = useStudy.getState();
  const design = history?.present.designs.find((d) => d.id === designId);
  if (!design) return undefined;
  let scopes = known.get(design);
  if (!scopes) known.set(design, (scopes = expressionScopes(design)));
  return entity ? scopes.withEntity : scopes.withoutEntity;
}

/** What may stand in an expression at such a place, asked when it is written. */
export const namesWhere = ({ entity = false, words }: ExpressionOf): Names => ({
  scope: () => scopeNow(entity),
  words,
});
