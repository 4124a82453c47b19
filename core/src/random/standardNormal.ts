import erfcinv from "@stdlib/math-base-special-erfcinv";
import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";

/** Share below which the package's own quantile loses digits, as it goes by 2u − 1. */
const TAIL = 1e-3;

/** The standard normal quantile of a share `u` in (0, 1), exact to about 1e-14 in both tails. */
export const standardNormal = (u: number): number =>
  u < TAIL ? -Math.SQRT2 * erfcinv(2 * u) : normalQuantile(u, 0, 1);
