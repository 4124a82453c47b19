import type { Design } from "@busy-harbor/core";

const NONE: readonly { readonly id: string }[] = [];

/**
 * Ids of elements, links and ways that differ between two states of a design; undefined when some were added, removed
 * or put in another order.
 */
export function changes(before: Design, after: Design): ReadonlySet<string> | undefined {
  const changed = new Set<string>();
  for (const list of ["elements", "links", "roads"] as const) {
    const [old, now] = [before[list] ?? NONE, after[list] ?? NONE];
    if (old === now) continue;
    if (old.length !== now.length) return undefined;
    for (let i = 0; i < now.length; i++) {
      if (old[i].id !== now[i].id) return undefined;
      if (old[i] !== now[i]) changed.add(now[i].id);
    }
  }
  return changed;
}
