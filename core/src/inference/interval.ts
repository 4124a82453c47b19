import tQuantile from "@stdlib/stats-base-dists-t-quantile";

/** Mean of replications and how far the true mean may lie from it. */
export interface Interval {
  readonly n: number;
  readonly mean: number;
  /** Sample standard deviation (divisor n − 1); NaN for fewer than two values. */
  readonly sd: number;
  /** Half-width of the confidence interval; NaN for fewer than two values. */
  readonly halfWidth: number;
  readonly min: number;
  readonly max: number;
}

/**
 * Mean and two-sided Student t interval of independent replications (Law 2015,
 * section 4.5). Values that are not numbers (a mean wait where no one came) are
 * left out and counted out of `n`. `level` lies in (0, 1).
 */
export function meanInterval(values: readonly number[], level: number): Interval {
  const defined = values.filter((v) => Number.isFinite(v));
  const n = defined.length;
  if (n === 0) return { n, mean: NaN, sd: NaN, halfWidth: NaN, min: NaN, max: NaN };
  // Two passes, relative to the first value, so that large means cost no digits.
  const shift = defined[0];
  const mean = shift + defined.reduce((sum, v) => sum + (v - shift), 0) / n;
  const sd = n < 2 ? NaN : Math.sqrt(defined.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (n - 1));
  const halfWidth = n < 2 ? NaN : (tQuantile((1 + level) / 2, n - 1) * sd) / Math.sqrt(n);
  return { n, mean, sd, halfWidth, min: Math.min(...defined), max: Math.max(...defined) };
}
