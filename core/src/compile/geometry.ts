import type { ElementBase } from "../document/element.ts";
import type { Link } from "../document/link.ts";
import type { Point } from "../settings/parts.ts";

/** The points a link runs through, from the middle of one symbol to the middle of the other, in metres. */
export const linkPoints = (
  link: Pick<Link, "bends">,
  from: Pick<ElementBase, "at">,
  to: Pick<ElementBase, "at">,
): Point[] => [from.at, ...link.bends, to.at];

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
