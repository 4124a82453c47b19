import type { Design, Point } from "@busy-harbor/core";
import type { View } from "./view.ts";

/** Places of other elements that a moved one is in line with, in metres. */
export interface Guides {
  readonly x?: number;
  readonly y?: number;
}

/** How near a moved element is drawn to the line of another, in pixels; and how near counts as being on it. */
const PULL = 6;
export const EXACTLY = 0.01;

/** The nearest lines of other elements within reach of a place; those in view only, so that nothing unseen pulls. */
export function guidesFor(design: Design, moved: ReadonlySet<string>, view: View, [x, y]: Point, reach = PULL): Guides {
  const nearest = (axis: 0 | 1, value: number): number | undefined => {
    let best: number | undefined;
    let least = reach / view.scale;
    for (const element of design.elements) {
      if (moved.has(element.id)) continue;
      const distance = Math.abs(element.at[axis] - value);
      if (distance <= least) {
        least = distance;
        best = element.at[axis];
      }
    }
    return best;
  };
  return { x: nearest(0, x), y: nearest(1, y) };
}
