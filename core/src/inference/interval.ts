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
  /**
   * How far the mean may lie from that of the true values because some of these are not exact; it is part of the
   * half-width.
   */
  readonly error: number;
}

/** What is known of the values of replications: see `Statistics` of the server. */
export interface Moments {
  readonly n: number;
  readonly mean: number;
  /** Sum of squared deviations from the mean. */
  readonly squares: number;
  readonly min: number;
  readonly max: number;
  /** Sum of what the values may be off. */
  readonly errors: number;
}

/** The interval of replications of which only these are known; as `meanInterval` otherwise. */
export function intervalOf({ n, mean, squares, min, max, errors }: Moments, level: number): Interval {
  if (n === 0) return { n, mean: NaN, sd: NaN, halfWidth: NaN, min: NaN, max: NaN, error: 0 };
  const sd = n < 2 ? NaN : Math.sqrt(squares / (n - 1));
  const error = errors / n;
  return {
    n,
    mean,
    sd,
    halfWidth: n < 2 ? NaN : (tQuantile((1 + level) / 2, n - 1) * sd) / Math.sqrt(n) + error,
    min,
    max,
    error,
  };
}

/**
 * Mean and two-sided Student t interval of independent replications (Law 2015,
 * section 4.5). Values that are not numbers (a mean wait where no one came) are
 * left out and counted out of `n`. `level` lies in (0, 1). Values that may be off by `errors` (quantiles of many
 * observations) make the interval as much wider as their mean may be off.
 */
export function meanInterval(values: readonly number[], level: number, errors?: readonly number[]): Interval {
  const defined = values.filter((v) => Number.isFinite(v));
  const n = defined.length;
  if (n === 0) return { n, mean: NaN, sd: NaN, halfWidth: NaN, min: NaN, max: NaN, error: 0 };
  const error = errors ? values.reduce((sum, v, i) => sum + (Number.isFinite(v) ? errors[i] : 0), 0) / n : 0;
  // Two passes, relative to the first value, so that large means cost no digits.
  const shift = defined[0];
  const mean = shift + defined.reduce((sum, v) => sum + (v - shift), 0) / n;
  const sd = n < 2 ? NaN : Math.sqrt(defined.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (n - 1));
  const halfWidth = n < 2 ? NaN : (tQuantile((1 + level) / 2, n - 1) * sd) / Math.sqrt(n) + error;
  let [min, max] = [Infinity, -Infinity];
  for (const v of defined) {
    if (v < min) min = v;
    if (v > max) max = v;
  }
  return { n, mean, sd, halfWidth, min, max, error };
}
