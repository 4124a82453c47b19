import type { Design, Road } from "@busy-harbor/core";
import { distanceToSegment } from "./paths.ts";
import { drawnRoad, roadsOf } from "./roads.ts";

/** What of a way is seen on the floor; the rest of it may change without its being drawn anew. */
const SEEN = ["points", "from", "to", "kind", "width", "oneWay", "radius"] as const satisfies readonly (keyof Road)[];

/**
 * Ids of elements, links and ways that look different in two states of a design, and of elements on such ways, which
 * are drawn above them; undefined when some were added, removed or put in another order.
 */
export function changes(before: Design, after: Design): ReadonlySet<string> | undefined {
  const changed = new Set<string>();
  for (const list of ["elements", "links"] as const) {
    const [old, now] = [before[list], after[list]];
    if (old === now) continue;
    if (old.length !== now.length) return undefined;
    for (let i = 0; i < now.length; i++) {
      if (old[i].id !== now[i].id) return undefined;
      if (old[i] !== now[i]) changed.add(now[i].id);
    }
  }
  const [old, now] = [roadsOf(before), roadsOf(after)];
  if (old === now) return changed;
  if (old.length !== now.length) return undefined;
  for (let i = 0; i < now.length; i++) {
    if (old[i].id !== now[i].id) return undefined;
    if (SEEN.every((key) => old[i][key] === now[i][key])) continue;
    changed.add(now[i].id);
    for (const id of elementsOn(now[i], after)) changed.add(id);
  }
  return changed;
}

/** Ids of the elements that stand on a way. */
function elementsOn(road: Road, design: Design): string[] {
  const points = drawnRoad(road, design);
  return design.elements
    .filter(({ at }) =>
      points.some((point, i) => i > 0 && distanceToSegment(at, points[i - 1], point).distance <= road.width / 2),
    )
    .map(({ id }) => id);
}
