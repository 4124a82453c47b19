import { exp, ln, pow, sin, sinh } from "../numeric/elementary.ts";
import betaQuantile from "@stdlib/stats-base-dists-beta-quantile";
import gamma from "@stdlib/math-base-special-gamma";
import { standardNormal } from "./standardNormal.ts";
import { gammaQuantile } from "./gammaQuantile.ts";
import { binomialTable, logGammaTable, logOddsTable, negativeBinomialTable, poissonTable } from "./tables.ts";
import { boundsProblem, truncatedNormalMoments, truncatedNormalQuantile } from "./truncatedNormal.ts";

/** A quantity parameter has the dimension of the result; a number parameter has none. */
export type ParameterKind = "quantity" | "number";

/**
 * A distribution, sampled by inversion: one uniform a draw, so streams stay in step.
 * Parameters come as plain SI numbers in the order of `parameters`.
 * Formulas: Johnson, Kotz and Balakrishnan (1994, 1995); Law (2015), chapter 6.
 */
export interface Distribution {
  readonly name: string;
  readonly parameters: ReadonlyArray<{ readonly name: string; readonly kind: ParameterKind }>;
  /** How many of the last parameters may be left out. */
  readonly optional?: number;
  /** Whether a draw has the dimension of the quantity parameters or is a plain number. */
  readonly result: ParameterKind;
  readonly support: string;
  /** A sentence that says what is wrong with these parameters, if anything is. */
  check(p: readonly number[]): string | undefined;
  mean(p: readonly number[]): number;
  variance(p: readonly number[]): number;
  /** The value below which a share `u` in (0, 1) of draws fall; NaN for parameters that `check` refuses. */
  quantile(u: number, a: number, b: number, c: number, d: number): number;
  /**
   * The same for parameters that stay, where it pays to prepare a table from them. It is as exact, but its last bits
   * may differ: who draws must always use the one or always the other.
   */
  prepare?(p: readonly number[]): (u: number) => number;
}

/** How to draw with parameters that stay. */
export function drawer(distribution: Distribution, p: readonly number[]): (u: number) => number {
  if (distribution.prepare) return distribution.prepare(p);
  const [a, b, c, d] = [...p, NaN, NaN, NaN, NaN];
  return (u) => distribution.quantile(u, a, b, c, d);
}

const q = (name: string) => ({ name, kind: "quantity" as const });
const n = (name: string) => ({ name, kind: "number" as const });
const positive = (what: string, value: number) => (value > 0 ? undefined : `${what} must be above 0.`);
const share = (value: number) => (value >= 0 && value <= 1 ? undefined : "the chance must lie between 0 and 1.");
const firstOf = (...problems: (string | undefined)[]) => problems.find((p) => p !== undefined);

/** Mean and variance by integrating the quantile over a fine midpoint grid of the normal scale. */
function momentsByQuadrature(transform: (z: number) => number): { mean: number; variance: number } {
  const steps = 4000;
  let total = 0;
  let first = 0;
  let second = 0;
  for (let i = 0; i < steps; i++) {
    const z = -9 + (18 * (i + 0.5)) / steps;
    const weight = exp(-0.5 * z * z);
    const x = transform(z);
    total += weight;
    first += weight * x;
    second += weight * x * x;
  }
  const mean = first / total;
  return { mean, variance: second / total - mean * mean };
}

const johnsonSB = (z: number, gammaShape: number, delta: number, low: number, high: number) =>
  low + (high - low) / (1 + exp(-(z - gammaShape) / delta));

const pertShapes = (low: number, mode: number, high: number): [number, number] => [
  1 + (4 * (mode - low)) / (high - low),
  1 + (4 * (high - mode)) / (high - low),
];

const inOrder = (p: readonly number[]) =>
  p[0] <= p[1] && p[1] <= p[2] && p[0] < p[2]
    ? undefined
    : "lowest, most likely and highest must be in rising order and not all the same.";

/** Largest mean of a negative binomial distribution. */
const MOST_FAILURES = 100_000;

function preparedGamma(shape: number, scale: number): (u: number) => number {
  const table = logGammaTable(shape);
  return (u) => scale * exp(table.at(u));
}

/** On 0 to 1: x = 1 / (1 + e^−y) for the logarithm y of its odds. */
function preparedBeta(a: number, b: number): (u: number) => number {
  const table = logOddsTable(a, b);
  return (u) => 1 / (1 + exp(-table.at(u)));
}

const list: Distribution[] = [
  {
    name: "uniform",
    parameters: [q("lowest"), q("highest")],
    result: "quantity",
    support: "lowest to highest",
    check: ([a, b]) => (a <= b ? undefined : "the lowest value must not be above the highest."),
    mean: ([a, b]) => (a + b) / 2,
    variance: ([a, b]) => (b - a) ** 2 / 12,
    quantile: (u, a, b) => a + u * (b - a),
  },
  {
    name: "uniformInteger",
    parameters: [n("lowest"), n("highest")],
    result: "number",
    support: "whole numbers lowest to highest",
    check: ([a, b]) =>
      Number.isInteger(a) && Number.isInteger(b) && a <= b
        ? undefined
        : "both ends must be whole numbers in rising order.",
    mean: ([a, b]) => (a + b) / 2,
    variance: ([a, b]) => ((b - a + 1) ** 2 - 1) / 12,
    quantile: (u, a, b) => a + Math.floor(u * (b - a + 1)),
  },
  {
    name: "triangular",
    parameters: [q("lowest"), q("most likely"), q("highest")],
    result: "quantity",
    support: "lowest to highest",
    check: inOrder,
    mean: ([a, m, b]) => (a + m + b) / 3,
    variance: ([a, m, b]) => (a * a + m * m + b * b - a * m - a * b - m * b) / 18,
    quantile: (u, a, m, b) => {
      const width = b - a;
      return u * width < m - a ? a + Math.sqrt(u * width * (m - a)) : b - Math.sqrt((1 - u) * width * (b - m));
    },
  },
  {
    name: "pert",
    parameters: [q("lowest"), q("most likely"), q("highest")],
    result: "quantity",
    support: "lowest to highest",
    check: inOrder,
    mean: ([a, m, b]) => (a + 4 * m + b) / 6,
    variance: ([a, m, b]) => {
      const mean = (a + 4 * m + b) / 6;
      return ((mean - a) * (b - mean)) / 7;
    },
    quantile: (u, a, m, b) => {
      const [s, t] = pertShapes(a, m, b);
      return a + (b - a) * betaQuantile(u, s, t);
    },
    prepare([a, m, b]) {
      const draw = preparedBeta(...pertShapes(a, m, b));
      return (u) => a + (b - a) * draw(u);
    },
  },
  {
    name: "exponential",
    parameters: [q("mean")],
    result: "quantity",
    support: "above 0",
    check: ([m]) => positive("the mean", m),
    mean: ([m]) => m,
    variance: ([m]) => m * m,
    quantile: (u, m) => -m * ln(1 - u),
  },
  {
    name: "erlang",
    parameters: [n("stages"), q("mean")],
    result: "quantity",
    support: "above 0",
    check: ([k, m]) =>
      Number.isInteger(k) && k >= 1
        ? positive("the mean", m)
        : "the number of stages must be a whole number, 1 or more.",
    mean: ([, m]) => m,
    variance: ([k, m]) => (m * m) / k,
    quantile: (u, k, m) => gammaQuantile(u, k) * (m / k),
    prepare: ([k, m]) => preparedGamma(k, m / k),
  },
  {
    name: "gamma",
    parameters: [n("shape"), q("scale")],
    result: "quantity",
    support: "above 0",
    check: ([a, b]) => firstOf(positive("the shape", a), positive("the scale", b)),
    mean: ([a, b]) => a * b,
    variance: ([a, b]) => a * b * b,
    quantile: (u, a, b) => gammaQuantile(u, a) * b,
    prepare: ([a, b]) => preparedGamma(a, b),
  },
  {
    name: "weibull",
    parameters: [n("shape"), q("scale")],
    result: "quantity",
    support: "above 0",
    check: ([a, b]) => firstOf(positive("the shape", a), positive("the scale", b)),
    mean: ([a, b]) => b * gamma(1 + 1 / a),
    variance: ([a, b]) => b * b * (gamma(1 + 2 / a) - gamma(1 + 1 / a) ** 2),
    quantile: (u, a, b) => b * pow(-ln(1 - u), 1 / a),
  },
  {
    name: "lognormal",
    parameters: [q("mean"), q("standard deviation")],
    result: "quantity",
    support: "above 0",
    check: ([m, s]) => firstOf(positive("the mean", m), positive("the standard deviation", s)),
    mean: ([m]) => m,
    variance: ([, s]) => s * s,
    quantile: (u, m, s) => {
      const spread = ln(1 + (s * s) / (m * m));
      return m * exp(Math.sqrt(spread) * standardNormal(u) - spread / 2);
    },
  },
  {
    name: "lognormalOfLog",
    parameters: [q("median"), n("standard deviation of the log")],
    result: "quantity",
    support: "above 0",
    check: ([m, s]) => firstOf(positive("the median", m), positive("the standard deviation of the log", s)),
    mean: ([m, s]) => m * exp((s * s) / 2),
    variance: ([m, s]) => m * m * exp(s * s) * (exp(s * s) - 1),
    quantile: (u, m, s) => m * exp(s * standardNormal(u)),
  },
  {
    name: "normal",
    parameters: [q("mean"), q("standard deviation"), q("lowest"), q("highest")],
    optional: 2,
    result: "quantity",
    support: "all numbers, or lowest to highest where given (truncated)",
    check: ([m, s, low, high]) => firstOf(positive("the standard deviation", s), boundsProblem(m, s, low, high)),
    mean: ([m, s, low, high]) => truncatedNormalMoments(m, s, low, high).mean,
    variance: ([m, s, low, high]) => truncatedNormalMoments(m, s, low, high).variance,
    quantile: truncatedNormalQuantile,
  },
  {
    name: "beta",
    parameters: [n("first shape"), n("second shape"), q("lowest"), q("highest")],
    result: "quantity",
    support: "lowest to highest",
    check: ([a, b, low, high]) =>
      firstOf(
        positive("the first shape", a),
        positive("the second shape", b),
        low < high ? undefined : "the lowest value must be below the highest.",
      ),
    mean: ([a, b, low, high]) => low + ((high - low) * a) / (a + b),
    variance: ([a, b, low, high]) => ((high - low) ** 2 * a * b) / ((a + b) ** 2 * (a + b + 1)),
    quantile: (u, a, b, low, high) => low + (high - low) * betaQuantile(u, a, b),
    prepare([a, b, low, high]) {
      const draw = preparedBeta(a, b);
      return (u) => low + (high - low) * draw(u);
    },
  },
  {
    name: "johnsonSB",
    parameters: [n("gamma"), n("delta"), q("lowest"), q("highest")],
    result: "quantity",
    support: "lowest to highest",
    check: ([, d, low, high]) =>
      firstOf(positive("delta", d), low < high ? undefined : "the lowest value must be below the highest."),
    mean: ([g, d, low, high]) => momentsByQuadrature((z) => johnsonSB(z, g, d, low, high)).mean,
    variance: ([g, d, low, high]) => momentsByQuadrature((z) => johnsonSB(z, g, d, low, high)).variance,
    quantile: (u, g, d, low, high) => johnsonSB(standardNormal(u), g, d, low, high),
  },
  {
    name: "johnsonSU",
    parameters: [n("gamma"), n("delta"), q("location"), q("scale")],
    result: "quantity",
    support: "all numbers",
    check: ([, d, , s]) => firstOf(positive("delta", d), positive("the scale", s)),
    mean: ([g, d, at, s]) => at - s * exp(1 / (2 * d * d)) * sinh(g / d),
    variance: ([g, d, , s]) => {
      const w = exp(1 / (d * d));
      return ((s * s) / 2) * (w - 1) * (w * ((exp((2 * g) / d) + exp((-2 * g) / d)) / 2) + 1);
    },
    quantile: (u, g, d, at, s) => at + s * sinh((standardNormal(u) - g) / d),
  },
  {
    name: "logLogistic",
    parameters: [n("shape"), q("scale")],
    result: "quantity",
    support: "above 0",
    check: ([a, b]) => firstOf(positive("the shape", a), positive("the scale", b)),
    mean: ([a, b]) => (a > 1 ? (b * Math.PI) / a / sin(Math.PI / a) : Infinity),
    variance: ([a, b]) => {
      const t = Math.PI / a;
      return a > 2 ? b * b * ((2 * t) / sin(2 * t) - (t * t) / sin(t) ** 2) : Infinity;
    },
    quantile: (u, a, b) => b * pow(u / (1 - u), 1 / a),
  },
  {
    name: "pearsonV",
    parameters: [n("shape"), q("scale")],
    result: "quantity",
    support: "above 0",
    check: ([a, b]) => firstOf(positive("the shape", a), positive("the scale", b)),
    mean: ([a, b]) => (a > 1 ? b / (a - 1) : Infinity),
    variance: ([a, b]) => (a > 2 ? (b * b) / ((a - 1) ** 2 * (a - 2)) : Infinity),
    quantile: (u, a, b) => b / gammaQuantile(1 - u, a),
    prepare([a, b]) {
      const table = logGammaTable(a);
      return (u) => b * exp(-table.ofShareAbove(u));
    },
  },
  {
    name: "pearsonVI",
    parameters: [n("first shape"), n("second shape"), q("scale")],
    result: "quantity",
    support: "above 0",
    check: ([a, b, s]) =>
      firstOf(positive("the first shape", a), positive("the second shape", b), positive("the scale", s)),
    mean: ([a, b, s]) => (b > 1 ? (s * a) / (b - 1) : Infinity),
    variance: ([a, b, s]) => (b > 2 ? (s * s * a * (a + b - 1)) / ((b - 1) ** 2 * (b - 2)) : Infinity),
    quantile: (u, a, b, s) => {
      const x = betaQuantile(u, a, b);
      return (s * x) / (1 - x);
    },
    prepare([a, b, s]) {
      const table = logOddsTable(a, b);
      return (u) => s * exp(table.at(u));
    },
  },
  {
    name: "poisson",
    parameters: [n("mean")],
    result: "number",
    support: "whole numbers from 0",
    check: ([m]) => (m > 0 && m <= 1e6 ? undefined : "the mean must be above 0 and at most 1 000 000."),
    mean: ([m]) => m,
    variance: ([m]) => m,
    quantile: (u, m) => poissonTable(m).at(u),
  },
  {
    name: "binomial",
    parameters: [n("trials"), n("chance")],
    result: "number",
    support: "whole numbers 0 to trials",
    check: ([t, p]) =>
      Number.isInteger(t) && t >= 0 && t <= 1e6
        ? share(p)
        : "the number of trials must be a whole number from 0 to 1 000 000.",
    mean: ([t, p]) => t * p,
    variance: ([t, p]) => t * p * (1 - p),
    quantile: (u, t, p) => {
      if (p <= 0) return 0;
      if (p >= 1) return t;
      return binomialTable(t, p).at(u);
    },
  },
  {
    name: "geometric",
    parameters: [n("chance")],
    result: "number",
    support: "whole numbers from 0 (failures before the first success)",
    check: ([p]) => (p > 0 && p <= 1 ? undefined : "the chance must be above 0 and at most 1."),
    mean: ([p]) => (1 - p) / p,
    variance: ([p]) => (1 - p) / (p * p),
    quantile: (u, p) => (p >= 1 ? 0 : Math.max(0, Math.ceil(ln(1 - u) / ln(1 - p)) - 1)),
  },
  {
    name: "negativeBinomial",
    parameters: [n("successes"), n("chance")],
    result: "number",
    support: "whole numbers from 0 (failures before the last success)",
    check: ([s, p]) =>
      Number.isInteger(s) && s >= 1 && s <= 1e6
        ? !(p > 0 && p <= 1)
          ? "the chance must be above 0 and at most 1."
          : (s * (1 - p)) / p <= MOST_FAILURES
            ? undefined
            : `the mean number of failures, successes × (1 − chance) / chance, must be at most ${MOST_FAILURES}.`
        : "the number of successes must be a whole number, 1 or more.",
    mean: ([s, p]) => (s * (1 - p)) / p,
    variance: ([s, p]) => (s * (1 - p)) / (p * p),
    quantile: (u, s, p) => {
      if (p >= 1) return 0;
      return negativeBinomialTable(s, p).at(u);
    },
  },
  {
    name: "bernoulli",
    parameters: [n("chance")],
    result: "number",
    support: "0 and 1",
    check: ([p]) => share(p),
    mean: ([p]) => p,
    variance: ([p]) => p * (1 - p),
    quantile: (u, p) => (u > 1 - p ? 1 : 0),
  },
];

export const distributions: ReadonlyMap<string, Distribution> = new Map(list.map((d) => [d.name, d]));

/** The inverse of the cumulative weights of discrete values, two equally long lists. */
export function weightedQuantile(values: readonly number[], weights: readonly number[]): (u: number) => number {
  let sum = 0;
  const sums = Float64Array.from(weights, (weight) => (sum += weight));
  return (u) => {
    const wanted = u * sum;
    // The first place whose sum is above what is wanted.
    let low = -1;
    let high = values.length - 1;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (wanted < sums[middle]) high = middle;
      else low = middle;
    }
    return values[high];
  };
}

/** The interpolated empirical quantile of observations in rising order (Law 2015, section 6.2.4). */
export function empiricalQuantile(u: number, sorted: ArrayLike<number>): number {
  const at = u * (sorted.length - 1);
  const below = Math.min(Math.floor(at), sorted.length - 1);
  const above = Math.min(below + 1, sorted.length - 1);
  return sorted[below] + (at - below) * (sorted[above] - sorted[below]);
}
