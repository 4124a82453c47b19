import { type Bins, likelyBins } from "./bins.ts";
import { eachWeighed, type Series } from "./series.ts";

/** Different values that are kept for exact quantiles. */
const MOST_VALUES = 1_000_000;
/** Equal cells between the least and the greatest value, in which more are counted. */
const CELLS = 65_536;

/**
 * How values of one measure are distributed, those of all replications together: a weight of 1 each for observations,
 * the seconds that it lasted for a value of a level.
 */
export interface Distribution {
  /** Observations, or seconds. */
  readonly weight: number;
  readonly mean: number;
  /** Of observations by n - 1; of a level the root of the mean square deviation over time. */
  readonly deviation: number;
  readonly least: number;
  readonly most: number;
  /** By how much quantiles may be off; 0 where they are exact. */
  readonly error: number;
  /** The smallest value at or below which a share p lies (Hyndman and Fan 1996, definition 1). */
  quantile(p: number): number;
  /** The share at or below a value, and that below it. */
  share(value: number): number;
  shareBelow(value: number): number;
  /** The least value at or above a bound, and the greatest at or below it. */
  next(bound: number): number;
  last(bound: number): number;
}

/** Reads the distribution of series, in two passes where there are many values. Undefined without any. */
export function distributionOf(series: readonly Series[]): Distribution | undefined {
  const { isLevel } = series[0] ?? { isLevel: false };
  let weight = 0;
  let mean = 0;
  let squares = 0;
  let least = Infinity;
  let most = -Infinity;
  let values: Values | undefined = isLevel ? new WeighedValues() : new PlainValues();
  for (const one of series) {
    eachWeighed(one, (value, w) => {
      // By weights (West 1979).
      weight += w;
      const off = value - mean;
      mean += (off * w) / weight;
      squares += w * off * (value - mean);
      if (value < least) least = value;
      if (value > most) most = value;
      if (values && !values.add(value, w)) values = undefined;
    });
  }
  if (weight === 0) return undefined;
  const found = values ?? cellsOf(series, least, most);
  const { rising, sums } = found.ended();
  const shareOf = (first: number) => (first === 0 ? 0 : sums[first - 1] / weight);
  return {
    weight,
    mean,
    deviation: isLevel ? Math.sqrt(squares / weight) : weight > 1 ? Math.sqrt(squares / (weight - 1)) : Number.NaN,
    least,
    most,
    error: values ? 0 : (most - least) / CELLS,
    quantile: (p) => rising[firstAtLeast(sums, p * weight * (1 - 1e-12))] ?? most,
    share: (value) => shareOf(firstAbove(rising, value)),
    shareBelow: (value) => shareOf(firstAtLeast(rising, value)),
    next: (bound) => rising[firstAtLeast(rising, bound)] ?? most,
    last: (bound) => rising[firstAbove(rising, bound) - 1] ?? least,
  };
}

/** Weights in bins, from the start of each to below its end, and what lies below and above all of them. */
export interface Binned {
  readonly bins: Bins;
  readonly weights: readonly number[];
  readonly below: number;
  readonly above: number;
}

/** Puts the values of series in bins. Those are exact, however many values there are. */
export function binsOf(series: readonly Series[], bins: Bins): Binned {
  const { start, width, count } = bins;
  const weights = new Array<number>(count).fill(0);
  let below = 0;
  let above = 0;
  for (const one of series) {
    eachWeighed(one, (value, w) => {
      const at = Math.floor((value - start) / width);
      if (at < 0) below += w;
      else if (at >= count) above += w;
      else weights[at] += w;
    });
  }
  return { bins, weights, below, above };
}

/** Bins of a round width in a unit, which is `factor` SI units. Those of few whole numbers stand each for one. */
export function roundBins({ weight, least, most, quantile }: Distribution, isLevel: boolean, factor: number): Bins {
  const shown = { n: isLevel ? 1000 : weight, least: least / factor, most: most / factor };
  const isWhole =
    isLevel && Number.isInteger(shown.least) && Number.isInteger(shown.most) && most - least <= 50 * factor;
  const { start, width, count } = isWhole
    ? { start: shown.least - 0.5, width: 1, count: shown.most - shown.least + 1 }
    : likelyBins({ ...shown, quantile: (p) => quantile(p) / factor });
  return { start: start * factor, width: width * factor, count };
}

/** A box plot: whiskers to the last values within one and a half times the box (Tukey 1977), and shares beyond them. */
export interface Box {
  readonly low: number;
  readonly lower: number;
  readonly median: number;
  readonly upper: number;
  readonly high: number;
  /** Shares of what lies below and above the whiskers. */
  readonly below: number;
  readonly above: number;
}

export function boxOf(of: Distribution): Box {
  const [lower, median, upper] = [0.25, 0.5, 0.75].map((p) => of.quantile(p));
  const reach = 1.5 * (upper - lower);
  return {
    low: of.next(lower - reach),
    lower,
    median,
    upper,
    high: of.last(upper + reach),
    below: of.shareBelow(lower - reach),
    above: 1 - of.share(upper + reach),
  };
}

/** Points of the distribution function: values that rise, and the share at or below each; at most about so many. */
export function curveOf(of: Distribution, most: number): { readonly values: number[]; readonly shares: number[] } {
  const values: number[] = [];
  for (let i = 0; i <= most; i++) {
    const value = i === 0 ? of.least : of.quantile(i / most);
    if (values.at(-1) !== value) values.push(value);
  }
  return { values, shares: values.map((value) => of.share(value)) };
}

/** Values with their weights, as they come; `add` is false when there are too many. */
interface Values {
  add(value: number, weight: number): boolean;
  /** Values in rising order, and the weight of each and all before it. */
  ended(): { readonly rising: Float64Array; readonly sums: Float64Array };
}

class PlainValues implements Values {
  private room = new Float64Array(1024);
  private n = 0;

  add(value: number): boolean {
    if (this.n === MOST_VALUES) return false;
    if (this.n === this.room.length) {
      const larger = new Float64Array(this.n * 2);
      larger.set(this.room);
      this.room = larger;
    }
    this.room[this.n++] = value;
    return true;
  }

  ended() {
    const rising = this.room.slice(0, this.n).sort();
    return { rising, sums: Float64Array.from(rising, (_, i) => i + 1) };
  }
}

class WeighedValues implements Values {
  private readonly weights = new Map<number, number>();

  add(value: number, weight: number): boolean {
    this.weights.set(value, (this.weights.get(value) ?? 0) + weight);
    return this.weights.size <= CELLS;
  }

  ended() {
    const rising = Float64Array.from(this.weights.keys()).sort();
    return { rising, sums: summed(Float64Array.from(rising, (value) => this.weights.get(value)!)) };
  }
}

/** All values in equal cells, each of which stands for its upper end. */
function cellsOf(series: readonly Series[], least: number, most: number): Pick<Values, "ended"> {
  const width = (most - least) / CELLS;
  const weights = new Float64Array(CELLS);
  for (const one of series)
    eachWeighed(one, (value, w) => {
      weights[Math.min(CELLS - 1, Math.max(0, Math.ceil((value - least) / width) - 1))] += w;
    });
  return {
    ended: () => ({
      rising: weights.map((_, i) => (i === CELLS - 1 ? most : least + (i + 1) * width)),
      sums: summed(weights),
    }),
  };
}

function summed(weights: Float64Array): Float64Array {
  let sum = 0;
  return weights.map((w) => (sum += w));
}

/** Position of the first of rising numbers that is at least, or above, a bound; their number where none is. */
function first(numbers: Float64Array, holds: (number: number) => boolean): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(numbers[middle])) high = middle;
    else low = middle + 1;
  }
  return low;
}
const firstAtLeast = (numbers: Float64Array, bound: number) => first(numbers, (x) => x >= bound);
const firstAbove = (numbers: Float64Array, bound: number) => first(numbers, (x) => x > bound);
