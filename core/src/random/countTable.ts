/** A distribution of whole numbers from 0 by the ratio of neighbouring chances: rising up to the mode, then falling. */
export interface Counts {
  readonly mode: number;
  /** The chance of k + 1 over that of k. */
  readonly ratio: (k: number) => number;
  /** The largest number there is; Infinity for none. */
  readonly last: number;
}

/** Chances below this share of the largest are left out. */
const NEGLIGIBLE = 1e-22;
/** Most numbers on either side of the mode that are kept; between them chances are added up anew. */
const MOST_KEPT = 65_536;

/**
 * Every `stride`-th number from the mode outwards: its chance, and that of all up to it (on the left) or beyond it
 * (on the right).
 */
interface Side {
  readonly chances: Float64Array;
  readonly sums: Float64Array;
}

/**
 * The inverse of the distribution function of a whole number. Chances are added up from the far ends, in the lower
 * half from below and in the upper from above, so that both tails are exact; none need be known beforehand, as they
 * are divided by their sum.
 */
export class CountTable {
  private readonly stride: number;
  private readonly left: Side;
  private readonly right: Side;

  constructor(private readonly counts: Counts) {
    const { mode, ratio, last } = counts;
    const up = [1];
    for (let k = mode; k < last && up[up.length - 1] > NEGLIGIBLE; k++) up.push(up[up.length - 1] * ratio(k));
    const down = [1];
    for (let k = mode; k > 0 && down[down.length - 1] > NEGLIGIBLE; k--)
      down.push(down[down.length - 1] / ratio(k - 1));
    // From the far ends; the mode counts on the left.
    const sumFrom = (chances: readonly number[], to: number) => {
      let sum = 0;
      for (let i = chances.length - 1; i >= to; i--) sum += chances[i];
      return sum;
    };
    const whole = sumFrom(down, 0) + sumFrom(up, 1);
    this.stride = Math.ceil(Math.max(up.length, down.length) / MOST_KEPT);
    this.left = this.side(down, whole, true);
    this.right = this.side(up, whole, false);
  }

  private side(chances: readonly number[], whole: number, itself: boolean): Side {
    const { stride } = this;
    const kept = Math.ceil(chances.length / stride);
    const side = { chances: new Float64Array(kept), sums: new Float64Array(kept) };
    for (let i = chances.length - 1, sum = 0; i >= 0; i--) {
      const chance = chances[i] / whole;
      if (itself) sum += chance;
      if (i % stride === 0) [side.chances[i / stride], side.sums[i / stride]] = [chance, sum];
      if (!itself) sum += chance;
    }
    return side;
  }

  /** The smallest number up to which a share of at least `u` lies. */
  at(u: number): number {
    const { left, right, stride, counts } = this;
    const { mode, ratio, last } = counts;
    if (u <= left.sums[0]) {
      // From the farthest kept number up to which enough lies, down as long as there is still enough.
      const place = lastWhere(left.sums, (sum) => sum >= u);
      let k = mode - place * stride;
      let chance = left.chances[place];
      for (let sum = left.sums[place] - chance; sum >= u && k > 0; sum -= chance) {
        chance /= ratio(k - 1);
        k -= 1;
      }
      return k;
    }
    // From the farthest kept number beyond which too much lies, up until there is little enough.
    const most = 1 - u;
    const place = lastWhere(right.sums, (sum) => sum > most);
    let k = mode + place * stride;
    let chance = right.chances[place];
    for (let sum = right.sums[place]; sum > most && k < last; k++) {
      chance *= ratio(k);
      sum -= chance;
    }
    return k;
  }
}

/** The last place of falling values at which something holds that holds at the first. */
function lastWhere(values: Float64Array, holds: (value: number) => boolean): number {
  let low = 0;
  let high = values.length;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (holds(values[middle])) low = middle;
    else high = middle;
  }
  return low;
}
