import { type Groups, momentsOf, varianceOf } from "./groups.ts";
import { fUpper } from "./tails.ts";

export interface Anova {
  readonly method: "one-way" | "welch" | "paired";
  readonly f: number;
  readonly dfBetween: number;
  readonly dfWithin: number;
  /** The chance of an F as large where all means are equal. */
  readonly p: number;
  /** Mean square within, an estimate of the variance of an observation; of Welch's form there is none. */
  readonly meanSquare: number;
}

/**
 * One-way analysis of variance: whether all of several means can be equal, where the observations are independent and
 * normal with one variance (Montgomery 2017, section 3.3).
 */
export function oneWay(groups: Groups): Anova {
  const each = groups.map(momentsOf);
  const n = each.reduce((sum, g) => sum + g.n, 0);
  const grand = each.reduce((sum, g) => sum + (g.n * g.mean) / n, 0);
  const between = each.reduce((sum, g) => sum + g.n * (g.mean - grand) ** 2, 0);
  const within = each.reduce((sum, g) => sum + g.squares, 0);
  const [dfBetween, dfWithin] = [groups.length - 1, n - groups.length];
  const meanSquare = within / dfWithin;
  const f = between / dfBetween / meanSquare;
  return { method: "one-way", f, dfBetween, dfWithin, p: fUpper(f, dfBetween, dfWithin), meanSquare };
}

/** The same where variances differ (Welch 1951). */
export function welchAnova(groups: Groups): Anova {
  const each = groups.map(momentsOf);
  const k = groups.length;
  const weights = each.map((g) => g.n / varianceOf(g));
  const whole = weights.reduce((sum, w) => sum + w, 0);
  const grand = each.reduce((sum, g, i) => sum + (weights[i] * g.mean) / whole, 0);
  const between = each.reduce((sum, g, i) => sum + weights[i] * (g.mean - grand) ** 2, 0) / (k - 1);
  const off = each.reduce((sum, g, i) => sum + (1 - weights[i] / whole) ** 2 / (g.n - 1), 0);
  const f = between / (1 + ((2 * (k - 2)) / (k * k - 1)) * off);
  const dfWithin = (k * k - 1) / (3 * off);
  return { method: "welch", f, dfBetween: k - 1, dfWithin, p: fUpper(f, k - 1, dfWithin), meanSquare: Number.NaN };
}

/**
 * The same of observations that belong together by their positions, as replications under common random numbers do:
 * replications are blocks, whose differences are taken out (Montgomery 2017, section 4.1).
 */
export function pairedAnova(groups: Groups): Anova {
  const [k, n] = [groups.length, groups[0].length];
  const means = groups.map((g) => momentsOf(g).mean);
  const blocks = Array.from({ length: n }, (_, r) => groups.reduce((sum, g) => sum + g[r] / k, 0));
  const grand = means.reduce((sum, m) => sum + m / k, 0);
  const between = means.reduce((sum, m) => sum + n * (m - grand) ** 2, 0);
  let left = 0;
  groups.forEach((g, i) => g.forEach((v, r) => (left += (v - means[i] - blocks[r] + grand) ** 2)));
  const [dfBetween, dfWithin] = [k - 1, (k - 1) * (n - 1)];
  const meanSquare = left / dfWithin;
  const f = between / dfBetween / meanSquare;
  return { method: "paired", f, dfBetween, dfWithin, p: fUpper(f, dfBetween, dfWithin), meanSquare };
}

/**
 * Whether the variances of groups can be equal: one-way analysis of the distances from the medians (Brown and Forsythe
 * 1974), which hardly minds values that are not normal. Gives the chance of such differences where they are equal.
 */
export function equalVariances(groups: Groups): number {
  const distances = groups.map((g) => {
    const sorted = [...g].sort((a, b) => a - b);
    const n = sorted.length;
    const median = (sorted[(n - 1) >> 1] + sorted[n >> 1]) / 2;
    return g.map((v) => Math.abs(v - median));
  });
  const { f, p } = oneWay(distances);
  return Number.isNaN(f) ? 1 : p;
}
