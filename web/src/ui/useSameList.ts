import { useState } from "react";

/** The list given before, for as long as its entries are the same: so that what depends on it is not done again. */
export function useSameList<T>(now: readonly T[]): readonly T[] {
  const [kept, keep] = useState(now);
  if (kept === now || (kept.length === now.length && now.every((entry, i) => entry === kept[i]))) return kept;
  keep(now);
  return now;
}
