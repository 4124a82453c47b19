import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { pow } from "../numeric/elementary.ts";
import { oneWay, pairedAnova } from "./anova.ts";
import { dunnettOneSided } from "./dunnett.ts";
import { type Groups, momentsOf, varianceOf } from "./groups.ts";

export type Better = "more" | "less";

/** A system compared with the best of all others. */
export interface WithBest {
  /** Its mean minus that of the best of the others; above 0 where it is better, by `better`. */
  readonly difference: number;
  /** Interval of it, at the joint level of all. */
  readonly low: number;
  readonly high: number;
  /** Whether it may be the best: whether the interval holds values on the better side. */
  readonly mayBeBest: boolean;
  /** Whether it is the best, at the level. */
  readonly isBest: boolean;
}

/**
 * Comparisons with the best (Hsu 1984): simultaneous intervals for how much better each system is than the best of the
 * others, which are cut off at 0. Under common random numbers (`paired`) the variance is that of what is left when
 * replications are taken out, by which all pairs are taken to correlate alike (Nelson and Matejcik 1995); otherwise
 * one variance is assumed. All groups must be of one size.
 */
export function withBest(
  groups: Groups,
  level: number,
  better: Better,
  paired: boolean,
  /** Dunnett's value, where who asks knows it already. */
  valueOf = dunnettOneSided,
): WithBest[] {
  const sign = better === "more" ? 1 : -1;
  const means = groups.map((g) => sign * momentsOf(g).mean);
  const { meanSquare, dfWithin } = paired ? pairedAnova(groups) : oneWay(groups);
  const width = valueOf(level, groups.length, dfWithin) * Math.sqrt((2 * meanSquare) / groups[0].length);
  return means.map((mean, i) => {
    const rival = Math.max(...means.filter((_, j) => j !== i));
    const difference = mean - rival;
    const low = Math.min(0, difference - width);
    const high = Math.max(0, difference + width);
    const [a, b] = sign > 0 ? [low, high] : [-high, -low];
    return {
      difference: sign * difference,
      low: a === 0 ? 0 : a,
      high: b === 0 ? 0 : b,
      mayBeBest: high > 0,
      isBest: low === 0 && high > 0,
    };
  });
}

/**
 * The subset that holds the best with a chance of `level` at least: all that no other beats by more than may be chance.
 * Independent observations with any variances (Nelson, Swann, Goldsman and Song 2001), or pairs under common random
 * numbers, each at a level for all.
 */
export function subsetOfBest(groups: Groups, level: number, better: Better, paired: boolean): boolean[] {
  const sign = better === "more" ? 1 : -1;
  const k = groups.length;
  if (k < 2) return groups.map(() => true);
  const each = groups.map(momentsOf);
  const quantiles = new Map<number, number>();
  const quantile = (df: number): number => {
    const known = quantiles.get(df) ?? tQuantile(pow(level, 1 / (k - 1)), df);
    quantiles.set(df, known);
    return known;
  };
  const errors = each.map((g) => (quantile(g.n - 1) ** 2 * varianceOf(g)) / g.n);
  // All pairs are of one size.
  const t = paired ? tQuantile(1 - (1 - level) / (k - 1), groups[0].length - 1) : Number.NaN;
  const bound = (i: number, j: number): number => {
    if (!paired) return Math.sqrt(errors[i] + errors[j]);
    const differences = momentsOf(groups[i].map((v, r) => v - groups[j][r]));
    return t * Math.sqrt(varianceOf(differences) / differences.n);
  };
  return each.map((a, i) => each.every((b, j) => i === j || sign * (a.mean - b.mean) >= -bound(i, j)));
}
