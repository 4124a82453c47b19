import { exp, ln } from "../numeric/elementary.ts";
import { type Counts, CountTable } from "./countTable.ts";
import { InverseTable, type LogDensity } from "./inverseTable.ts";

/**
 * Most tables kept of one kind. What a table holds follows from its parameters alone, so it does not matter which are
 * kept.
 */
const MOST_TABLES = 512;

/** Keeps what was made from two numbers, for the next who asks with the same. */
function kept<T>(make: (a: number, b: number) => T): (a: number, b: number) => T {
  const byFirst = new Map<number, Map<number, T>>();
  let count = 0;
  let [lastA, lastB] = [Number.NaN, Number.NaN];
  let last: T | undefined;
  return (a, b) => {
    if (a === lastA && b === lastB) return last as T;
    let bySecond = byFirst.get(a);
    let made = bySecond?.get(b);
    if (made === undefined) {
      made = make(a, b);
      if (++count > MOST_TABLES) {
        byFirst.clear();
        count = 1;
        bySecond = undefined;
      }
      if (!bySecond) byFirst.set(a, (bySecond = new Map<number, T>()));
      bySecond.set(b, made);
    }
    [lastA, lastB, last] = [a, b, made];
    return made;
  };
}

/** e^d − 1 − d, without cancellation. */
function expLess(d: number): number {
  if (Math.abs(d) > 0.2) return exp(d) - 1 - d;
  let term = (d * d) / 2;
  let sum = term;
  for (let k = 3; k < 16; k++) sum += term *= d / k;
  return sum;
}

/** The logarithm of a gamma variable of scale 1: its density is e^(a y − e^y), with its peak at ln a. */
const logGamma = (a: number): LogDensity => ({
  mode: ln(a),
  log: (d) => -a * expLess(d),
  slope: (d) => -a * (exp(d) - 1),
});

/**
 * The logarithm of the odds x / (1 − x) of a beta variable x: its density is e^(a y) / (1 + e^y)^(a + b), with its
 * peak at ln(a / b).
 */
const logOdds = (a: number, b: number): LogDensity => {
  const p = a / (a + b);
  return {
    mode: ln(a / b),
    log: (d) => (d > 0 ? -b * d - (a + b) * ln(p + (1 - p) * exp(-d)) : a * d - (a + b) * ln(1 - p + p * exp(d))),
    slope: (d) =>
      d > 0
        ? -b + ((a + b) * (1 - p) * exp(-d)) / (p + (1 - p) * exp(-d))
        : a - ((a + b) * p * exp(d)) / (1 - p + p * exp(d)),
  };
};

/** Inverse tables of the logarithm of gamma variables, by shape. */
export const logGammaTable = (
  (table) => (a: number) =>
    table(a, 0)
)(kept((a) => new InverseTable(logGamma(a))));
/** Inverse tables of the logarithm of the odds of beta variables, by both shapes. */
export const logOddsTable = kept((a, b) => new InverseTable(logOdds(a, b)));

const poisson = (mean: number): Counts => ({ mode: Math.floor(mean), ratio: (k) => mean / (k + 1), last: Infinity });
const binomial = (trials: number, p: number): Counts => ({
  mode: Math.min(trials, Math.floor((trials + 1) * p)),
  ratio: (k) => ((trials - k) / (k + 1)) * (p / (1 - p)),
  last: trials,
});
const negativeBinomial = (successes: number, p: number): Counts => ({
  mode: Math.floor(((successes - 1) * (1 - p)) / p),
  ratio: (k) => ((successes + k) / (k + 1)) * (1 - p),
  last: Infinity,
});

export const poissonTable = (
  (table) => (mean: number) =>
    table(mean, 0)
)(kept((mean) => new CountTable(poisson(mean))));
export const binomialTable = kept((trials, p) => new CountTable(binomial(trials, p)));
export const negativeBinomialTable = kept((successes, p) => new CountTable(negativeBinomial(successes, p)));
