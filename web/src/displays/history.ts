/** What displays showed over time, as it was seen frame by frame. */
export interface ShownHistory {
  readonly times: number[];
  /** One list a value, in the order of the displays. */
  readonly values: number[][];
}

export const startHistory = (): ShownHistory => ({ times: [], values: [] });

/** Points kept: beyond that the older half is thinned, so the recent past stays sharp. */
const MOST_POINTS = 1200;

/** Adds what is shown at a time, and forgets what is longer ago than `span` seconds. */
export function record({ times, values }: ShownHistory, time: number, shown: ArrayLike<number>, span: number): void {
  if (times.length > 0 && time <= times[times.length - 1]) return;
  times.push(time);
  for (let i = 0; i < shown.length; i++) (values[i] ??= []).push(shown[i]);
  let old = 0;
  // One point before the span stays: the line comes in from there.
  while (old + 1 < times.length && times[old + 1] < time - span) old++;
  const lists = [times, ...values];
  if (old > 0) for (const list of lists) list.splice(0, old);
  if (times.length > MOST_POINTS)
    for (const list of lists)
      list.splice(0, MOST_POINTS / 2, ...list.slice(0, MOST_POINTS / 2).filter((_, i) => i % 2 === 0));
}
