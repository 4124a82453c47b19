import { checkExpression, makeScope } from "../expression/index.ts";
import type { Dimension } from "../quantity/index.ts";

const NOTHING = makeScope(new Map(), () => 0);

export interface Constant {
  /** In SI units. */
  readonly value: number;
  readonly dimension: Dimension;
}

/** The number that a text stands for by itself, such as `90 s` or `12/h`; undefined where it stands for none. */
export function constantOf(text: string): Constant | undefined {
  const found = checkExpression(text, NOTHING);
  if (!found.ok || found.checked.type.kind !== "number" || found.checked.constant === undefined) return undefined;
  return { value: found.checked.constant, dimension: found.checked.type.dimension };
}
