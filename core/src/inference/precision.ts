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
  const wanted = halfWidthOf(mean, precision);
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

/** The half-width that is small enough, where the mean is this. */
const halfWidthOf = (mean: number, precision: Precision): number =>
  "halfWidth" in precision ? precision.halfWidth : Math.abs(mean) * (precision.relative / (1 + precision.relative));

/** How a run to a precision stands. */
export interface PrecisionStep {
  /** Replications after which it is looked at again; once it is done, those that count. */
  readonly wanted: number;
  /** About how many it takes in all, by those so far; at most `most`. */
  readonly expected: number;
  readonly isDone: boolean;
  /** Whether every half-width is small enough: not where the most replications were reached before. */
  readonly isMet: boolean;
}

/**
 * Whether a run may stop: at the first number of replications, ten or more, at which every half-width is small enough
 * (Law 2015, section 9.4.1). As the rule looks again and again, the level of the intervals holds approximately.
 * `columns` has a measure's values by replication, in the order of their numbers; those that are not finite are passed
 * over. The answer depends on these alone.
 */
export function precisionStep(
  columns: readonly (readonly number[])[],
  goals: readonly Precision[],
  level: number,
  most: number,
): PrecisionStep {
  const count = Math.min(...columns.map(({ length }) => length));
  const least = Math.min(LEAST_FOR_PRECISION, most);
  const running = goals.map(() => ({ n: 0, mean: 0, squares: 0 }));
  const z = tQuantile((1 + level) / 2, 1e9);
  for (let n = 1; n <= Math.min(count, most); n++) {
    running.forEach((m, g) => {
      const value = columns[g][n - 1];
      if (!Number.isFinite(value)) return;
      m.n += 1;
      const off = value - m.mean;
      m.mean += off / m.n;
      m.squares += off * (value - m.mean);
    });
    if (n < LEAST_FOR_PRECISION) continue;
    const isMet = running.every((m, g) => {
      if (m.n < 2) return false;
      const error = Math.sqrt(m.squares / (m.n - 1) / m.n);
      const wanted = halfWidthOf(m.mean, goals[g]);
      // Student's t is above the normal's: most looks need no more than that.
      return z * error <= wanted && tQuantile((1 + level) / 2, m.n - 1) * error <= wanted;
    });
    if (isMet) return { wanted: n, expected: n, isDone: true, isMet: true };
  }
  if (count >= most) return { wanted: most, expected: most, isDone: true, isMet: false };
  if (count < least) return { wanted: least, expected: least, isDone: false, isMet: false };
  const asked = running.map(({ n, mean, squares }, g) =>
    n < 2 ? most : replicationsFor(mean, Math.sqrt(squares / (n - 1)), level, goals[g]),
  );
  const expected = Math.min(most, Math.max(count + 1, ...asked));
  // Half of the way there: what is seen on it may shorten the rest.
  return {
    wanted: Math.min(most, count + Math.ceil((expected - count) / 2)),
    expected,
    isDone: false,
    isMet: false,
  };
}
