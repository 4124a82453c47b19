/** A stretch of time, seconds from the start of the run, with other values than the cycle's. */
export interface Override {
  readonly from: number;
  readonly until: number;
  /** Where each piece begins, rising, the first at `from`. */
  readonly starts: readonly number[];
  readonly values: readonly number[];
}

export interface Cycle {
  /** Where each piece begins, seconds from the start of the cycle, rising, the first 0. */
  readonly starts: readonly number[];
  readonly values: readonly number[];
  /** Seconds until the cycle begins again; Infinity: never. */
  readonly length: number;
  /** Seconds from the start of the cycle to the start of the run. */
  readonly offset: number;
}

/**
 * Seconds by which a piece counts as begun before its time: sums of durations that are no whole seconds are not
 * exact.
 */
const EARLY = 1e-6;

/** By how much an integral may fall short of a whole number and yet reach it: rates are seldom exact in binary. */
const ROUNDING = 1e-9;

/** Pieces looked through for a value before it is taken never to come. */
const MOST_PIECES = 100_000;

/**
 * A number over time that is constant piece by piece: a cycle, and stretches in which
 * other values hold. Times are seconds from the start of the run, and exact
 * as long as the pieces begin at whole seconds.
 */
export class Timetable {
  constructor(
    private readonly cycle: Cycle,
    /** In order of time, not overlapping. */
    private readonly overrides: readonly Override[] = [],
  ) {}

  /** The value that holds from `time` on. */
  at(time: number): number {
    const override = this.overrideAt(time);
    if (override) return override.values[lastAtOrBefore(override.starts, time)];
    const { starts, values } = this.cycle;
    return values[lastAtOrBefore(starts, this.inCycle(time))];
  }

  /** When the piece that holds at `time` ends: Infinity for never. The next may have the same value. */
  endOfPiece(time: number): number {
    const override = this.overrideAt(time);
    if (override) return override.starts[lastAtOrBefore(override.starts, time) + 1] ?? override.until;
    const { starts, length, offset } = this.cycle;
    const within = this.inCycle(time);
    const begun = Number.isFinite(length) ? Math.floor((time + offset + EARLY) / length) * length : 0;
    const end = begun - offset + (starts[lastAtOrBefore(starts, within) + 1] ?? length);
    const next = this.overrides.find((o) => o.from > time);
    return next && next.from < end ? next.from : end;
  }

  /** The first time after `time` at which the value is another; Infinity when it stays. */
  nextChange(time: number): number {
    const value = this.at(time);
    return this.nextWhere(time, (v) => v !== value);
  }

  /** The first change after `time` to a value for which `holds`; Infinity when none comes. */
  nextWhere(time: number, holds: (value: number) => boolean): number {
    const last = this.horizon(time);
    let t = time;
    for (let i = 0; i < MOST_PIECES && t <= last; i++) {
      t = this.endOfPiece(t);
      if (t === Infinity || holds(this.at(t))) return t;
    }
    return Infinity;
  }

  /**
   * A time after which nothing comes that has not come between `time` and it: a whole cycle after the last override.
   */
  horizon(time: number): number {
    return Math.max(time, this.overrides[this.overrides.length - 1]?.until ?? 0) + this.cycle.length;
  }

  /** Integral of the value from `from` to `until`, in value times seconds. */
  integral(from: number, until: number): number {
    let sum = 0;
    for (let t = from; t < until;) {
      const end = Math.min(this.endOfPiece(t), until);
      sum += this.at(t) * (end - t);
      t = end;
    }
    return sum;
  }

  /** When the integral from `from` on reaches `amount`; Infinity when it never does. */
  whenIntegral(from: number, amount: number): number {
    let left = amount;
    let t = from;
    let last = this.horizon(from);
    for (let i = 0; i < MOST_PIECES && t <= last; i++) {
      const value = this.at(t);
      const end = this.endOfPiece(t);
      const inPiece = value * (end - t);
      if (value > 0 && inPiece >= left) return t + left / value;
      if (end === Infinity) return Infinity;
      left -= inPiece;
      t = end;
      // As long as it grows, it will be reached.
      if (inPiece > 0) last = this.horizon(t);
    }
    return Infinity;
  }

  /**
   * The instants at which its integral from the start reaches 1, 2, 3 …, one after another; Infinity when none comes
   * any more.
   */
  countingUp(): { readonly next: () => number; readonly reset: () => void } {
    let [from, before, count] = [0, 0, 0];
    const next = (): number => {
      count += 1;
      let last = this.horizon(from);
      for (let i = 0; i < MOST_PIECES && from <= last; i++) {
        const value = this.at(from);
        const end = this.endOfPiece(from);
        const inPiece = value > 0 ? value * (end - from) : 0;
        if (before + inPiece >= count - ROUNDING) return Math.min(end, from + (count - before) / value);
        if (end === Infinity) return Infinity;
        before += inPiece;
        from = end;
        if (inPiece > 0) last = this.horizon(from);
      }
      return Infinity;
    };
    return { next, reset: () => void ([from, before, count] = [0, 0, 0]) };
  }

  /** Its pieces from `from` to `until`, those with one value together. */
  pieces(from: number, until: number): { from: number; until: number; value: number }[] {
    const found: { from: number; until: number; value: number }[] = [];
    for (let t = from; t < until;) {
      const end = Math.min(this.nextChange(t), until);
      found.push({ from: t, until: end, value: this.at(t) });
      t = end;
    }
    return found;
  }

  private inCycle(time: number): number {
    const { length, offset } = this.cycle;
    const t = time + offset + EARLY;
    return Number.isFinite(length) ? t - Math.floor(t / length) * length : Math.max(0, t);
  }

  private overrideAt(time: number): Override | undefined {
    if (this.overrides.length === 0) return undefined;
    const i = lastAtOrBefore(this.overrides, time, (o) => o.from);
    return i >= 0 && time < this.overrides[i].until ? this.overrides[i] : undefined;
  }
}

/** Position of the last entry at or before `time`, by bisection; -1 when all are after it. */
function lastAtOrBefore(starts: readonly number[], time: number): number;
function lastAtOrBefore<T>(starts: readonly T[], time: number, at: (entry: T) => number): number;
function lastAtOrBefore(starts: readonly unknown[], time: number, at: (entry: never) => number = (x) => x): number {
  let low = 0;
  let high = starts.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (at(starts[middle] as never) <= time) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
