import digamma from "@stdlib/math-base-special-digamma";
import gammaln from "@stdlib/math-base-special-gammaln";
import trigamma from "@stdlib/math-base-special-trigamma";
import { exp, ln } from "../numeric/elementary.ts";
import { gammaAbove, gammaBelow } from "../numeric/incompleteGamma.ts";
import { normalCdf } from "../random/normalCdf.ts";
import type { Sample } from "./sample.ts";

/**
 * A distribution that may be fitted to observations. Parameters are in the order of the distribution of that name.
 * Estimates are of maximum likelihood (Johnson, Kotz and Balakrishnan 1994, 1995) unless told otherwise.
 */
export interface Candidate {
  /** Name of the distribution in expressions. */
  readonly name: string;
  readonly label: string;
  /** How many parameters are estimated. */
  readonly estimated: number;
  /** It yields values above 0 alone. */
  readonly aboveZero: boolean;
  /** Undefined where there is no estimate, such as for values that are all the same. */
  estimate(sample: Sample): readonly number[] | undefined;
  logLikelihood(sample: Sample, p: readonly number[]): number;
  /** Shares at or below and above a value. */
  below(x: number, p: readonly number[]): number;
  above(x: number, p: readonly number[]): number;
  density(x: number, p: readonly number[]): number;
}

const LN_2_PI = ln(2 * Math.PI);
/** Relative change at which an iteration has come to its end. */
const CLOSE = 1e-13;
const MOST_STEPS = 200;

const differ = ({ least, most }: Sample): boolean => most > least;

/** Shape of a gamma distribution: ln k − ψ(k) = ln mean − mean ln, by Newton's method (Choi and Wette 1969). */
function gammaShape(sample: { readonly mean: number; readonly meanLog: number }): number | undefined {
  const s = ln(sample.mean) - sample.meanLog;
  if (!(s > 1e-12)) return undefined;
  let k = (3 - s + Math.sqrt((s - 3) ** 2 + 24 * s)) / (12 * s);
  for (let i = 0; i < MOST_STEPS; i++) {
    const step = (ln(k) - digamma(k) - s) / (1 / k - trigamma(k));
    const next = k - step > 0 ? k - step : k / 2;
    if (Math.abs(next - k) <= CLOSE * k) return next;
    k = next;
  }
  return k;
}

/** Density of gamma times x, in logarithms: what gamma, Erlang and Pearson V share. */
const logGammaDensity = (x: number, shape: number, scale: number): number =>
  (shape - 1) * ln(x) - x / scale - gammaln(shape) - shape * ln(scale);

const gammaLikelihood = ({ n, mean, meanLog }: Sample, shape: number, scale: number): number =>
  n * ((shape - 1) * meanLog - mean / scale - gammaln(shape) - shape * ln(scale));

const exponential: Candidate = {
  name: "exponential",
  label: "Exponential",
  estimated: 1,
  aboveZero: true,
  estimate: ({ mean }) => (mean > 0 ? [mean] : undefined),
  logLikelihood: ({ n, mean }, [m]) => -n * (ln(m) + mean / m),
  below: (x, [m]) => (x <= 0 ? 0 : 1 - exp(-x / m)),
  above: (x, [m]) => (x <= 0 ? 1 : exp(-x / m)),
  density: (x, [m]) => (x < 0 ? 0 : exp(-x / m) / m),
};

const gamma: Candidate = {
  name: "gamma",
  label: "Gamma",
  estimated: 2,
  aboveZero: true,
  estimate(sample) {
    const shape = gammaShape(sample);
    return shape === undefined ? undefined : [shape, sample.mean / shape];
  },
  logLikelihood: (sample, [shape, scale]) => gammaLikelihood(sample, shape, scale),
  below: (x, [shape, scale]) => gammaBelow(x / scale, shape),
  above: (x, [shape, scale]) => gammaAbove(x / scale, shape),
  density: (x, [shape, scale]) => (x <= 0 ? 0 : exp(logGammaDensity(x, shape, scale))),
};

/** The most stages of an Erlang distribution that is offered: beyond, it is hardly told from a gamma. */
const MOST_STAGES = 200;

const erlang: Candidate = {
  name: "erlang",
  label: "Erlang",
  estimated: 2,
  aboveZero: true,
  // The likelihood falls on either side of the gamma's shape: the best whole number is next to it.
  estimate(sample) {
    const shape = gammaShape(sample);
    if (shape === undefined || shape > MOST_STAGES) return undefined;
    const stages = [Math.max(1, Math.floor(shape)), Math.max(1, Math.ceil(shape))];
    const [a, b] = stages.map((k) => gammaLikelihood(sample, k, sample.mean / k));
    return [a >= b ? stages[0] : stages[1], sample.mean];
  },
  logLikelihood: (sample, [k, mean]) => gammaLikelihood(sample, k, mean / k),
  below: (x, [k, mean]) => gammaBelow((x * k) / mean, k),
  above: (x, [k, mean]) => gammaAbove((x * k) / mean, k),
  density: (x, [k, mean]) => (x <= 0 ? 0 : exp(logGammaDensity(x, k, mean / k))),
};

const weibull: Candidate = {
  name: "weibull",
  label: "Weibull",
  estimated: 2,
  aboveZero: true,
  /** The likelihood's maximum over the scale leaves one equation for the shape; by Newton's method. */
  estimate(sample) {
    if (!differ(sample)) return undefined;
    const { n, logs, meanLog, logSquares } = sample;
    // The logarithm's standard deviation is π / √6 over the shape.
    let k = Math.PI / Math.sqrt((6 * logSquares) / n);
    let sum = 0;
    for (let i = 0; i < MOST_STEPS; i++) {
      let [first, second] = [0, 0];
      sum = 0;
      for (const y of logs) {
        const of = y - meanLog;
        const weight = exp(k * of);
        sum += weight;
        first += weight * of;
        second += weight * of * of;
      }
      const ratio = first / sum;
      const step = (ratio - 1 / k) / (second / sum - ratio * ratio + 1 / (k * k));
      const next = k - step > 0 ? k - step : k / 2;
      const isOver = Math.abs(next - k) <= CLOSE * k;
      k = next;
      if (isOver) break;
    }
    sum = 0;
    for (const y of logs) sum += exp(k * (y - meanLog));
    return [k, exp(meanLog + ln(sum / n) / k)];
  },
  logLikelihood({ n, logs, meanLog }, [k, scale]) {
    const at = ln(scale);
    let powers = 0;
    for (const y of logs) powers += exp(k * (y - at));
    return n * (ln(k) - at + (k - 1) * (meanLog - at)) - powers;
  },
  below: (x, [k, scale]) => (x <= 0 ? 0 : 1 - exp(-exp(k * ln(x / scale)))),
  above: (x, [k, scale]) => (x <= 0 ? 1 : exp(-exp(k * ln(x / scale)))),
  density(x, [k, scale]) {
    if (x <= 0) return 0;
    const y = k * ln(x / scale);
    return (k / x) * exp(y - exp(y));
  },
};

const lognormal: Candidate = {
  name: "lognormalOfLog",
  label: "Lognormal",
  estimated: 2,
  aboveZero: true,
  estimate(sample) {
    if (!differ(sample)) return undefined;
    const { n, meanLog, logSquares } = sample;
    return [exp(meanLog), Math.sqrt(logSquares / n)];
  },
  logLikelihood({ n, logs, meanLog }, [median, sd]) {
    const at = ln(median);
    let squares = 0;
    for (const y of logs) squares += (y - at) ** 2;
    return -n * (meanLog + ln(sd) + LN_2_PI / 2) - squares / (2 * sd * sd);
  },
  below: (x, [median, sd]) => (x <= 0 ? 0 : normalCdf(ln(x / median) / sd)),
  above: (x, [median, sd]) => (x <= 0 ? 1 : normalCdf(-ln(x / median) / sd)),
  density: (x, [median, sd]) =>
    x <= 0 ? 0 : exp(-(ln(x / median) ** 2) / (2 * sd * sd)) / (x * sd * Math.sqrt(2 * Math.PI)),
};

const normal: Candidate = {
  name: "normal",
  label: "Normal",
  estimated: 2,
  aboveZero: false,
  estimate: (sample) => (differ(sample) ? [sample.mean, Math.sqrt(sample.squares / sample.n)] : undefined),
  logLikelihood: ({ n, mean, squares }, [m, sd]) =>
    -n * (ln(sd) + LN_2_PI / 2) - (squares + n * (mean - m) ** 2) / (2 * sd * sd),
  below: (x, [m, sd]) => normalCdf((x - m) / sd),
  above: (x, [m, sd]) => normalCdf((m - x) / sd),
  density: (x, [m, sd]) => exp(-((x - m) ** 2) / (2 * sd * sd)) / (sd * Math.sqrt(2 * Math.PI)),
};

const logLogistic: Candidate = {
  name: "logLogistic",
  label: "Log-logistic",
  estimated: 2,
  aboveZero: true,
  /** By Fisher's scoring of the logistic logarithms, whose information has no cross terms. */
  estimate(sample) {
    if (!differ(sample)) return undefined;
    const { n, logs, meanLog, logSquares } = sample;
    let [middle, s] = [meanLog, (Math.sqrt(logSquares / n) * Math.sqrt(3)) / Math.PI];
    for (let i = 0; i < MOST_STEPS; i++) {
      let [first, second] = [0, 0];
      for (const y of logs) {
        const z = (y - middle) / s;
        const t = 1 - 2 / (1 + exp(z));
        first += t;
        second += z * t;
      }
      const toMiddle = (3 * s * first) / n;
      const toScale = ((9 * s) / (3 + Math.PI * Math.PI)) * (second / n - 1);
      middle += toMiddle;
      s = Math.max(s / 3, s + toScale);
      if (Math.abs(toMiddle) <= CLOSE * s && Math.abs(toScale) <= CLOSE * s) break;
    }
    return [1 / s, exp(middle)];
  },
  logLikelihood({ n, logs, meanLog }, [shape, scale]) {
    const at = ln(scale);
    let sum = 0;
    for (const y of logs) sum += ln(1 + exp(-shape * (y - at)));
    return n * (ln(shape) - meanLog - shape * (meanLog - at)) - 2 * sum;
  },
  below: (x, [shape, scale]) => (x <= 0 ? 0 : 1 / (1 + exp(-shape * ln(x / scale)))),
  above: (x, [shape, scale]) => (x <= 0 ? 1 : 1 / (1 + exp(shape * ln(x / scale)))),
  density(x, [shape, scale]) {
    if (x <= 0) return 0;
    const odds = exp(shape * ln(x / scale));
    return (shape * odds) / (x * (1 + odds) ** 2);
  },
};

const pearsonV: Candidate = {
  name: "pearsonV",
  label: "Pearson V",
  estimated: 2,
  aboveZero: true,
  /** The reciprocals are gamma. */
  estimate({ n, values, meanLog }) {
    let sum = 0;
    for (const v of values) sum += 1 / v;
    const shape = gammaShape({ mean: sum / n, meanLog: -meanLog });
    return shape === undefined ? undefined : [shape, (shape * n) / sum];
  },
  logLikelihood({ n, values, meanLog }, [shape, scale]) {
    let sum = 0;
    for (const v of values) sum += 1 / v;
    return n * (shape * ln(scale) - gammaln(shape) - (shape + 1) * meanLog) - scale * sum;
  },
  below: (x, [shape, scale]) => (x <= 0 ? 0 : gammaAbove(scale / x, shape)),
  above: (x, [shape, scale]) => (x <= 0 ? 1 : gammaBelow(scale / x, shape)),
  density: (x, [shape, scale]) =>
    x <= 0 ? 0 : exp(shape * ln(scale) - gammaln(shape) - (shape + 1) * ln(x) - scale / x),
};

const uniform: Candidate = {
  name: "uniform",
  label: "Uniform",
  estimated: 2,
  aboveZero: false,
  /** Unbiased rather than most likely: the most likely ends are the least and the greatest value, always too narrow. */
  estimate(sample) {
    const { n, least, most } = sample;
    if (!differ(sample) || n < 3) return undefined;
    const beyond = (most - least) / (n - 1);
    return [least - beyond, most + beyond];
  },
  logLikelihood: ({ n }, [low, high]) => -n * ln(high - low),
  below: (x, [low, high]) => Math.min(1, Math.max(0, (x - low) / (high - low))),
  above: (x, [low, high]) => Math.min(1, Math.max(0, (high - x) / (high - low))),
  density: (x, [low, high]) => (x < low || x > high ? 0 : 1 / (high - low)),
};

/** Every distribution that is offered. */
export const CANDIDATES: readonly Candidate[] = [
  exponential,
  gamma,
  erlang,
  weibull,
  lognormal,
  logLogistic,
  pearsonV,
  normal,
  uniform,
];
