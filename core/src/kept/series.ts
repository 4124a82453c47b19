/**
 * What was kept of a measure in one replication: pairs of an instant, in seconds from the start, and a value, in rising
 * order of time. Of observations each counts once; of a level each holds until the next instant, and the last pair is
 * its end.
 */
export interface Series {
  readonly isLevel: boolean;
  /** The pairs piece by piece; each time anew, as often as it is asked. A pair is never cut in two. */
  chunks(): Iterable<Float64Array>;
}

/** Goes through values with their weights: 1 each of observations, the seconds that it lasted of a level. */
export function eachWeighed({ isLevel, chunks }: Series, visit: (value: number, weight: number) => void): void {
  let from = Number.NaN;
  let value = Number.NaN;
  for (const chunk of chunks()) {
    for (let i = 0; i + 1 < chunk.length; i += 2) {
      if (!isLevel) visit(chunk[i + 1], 1);
      else {
        if (chunk[i] > from) visit(value, chunk[i] - from);
        from = chunk[i];
        value = chunk[i + 1];
      }
    }
  }
}

/** A series of pairs at hand. */
export const seriesOf = (isLevel: boolean, pairs: Float64Array): Series => ({ isLevel, chunks: () => [pairs] });
