import tQuantile from "@stdlib/stats-base-dists-t-quantile";

/** How narrow an interval is to be: as wide as that, or that share of its mean. */
export type Precision = { readonly halfWidth: number } | { readonly relative: number };

/** Fewest replications after which a precision may end a run: fewer tell too little of the variance. */
export const LEAST_FOR_PRECISION = 10;

/**
 * About how many replications make the half-width of a mean small enough, by the mean and deviation of some
 * (Law 2015, section 9.4.1): the fewest with t s / √n at most the half-width; a relative one is made stricter by
 * γ / (1 + γ), so that it holds of the true mean. Infinity for a mean of 0 and a relative precision.
 */
export function replicationsFor(mean: number, sd: number, level: number, precision: Precision): number {
  const wanted =
    "halfWidth" in precision ? precision.halfWidth : Math.abs(mean) * (precision.relative / (1 + precision.relative));
  if (sd === 0) return LEAST_FOR_PRECISION;
  if (!(wanted > 0)) return Infinity;
  const widthOf = (n: number) => (tQuantile((1 + level) / 2, n - 1) * sd) / Math.sqrt(n);
  let [low, high] = [1, 2];
  while (widthOf(high) > wanted) {
    low = high;
    high *= 2;
    if (high > 1e12) return Infinity;
  }
  while (high - low > 1) {
    const middle = Math.floor((low + high) / 2);
    if (widthOf(middle) > wanted) low = middle;
    else high = middle;
  }
  return Math.max(LEAST_FOR_PRECISION, high);
}
