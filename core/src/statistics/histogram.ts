/** Bits of the mantissa that tell bins apart: 128 bins an octave. */
const SUB_BITS = 7;
const SHIFT = 20 - SUB_BITS;
/** How many bins are added at once on either side when a value lies outside. */
const MARGIN = 1 << SUB_BITS;

const float = new Float64Array(1);
const words = new Uint32Array(float.buffer);
/** Which of the two words of a float holds sign, exponent and upper mantissa. */
const HIGH = new Uint8Array(new Uint16Array([1]).buffer)[0] === 1 ? 1 : 0;

/** Between what and what an order statistic lies, and where between them it is taken to lie. */
export interface Estimate {
  readonly value: number;
  readonly low: number;
  readonly high: number;
}

/**
 * Counts of values above 0 in bins whose width is 1/128 of the power of two below. The bin's number is the
 * top of the value's own bit pattern; only the range of numbers that occurs is kept.
 */
export class Histogram {
  total = 0;
  private first = 0;
  private bins = new Uint32Array(0);

  /** Counts a value above 0. */
  add(value: number): void {
    this.total += 1;
    float[0] = value;
    const bin = (words[HIGH] >>> SHIFT) - this.first;
    if (bin >= 0 && bin < this.bins.length) this.bins[bin] += 1;
    else this.count(words[HIGH] >>> SHIFT, 1);
  }

  /** Takes in all counts of another histogram. */
  include(other: Histogram): void {
    this.total += other.total;
    other.bins.forEach((n, i) => n > 0 && this.count(other.first + i, n));
  }

  clear(): void {
    this.total = 0;
    this.bins.fill(0);
  }

  /**
   * The `rank`-th smallest value, counted from 1: it lies in its bin, and is taken to lie as far in it as it is among
   * those there.
   */
  orderStatistic(rank: number): Estimate {
    let before = 0;
    for (let i = 0; i < this.bins.length; i++) {
      const here = this.bins[i];
      if (before + here < rank) {
        before += here;
        continue;
      }
      const low = lowerEnd(this.first + i);
      const high = lowerEnd(this.first + i + 1);
      return { low, high, value: low + ((high - low) * (rank - before - 0.5)) / here };
    }
    return { low: Number.NaN, high: Number.NaN, value: Number.NaN };
  }

  private count(number: number, n: number): void {
    if (number < this.first || number >= this.first + this.bins.length) this.widen(number);
    this.bins[number - this.first] += n;
  }

  private widen(number: number): void {
    const empty = this.bins.length === 0;
    const from = Math.max(0, empty ? number - MARGIN : Math.min(this.first, number - MARGIN));
    const to = empty ? number + MARGIN : Math.max(this.first + this.bins.length, number + MARGIN);
    const wider = new Uint32Array(to - from);
    if (!empty) wider.set(this.bins, this.first - from);
    this.first = from;
    this.bins = wider;
  }
}

/** The least value in the bin of that number. */
function lowerEnd(number: number): number {
  words[HIGH] = number << SHIFT;
  words[1 - HIGH] = 0;
  return float[0];
}
