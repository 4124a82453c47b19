/** Where to cut a series that settles, and how good that is. */
export interface Cut {
  /** Number of values to leave out at the beginning. */
  readonly truncateAt: number;
  /** Sum of squares of the batch means that are left, over the square of their number: the least there is. */
  readonly statistic: number;
}

/**
 * MSER-5 (White, Cobb and Spratt 2000): the series is put together in batches of `batch`, and cut where the marginal
 * standard error of what is left is least, in the first half. Undefined for fewer than two batches.
 */
export function mser(values: readonly number[], batch = 5): Cut | undefined {
  const means = Array.from({ length: Math.floor(values.length / batch) }, (_, i) => {
    let sum = 0;
    for (let j = 0; j < batch; j++) sum += values[i * batch + j];
    return sum / batch;
  });
  const n = means.length;
  if (n < 2) return undefined;
  let best: Cut | undefined;
  for (let cut = 0; cut <= Math.floor(n / 2); cut++) {
    const left = n - cut;
    // From the first of them, so that large values cost no digits.
    let mean = means[cut];
    for (let i = cut; i < n; i++) mean += (means[i] - means[cut]) / left;
    let squares = 0;
    for (let i = cut; i < n; i++) squares += (means[i] - mean) ** 2;
    const statistic = squares / left ** 2;
    if (!best || statistic < best.statistic) best = { truncateAt: cut * batch, statistic };
  }
  return best;
}

/**
 * Welch's moving average (Welch 1983; Law 2015, section 9.5.1): means over replications of the values at each place in
 * a series, smoothed over `window` neighbours on either side, over as many as there are near the beginning. Where the
 * curve settles, the warm-up is over. It ends `window` places before the series.
 */
export function welchAverage(series: readonly (readonly number[])[], window: number): number[] {
  const length = Math.min(...series.map((one) => one.length));
  const means = Array.from({ length }, (_, i) => series.reduce((sum, one) => sum + one[i], 0) / series.length);
  return Array.from({ length: Math.max(0, length - window) }, (_, i) => {
    const reach = Math.min(window, i);
    let sum = 0;
    for (let j = i - reach; j <= i + reach; j++) sum += means[j];
    return sum / (2 * reach + 1);
  });
}

/** Correlation of values with those `lag` places later (Law 2015, section 4.4), of `lags` lags from 1. */
export function autocorrelations(values: readonly number[], lags: number): number[] {
  const n = values.length;
  const mean = values.reduce((sum, v) => sum + v, 0) / n;
  const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  return Array.from({ length: lags }, (_, l) => {
    let products = 0;
    for (let i = l + 1; i < n; i++) products += (values[i] - mean) * (values[i - l - 1] - mean);
    return products / squares;
  });
}

/** Von Neumann's (1941) ratio: squared differences of neighbours over those from the mean; 2 where independent. */
export function vonNeumannRatio(values: readonly number[]): number {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  let differences = 0;
  for (let i = 1; i < values.length; i++) differences += (values[i] - values[i - 1]) ** 2;
  return differences / squares;
}
