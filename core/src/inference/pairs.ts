import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { oneWay } from "./anova.ts";
import { type Groups, momentsOf, varianceOf } from "./groups.ts";
import { studentizedRangeCdf, studentizedRangeQuantile } from "./studentizedRange.ts";
import { tTwoSided } from "./tails.ts";

/** Two groups compared, the second minus the first, at the joint level of all pairs. */
export interface Pair {
  readonly a: number;
  readonly b: number;
  readonly difference: number;
  readonly low: number;
  readonly high: number;
  /** Chance of such a difference where there is none, allowing for all pairs. */
  readonly p: number;
}

/** Every two of so many, the first before the second. */
export const everyTwo = (n: number): (readonly [number, number])[] =>
  Array.from({ length: n }, (_, a) => Array.from({ length: n - a - 1 }, (_, i) => [a, a + i + 1] as const)).flat();

/**
 * Welch's comparison of two means of independent observations whose variances may differ (Welch 1947): the second
 * minus the first.
 */
export function welchT(
  first: readonly number[],
  second: readonly number[],
  level: number,
): {
  readonly difference: number;
  readonly low: number;
  readonly high: number;
  readonly df: number;
  readonly p: number;
} {
  const [a, b] = [momentsOf(first), momentsOf(second)];
  const [va, vb] = [varianceOf(a) / a.n, varianceOf(b) / b.n];
  const error = Math.sqrt(va + vb);
  const df = (va + vb) ** 2 / (va ** 2 / (a.n - 1) + vb ** 2 / (b.n - 1));
  const difference = b.mean - a.mean;
  const half = tQuantile((1 + level) / 2, df) * error;
  return { difference, low: difference - half, high: difference + half, df, p: tTwoSided(difference / error, df) };
}

/**
 * All pairs at a joint level, where observations are independent and normal with one variance: by the studentized
 * range (Tukey 1953; Kramer 1956 for groups of different sizes).
 */
export function tukey(
  groups: Groups,
  level: number,
  /** The studentized range's value, where who asks knows it already. */
  valueOf = studentizedRangeQuantile,
): Pair[] {
  const { meanSquare, dfWithin } = oneWay(groups);
  const each = groups.map(momentsOf);
  const q = valueOf(level, groups.length, dfWithin);
  return everyTwo(groups.length).map(([a, b]) => {
    const error = Math.sqrt((meanSquare / 2) * (1 / each[a].n + 1 / each[b].n));
    const difference = each[b].mean - each[a].mean;
    return {
      a,
      b,
      difference,
      low: difference - q * error,
      high: difference + q * error,
      // It takes a while, and not all who compare ask for it.
      get p() {
        return 1 - studentizedRangeCdf(Math.abs(difference) / error, groups.length, dfWithin);
      },
    };
  });
}

/**
 * All pairs at a joint level, each by the t test of its paired differences (or Welch's, where `paired` is not so) at a
 * level that is the stricter the more there are (Bonferroni; Law 2015, section 10.3): it holds under common random
 * numbers and with any variances.
 */
export function bonferroni(groups: Groups, level: number, paired: boolean): Pair[] {
  const all = everyTwo(groups.length);
  const each = 1 - (1 - level) / all.length;
  return all.map(([a, b]) => {
    const found = paired ? pairedT(groups[a], groups[b], each) : welchT(groups[a], groups[b], each);
    return { a, b, ...found, p: Math.min(1, found.p * all.length) };
  });
}

let last = { p: Number.NaN, df: Number.NaN, t: Number.NaN };

/** Student's t; of many pairs that are compared alike it is worked out once. */
function quantileOf(p: number, df: number): number {
  if (last.p !== p || last.df !== df) last = { p, df, t: tQuantile(p, df) };
  return last.t;
}

/** Paired t: the second minus the first, observation by observation. */
export function pairedT(first: readonly number[], second: readonly number[], level: number) {
  const moments = momentsOf(second.slice(0, first.length).map((v, i) => v - first[i]));
  const error = Math.sqrt(varianceOf(moments) / moments.n);
  const half = error === 0 ? 0 : quantileOf((1 + level) / 2, moments.n - 1) * error;
  const { mean: difference } = moments;
  const p = error === 0 ? (difference === 0 ? 1 : 0) : tTwoSided(difference / error, moments.n - 1);
  return { difference, low: difference - half, high: difference + half, p };
}

/**
 * Letters for groups in which two share one just where they cannot be told apart (insert and absorb; Piepho 2004).
 * The letters go by the means, the best first.
 */
export function groupingLetters(
  means: readonly number[],
  apart: (a: number, b: number) => boolean,
  better: "more" | "less" = "more",
): string[] {
  const order = means.map((_, i) => i).sort((a, b) => (better === "more" ? means[b] - means[a] : means[a] - means[b]));
  let columns: ReadonlySet<number>[] = [new Set(order)];
  for (const [x, y] of everyTwo(order.length)) {
    const [a, b] = [order[x], order[y]];
    if (!apart(a, b)) continue;
    const split = columns.flatMap((column) =>
      column.has(a) && column.has(b)
        ? [new Set([...column].filter((i) => i !== a)), new Set([...column].filter((i) => i !== b))]
        : [column],
    );
    // What lies within another tells nothing of its own.
    columns = split.filter(
      (column, i) =>
        !split.some(
          (other, j) => i !== j && [...column].every((one) => other.has(one)) && (other.size > column.size || j < i),
        ),
    );
  }
  const first = (column: ReadonlySet<number>) => order.findIndex((i) => column.has(i));
  columns.sort((a, b) => first(a) - first(b));
  return means.map((_, i) => columns.flatMap((column, c) => (column.has(i) ? [letter(c)] : [])).join(""));
}

/** a, b … z, then a2, b2 … */
const letter = (i: number): string =>
  String.fromCharCode(97 + (i % 26)) + (i < 26 ? "" : String(Math.floor(i / 26) + 1));
