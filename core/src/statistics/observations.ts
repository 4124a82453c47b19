/** Most observations above 0 that a tally keeps one by one. */
export const MOST_KEPT = 4096;
const LEAST_ROOM = 16;
/** By how much room grows; `MOST_KEPT` is `LEAST_ROOM` times a power of it. */
const GROWTH = 4;

export const NO_ROOM = new Float64Array(0);

/**
 * Rooms of `MOST_KEPT` that tallies have done without: they are used again, so that many replications allocate
 * little.
 */
const unused: Float64Array[] = [];
const MOST_UNUSED = 256;

/** Room for more observations, those so far in it. */
export function moreRoom(kept: Float64Array): Float64Array {
  const size = Math.max(LEAST_ROOM, kept.length * GROWTH);
  const room = (size === MOST_KEPT ? unused.pop() : undefined) ?? new Float64Array(size);
  room.set(kept);
  return room;
}

export function giveBack(kept: Float64Array): void {
  if (kept.length === MOST_KEPT && unused.length < MOST_UNUSED) unused.push(kept);
}
