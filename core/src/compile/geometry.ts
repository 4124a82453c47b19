import type { ElementBase } from "../document/element.ts";
import type { Link } from "../document/link.ts";
import { checkExpression, makeScope, numberOf } from "../expression/index.ts";
import { rounded } from "../movement/rounded.ts";
import { LENGTH } from "../quantity/index.ts";
import type { Point } from "../settings/parts.ts";

/**
 * The points a link runs through, from the middle of one symbol to the middle of the other, in metres; those of the
 * curves of a conveyor among them.
 */
export function linkPoints(
  { bends, kind, radius }: Pick<Link, "bends" | "kind" | "radius">,
  from: Pick<ElementBase, "at">,
  to: Pick<ElementBase, "at">,
): Point[] {
  const points = [from.at, ...bends, to.at];
  const metres = kind === "conveyor" ? radiusOf(radius) : 0;
  return metres > 0 ? rounded(points, metres, []) : points;
}

/** Metres of the radius of curves, where that is said rightly; else 0. */
export function radiusOf(text = ""): number {
  if (text.trim() === "") return 0;
  const result = checkExpression(text, NO_NAMES, numberOf(LENGTH));
  return (result.ok ? result.checked.constant : undefined) ?? 0;
}

const NO_NAMES = makeScope(new Map(), () => -1);

/** Length of a bent line, in metres. */
export function polylineLength(points: readonly Point[]): number {
  let length = 0;
  for (let i = 1; i < points.length; i++) {
    const dx = points[i][0] - points[i - 1][0];
    const dy = points[i][1] - points[i - 1][1];
    length += Math.sqrt(dx * dx + dy * dy);
  }
  return length;
}
