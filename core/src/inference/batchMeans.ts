import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";

/**
 * Correlation of neighbouring values (lag 1), as batch means of a long run should not have it:
 * the sum of products of neighbours' deviations over the sum of squares. NaN for fewer than three values, or where
 * all are equal.
 */
export function lagOneCorrelation(values: readonly number[]): number {
  const n = values.length;
  if (n < 3 || values.some((v) => !Number.isFinite(v))) return Number.NaN;
  const mean = values.reduce((sum, v) => sum + v, 0) / n;
  const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  let products = 0;
  for (let i = 1; i < n; i++) products += (values[i - 1] - mean) * (values[i] - mean);
  return products / squares;
}

/**
 * Whether batch means are too alike their neighbours to be taken for independent, so that their interval is too
 * narrow: a one-sided test at 5 % of von Neumann's (1941) ratio, whose mean is 2 and whose variance is 4 (n - 2) /
 * (n² - 1) for independent normal values (Fishman 1978), in terms of the correlation.
 */
export function batchesAreCorrelated(values: readonly number[]): boolean {
  const n = values.length;
  if (values.some((v) => !Number.isFinite(v))) return false;
  const mean = values.reduce((sum, v) => sum + v, 0) / n;
  const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  let differences = 0;
  for (let i = 1; i < n; i++) differences += (values[i] - values[i - 1]) ** 2;
  return neighboursAreAlike(n, squares, differences) ?? false;
}

/**
 * The same from the number of batches, the sum of their squared deviations, and that of the squared differences of
 * neighbours, whose quotient is the ratio. Undefined for fewer than three, or where all are equal.
 */
export function neighboursAreAlike(n: number, squares: number, differences: number): boolean | undefined {
  if (n < 3 || !(squares > 0)) return undefined;
  return (1 - differences / squares / 2) / Math.sqrt((n - 2) / (n * n - 1)) > normalQuantile(0.95, 0, 1);
}
