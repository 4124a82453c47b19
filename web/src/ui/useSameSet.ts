import { useState } from "react";

/** The set given before, for as long as what is in it is the same: so that what depends on it is not done again. */
export function useSameSet(now: ReadonlySet<string>): ReadonlySet<string> {
  const [kept, keep] = useState(now);
  if (kept === now || (kept.size === now.size && [...now].every((entry) => kept.has(entry)))) return kept;
  keep(now);
  return now;
}
