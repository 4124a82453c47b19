import { formatNumber } from "../quantity/index.ts";
import { type Interval, meanInterval } from "./interval.ts";

export interface PairedComparison {
  /** Interval of the differences, other minus baseline, replication by replication. */
  readonly difference: Interval;
  readonly low: number;
  readonly high: number;
  /** Whether the interval leaves out 0. */
  readonly tellsApart: boolean;
  /** Differences, one for each pair of replications in which both are defined. */
  readonly differences: readonly number[];
  /** Share of the variance of the difference that pairing removed, against independent runs; NaN where undefined. */
  readonly varianceRemoved: number;
}

/**
 * Paired t comparison of two designs under common random numbers (Law 2015,
 * section 10.2.1). Replication r of one is paired with replication r of the
 * other; pairs with an undefined value are left out. `errors` are by how much the values of either may be off.
 */
export function comparePaired(
  baseline: readonly number[],
  other: readonly number[],
  level: number,
  errors: { readonly baseline?: readonly number[]; readonly other?: readonly number[] } = {},
): PairedComparison {
  const pairs = other
    .slice(0, baseline.length)
    .map((value, i) => [baseline[i], value, (errors.baseline?.[i] ?? 0) + (errors.other?.[i] ?? 0)] as const)
    .filter(([a, b]) => Number.isFinite(a) && Number.isFinite(b));
  const differences = pairs.map(([a, b]) => b - a);
  const difference = meanInterval(
    differences,
    level,
    pairs.map(([, , error]) => error),
  );
  const low = difference.mean - difference.halfWidth;
  const high = difference.mean + difference.halfWidth;
  const separate =
    meanInterval(
      pairs.map(([a]) => a),
      level,
    ).sd **
      2 +
    meanInterval(
      pairs.map(([, b]) => b),
      level,
    ).sd **
      2;
  return {
    difference,
    low,
    high,
    tellsApart: low > 0 || high < 0,
    differences,
    varianceRemoved: separate > 0 ? 1 - difference.sd ** 2 / separate : Number.NaN,
  };
}

/** Words for "more" and "less" of a measure, in lower case. */
export interface MoreLess {
  readonly more: string;
  readonly less: string;
}

/** The pair of words that suits a measure of time ("longer", "shorter") or of anything else ("higher", "lower"). */
export const moreLess = (isTime: boolean): MoreLess =>
  isTime ? { more: "longer", less: "shorter" } : { more: "higher", less: "lower" };

/**
 * A comparison in words: "12 s to 31 s shorter at 95 %", or "cannot tell apart".
 * `factor` and `symbol` are the display unit of the measure.
 */
export function verdict(
  { low, high, tellsApart, difference }: PairedComparison,
  level: number,
  words: MoreLess,
  { factor, symbol }: { factor: number; symbol: string },
): string {
  const percent = `${formatNumber(level * 100)} %`;
  if (difference.n < 2) return "too few replications to compare";
  if (difference.sd === 0 && difference.mean === 0 && difference.error === 0) return "the same in every replication";
  if (!tellsApart) return `cannot tell apart at ${percent}`;
  const unit = symbol ? ` ${symbol}` : "";
  const [near, far] = high < 0 ? [-high, -low] : [low, high];
  return `${formatNumber(near / factor, 3)}${unit} to ${formatNumber(far / factor, 3)}${unit} ${high < 0 ? words.less : words.more} at ${percent}`;
}
