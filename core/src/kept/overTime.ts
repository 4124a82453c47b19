import type { DayClock } from "../timetable/dayClock.ts";
import type { Series } from "./series.ts";

/** Puts instants in classes, each of which lasts from an instant until the next that begins another. */
export interface Classes {
  readonly count: number;
  /** The class of an instant; outside of 0 … count - 1 where it belongs to none. */
  at(t: number): number;
  /** The instant, after `t`, at which its class ends. */
  end(t: number): number;
}

/** Equal pieces of time from an instant on. */
export const piecesOf = (from: number, width: number, count: number): Classes => ({
  count,
  at: (t) => Math.floor((t - from) / width + 1e-9),
  end: (t) => from + (Math.floor((t - from) / width + 1e-9) + 1) * width,
});

const HOUR = 3600;

/** The hours of the day by the clock on the wall. `closes`: seconds of the day after which nights are skipped. */
export const hoursOfDay = ({ wall }: DayClock, closes = 24 * HOUR): Classes => {
  const ofDay = (t: number) => (wall(t) + 1e-6) % (24 * HOUR);
  return {
    count: 24,
    at: (t) => Math.floor(ofDay(t) / HOUR),
    end: (t) => {
      const now = ofDay(t);
      const next = (Math.floor(now / HOUR) + 1) * HOUR;
      return t + 1e-6 + (now < closes ? Math.min(next, closes) - now : next - now);
    },
  };
};

/**
 * The mean of a replication in each class: of the observations made in it, or of the level over the time in it; NaN
 * where there is none.
 */
export function meansByClass({ isLevel, chunks }: Series, classes: Classes): Float64Array {
  const sums = new Float64Array(classes.count);
  const weights = new Float64Array(classes.count);
  const add = (at: number, value: number, weight: number): void => {
    if (!(at >= 0 && at < classes.count)) return;
    sums[at] += value * weight;
    weights[at] += weight;
  };
  let from = Number.NaN;
  let value = Number.NaN;
  for (const chunk of chunks()) {
    for (let i = 0; i + 1 < chunk.length; i += 2) {
      const now = chunk[i];
      if (!isLevel) add(classes.at(now), chunk[i + 1], 1);
      else {
        while (from < now) {
          const end = Math.min(now, classes.end(from));
          add(classes.at(from), value, end - from);
          from = end;
        }
        from = now;
        value = chunk[i + 1];
      }
    }
  }
  return sums.map((sum, i) => sum / weights[i]);
}

/** Mean and standard deviation over replications, and how many have a value: each by class. */
export interface Across {
  readonly n: number[];
  readonly mean: number[];
  readonly deviation: number[];
}

/** Puts together the means of replications, class by class. */
export class AcrossReplications {
  private readonly n: Int32Array;
  private readonly mean: Float64Array;
  private readonly squares: Float64Array;

  constructor(classes: number) {
    this.n = new Int32Array(classes);
    this.mean = new Float64Array(classes);
    this.squares = new Float64Array(classes);
  }

  add(means: Float64Array): void {
    const { n, mean, squares } = this;
    means.forEach((value, i) => {
      if (!Number.isFinite(value)) return;
      n[i] += 1;
      // Welford (1962).
      const off = value - mean[i];
      mean[i] += off / n[i];
      squares[i] += off * (value - mean[i]);
    });
  }

  /** Without a value where no replication has one, or too few for a deviation. */
  get result(): Across {
    return {
      n: [...this.n],
      mean: Array.from(this.mean, (value, i) => (this.n[i] > 0 ? value : Number.NaN)),
      deviation: Array.from(this.squares, (value, i) =>
        this.n[i] > 1 ? Math.sqrt(value / (this.n[i] - 1)) : Number.NaN,
      ),
    };
  }
}

/**
 * Pairs that a drawing of so many columns shows: in each the first, the least, the greatest and the last (Jugel et al.
 * 2014).
 */
export function drawnPairs(
  { chunks }: Series,
  columns: number,
): { readonly times: number[]; readonly values: number[] } {
  let first = Number.NaN;
  let last = Number.NaN;
  let n = 0;
  for (const chunk of chunks()) {
    if (chunk.length < 2) continue;
    if (n === 0) first = chunk[0];
    last = chunk[chunk.length - 2];
    n += chunk.length >> 1;
  }
  const times: number[] = [];
  const values: number[] = [];
  const take = (pairs: readonly (readonly [number, number])[]): void => {
    for (const [time, value] of pairs) {
      times.push(time);
      values.push(value);
    }
  };
  if (n <= 4 * columns) {
    for (const chunk of chunks()) for (let i = 0; i + 1 < chunk.length; i += 2) take([[chunk[i], chunk[i + 1]]]);
    return { times, values };
  }
  const width = (last - first) / columns || 1;
  let column = -1;
  let kept: (readonly [number, number, number])[] = [];
  const flush = () =>
    take([...new Set(kept)].sort((a, b) => a[2] - b[2]).map(([time, value]) => [time, value] as const));
  let order = 0;
  for (const chunk of chunks()) {
    for (let i = 0; i + 1 < chunk.length; i += 2) {
      const pair = [chunk[i], chunk[i + 1], order++] as const;
      const of = Math.min(columns - 1, Math.floor((pair[0] - first) / width));
      if (of !== column) {
        flush();
        column = of;
        kept = [pair, pair, pair, pair];
      } else {
        if (pair[1] < kept[1][1]) kept[1] = pair;
        if (pair[1] > kept[2][1]) kept[2] = pair;
        kept[3] = pair;
      }
    }
  }
  flush();
  return { times, values };
}
