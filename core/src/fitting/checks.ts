import { lagOneCorrelation } from "../inference/batchMeans.ts";
import { normalCdf } from "../random/normalCdf.ts";
import type { Sample } from "./sample.ts";

/** A check of what fitting takes for granted: that observations do not depend on one another, nor on their order. */
export interface Check {
  readonly statistic: number;
  /** Two-sided, by the normal distribution of many values. */
  readonly p: number;
}

const twoSided = (z: number): number => 2 * normalCdf(-Math.abs(z));

/** Correlation of each with the next, near 0 with a standard deviation of 1/√n where they are independent. */
export function lagCheck({ values, n }: Sample): Check {
  const statistic = lagOneCorrelation([...values]);
  return { statistic, p: twoSided(statistic * Math.sqrt(n)) };
}

/** Runs above and below the median (Wald and Wolfowitz 1940): too few where neighbours are alike. */
export function runsCheck(sample: Sample): Check {
  const middle = sample.quantile(0.5);
  let [above, below, runs, before] = [0, 0, 0, 0];
  for (const v of sample.values) {
    // What is the median itself belongs to neither.
    if (v === middle) continue;
    const side = v > middle ? 1 : -1;
    if (side > 0) above += 1;
    else below += 1;
    if (side !== before) runs += 1;
    before = side;
  }
  const n = above + below;
  const mean = (2 * above * below) / n + 1;
  const variance = ((mean - 1) * (mean - 2)) / (n - 1);
  return { statistic: runs, p: variance > 0 ? twoSided((runs - mean) / Math.sqrt(variance)) : Number.NaN };
}

/** Rank correlation with the order of observation (Spearman 1904): not 0 where there is a trend. */
export function trendCheck({ values, n }: Sample): Check {
  const order = Array.from(values.keys()).sort((a, b) => values[a] - values[b]);
  const ranks = new Float64Array(n);
  for (let i = 0; i < n;) {
    let end = i + 1;
    while (end < n && values[order[end]] === values[order[i]]) end += 1;
    // Equal values share the mean of their ranks.
    for (let j = i; j < end; j++) ranks[order[j]] = (i + end - 1) / 2;
    i = end;
  }
  const middle = (n - 1) / 2;
  let [products, squares, places] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    products += (ranks[i] - middle) * (i - middle);
    squares += (ranks[i] - middle) ** 2;
    places += (i - middle) ** 2;
  }
  const statistic = products / Math.sqrt(squares * places);
  return { statistic, p: twoSided(statistic * Math.sqrt(n - 1)) };
}

/** Values more than three times the distance of the quartiles beyond them (Tukey 1977: far out), with their places. */
export function outliersOf(sample: Sample): { readonly at: number; readonly value: number }[] {
  const [q1, q3] = [sample.quantile(0.25), sample.quantile(0.75)];
  const reach = 3 * (q3 - q1);
  const found: { at: number; value: number }[] = [];
  sample.values.forEach((value, at) => {
    if (value < q1 - reach || value > q3 + reach) found.push({ at, value });
  });
  return found;
}
