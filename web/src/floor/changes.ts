import type { Design, Road } from "@busy-harbor/core";
import { roadsOf } from "./roads.ts";

/** What of a way is seen on the floor; the rest of it may change without its being drawn anew. */
const SEEN = ["points", "from", "to", "kind", "width", "oneWay", "radius"] as const satisfies readonly (keyof Road)[];

/**
 * Ids of elements, links and ways that look different in two states of a design; undefined when some were added,
 * removed or put in another order.
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
    if (!SEEN.every((key) => old[i][key] === now[i][key])) changed.add(now[i].id);
  }
  return changed;
}
