import { Histogram } from "./histogram.ts";
import { giveBack, MOST_KEPT, moreRoom, NO_ROOM } from "./observations.ts";

const SUM = 0;
const MAX = 1;
const MIN = 2;

/** A quantile, and by how much it may be off: 0 where it is exact. */
export interface Quantile {
  readonly value: number;
  readonly error: number;
}

const UNDEFINED: Quantile = { value: Number.NaN, error: 0 };

/**
 * Observations of 0 and more, one by one: their number, mean, least, largest and quantiles. The p-quantile is the
 * ⌈pn⌉-th smallest of n observations (the inverse of their distribution function: Hyndman and Fan 1996, definition
 * 1). Up to `MOST_KEPT` observations above 0 are kept, and quantiles are exact; of more there are counts in narrow
 * bins, and a quantile lies in its bin.
 */
export class Tally {
  private readonly cells = new Float64Array([0, 0, Infinity]);
  private zeros = 0;
  /** Observations above 0. */
  positive = 0;
  /** Whether there were too many to keep, and all are counted in bins. */
  private binned = false;
  private kept: Float64Array = NO_ROOM;
  private isSorted = false;
  private readonly histogram = new Histogram();

  add(value: number): void {
    if (!(value > 0)) {
      this.zeros += 1;
      return;
    }
    const { cells } = this;
    cells[SUM] += value;
    if (value > cells[MAX]) cells[MAX] = value;
    if (value < cells[MIN]) cells[MIN] = value;
    if (this.binned) this.histogram.add(value);
    else this.keep(value);
    this.positive += 1;
  }

  /** An observation of 0, the commonest wait. */
  addZero(): void {
    this.zeros += 1;
  }

  get count(): number {
    return this.positive + this.zeros;
  }

  get sum(): number {
    return this.cells[SUM];
  }

  /** Mean of all observations; NaN without any. */
  get mean(): number {
    return this.cells[SUM] / this.count;
  }

  /** The largest observation; NaN without any. */
  get max(): number {
    return this.count > 0 ? this.cells[MAX] : Number.NaN;
  }

  /** The p-quantile of the observations, those of 0 left out where `skipZeros`; NaN without any. */
  quantile(p: number, skipZeros = false): Quantile {
    const zeros = skipZeros ? 0 : this.zeros;
    const count = this.positive + zeros;
    if (count === 0) return UNDEFINED;
    const rank = Math.min(count, Math.max(1, Math.ceil(p * count))) - zeros;
    if (rank <= 0) return { value: 0, error: 0 };
    if (!this.binned) {
      this.sort();
      return { value: this.kept[rank - 1], error: 0 };
    }
    const bin = this.histogram.orderStatistic(rank);
    const low = Math.max(this.cells[MIN], bin.low);
    const high = Math.min(this.cells[MAX], bin.high);
    const value = Math.min(high, Math.max(low, bin.value));
    return { value, error: Math.max(value - low, high - value) };
  }

  /** Takes in all observations of another tally. */
  include(other: Tally): void {
    this.cells[SUM] += other.cells[SUM];
    this.cells[MAX] = Math.max(this.cells[MAX], other.cells[MAX]);
    this.cells[MIN] = Math.min(this.cells[MIN], other.cells[MIN]);
    this.zeros += other.zeros;
    if (other.binned) {
      if (!this.binned) this.bin();
      this.histogram.include(other.histogram);
      this.positive += other.positive;
      return;
    }
    for (let i = 0; i < other.positive; i++) {
      if (this.binned) this.histogram.add(other.kept[i]);
      else this.keep(other.kept[i]);
      this.positive += 1;
    }
  }

  restart(): void {
    this.cells[SUM] = 0;
    this.cells[MAX] = 0;
    this.cells[MIN] = Infinity;
    this.zeros = 0;
    this.positive = 0;
    if (this.binned) this.histogram.clear();
    this.binned = false;
    this.isSorted = false;
  }

  /** Keeps one more observation, or puts all in bins where that is one too many. */
  private keep(value: number): void {
    if (this.positive === MOST_KEPT) {
      this.bin();
      this.histogram.add(value);
      return;
    }
    if (this.positive === this.kept.length) this.kept = moreRoom(this.kept);
    this.kept[this.positive] = value;
    this.isSorted = false;
  }

  private bin(): void {
    for (let i = 0; i < this.positive; i++) this.histogram.add(this.kept[i]);
    giveBack(this.kept);
    this.kept = NO_ROOM;
    this.binned = true;
  }

  private sort(): void {
    if (this.isSorted) return;
    this.kept.subarray(0, this.positive).sort();
    this.isSorted = true;
  }
}

/** One tally of all observations of several; the tally itself when there is only one. */
export function mergeTallies(tallies: readonly Tally[]): Tally {
  if (tallies.length === 1) return tallies[0];
  const merged = new Tally();
  for (const tally of tallies) merged.include(tally);
  return merged;
}
