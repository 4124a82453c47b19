import { readFileSync } from "node:fs";
import { join } from "node:path";
import { checkExpression, distributions, makeScope } from "../src/index.ts";
import {
  binned,
  densityOf,
  fitAll,
  fitNamed,
  lagCheck,
  likelyBins,
  outliersOf,
  pValues,
  quantileOf,
  runsCheck,
  Sample,
  shareBelow,
  trendCheck,
  writeFit,
} from "../src/fitting/index.ts";
import gammainc from "@stdlib/math-base-special-gammainc";
import { gammaAbove, gammaBelow } from "../src/numeric/incompleteGamma.ts";
import { drawer } from "../src/random/distributions.ts";
import { openStreams } from "../src/random/streams.ts";

type Figures = Readonly<Record<string, number>>;
interface Reference {
  readonly data: string;
  readonly values: readonly number[];
  readonly fits: Readonly<Record<string, Figures>>;
}
const reference = JSON.parse(readFileSync(join(__dirname, "reference/fitting.json"), "utf8")) as Reference[];

const sampleOf = (values: readonly number[]) => new Sample(Float64Array.from(values));
function drawn(name: string, parameters: readonly number[], n: number, seed: number): Sample {
  const draw = drawer(distributions.get(name)!, parameters);
  const uniform = openStreams(seed, 1).stream(3).uniform();
  return new Sample(Float64Array.from({ length: n }, () => draw(uniform())));
}
const fitOf = (sample: Sample, name: string) => {
  const found = fitNamed(name, sample);
  if (!found) throw new Error(`${name} is not fitted`);
  return found;
};
const close = (value: number, to: number, relative: number) =>
  expect(Math.abs(value - to)).toBeLessThanOrEqual(relative * Math.abs(to));

describe.each(reference)("three data sets as an independent program fits them: $data", ({ values, fits }) => {
  /** What the reference calls parameters, as ours. */
  const ours: Readonly<Record<string, readonly [name: string, parameters: (f: Figures) => number[]]>> = {
    exponential: ["exponential", (f) => [f.mean]],
    normal: ["normal", (f) => [f.mean, f.sd]],
    lognormal: ["lognormalOfLog", (f) => [Math.exp(f.meanLog), f.sdLog]],
    gamma: ["gamma", (f) => [f.shape, f.scale]],
    weibull: ["weibull", (f) => [f.shape, f.scale]],
  };
  test.each(Object.keys(fits))("%s", (of) => {
    const [name, parametersOf] = ours[of];
    const found = fitOf(sampleOf(values), name);
    const wanted = fits[of];
    // The likelihood is flat at its top: where it agrees to 1e-6, parameters may differ by its root.
    parametersOf(wanted).forEach((p, i) => close(found.parameters[i], p, 1e-3));
    close(found.logLikelihood, wanted.logLikelihood, 1e-6);
    close(found.aic, wanted.aic, 1e-6);
    close(found.goodness.ks, wanted.ks, 1e-3);
    close(found.goodness.andersonDarling, wanted.andersonDarling, 1e-3);
  });
});

describe("parameters of 2,000 known draws are found again", () => {
  // Within 4 standard errors, by the information of each (Johnson, Kotz and Balakrishnan 1994, 1995), rounded up.
  test.each<readonly [name: string, parameters: number[], errors: number[]]>([
    ["exponential", [4], [0.36]],
    ["gamma", [2.5, 3], [0.32, 0.45]],
    ["gamma", [0.4, 10], [0.05, 2]],
    ["erlang", [3, 6], [0.01, 0.32]],
    ["weibull", [1.7, 5], [0.13, 0.28]],
    ["weibull", [0.6, 5], [0.05, 0.8]],
    ["lognormalOfLog", [3, 0.8], [0.22, 0.051]],
    ["logLogistic", [3, 7], [0.23, 0.37]],
    ["pearsonV", [4, 12], [0.52, 1.7]],
    ["normal", [-3, 2], [0.18, 0.13]],
    ["uniform", [2, 9], [0.03, 0.03]],
  ])("%s(%p)", (name, parameters, errors) => {
    const found = fitOf(drawn(name, parameters, 2000, 29), name);
    parameters.forEach((p, i) => expect(Math.abs(found.parameters[i] - p)).toBeLessThan(errors[i]));
    // And what it was drawn from fits, at a level at which one in a hundred would not.
    const p = pValues(found, 2000, { drawn: 200 });
    for (const value of Object.values(p) as number[]) expect(value).toBeGreaterThan(0.005);
  });
});

test("the best of all by Akaike's criterion is what was drawn, where the shape tells", () => {
  expect(fitAll(drawn("weibull", [4, 10], 3000, 5))[0].name).toBe("weibull");
  expect(fitAll(drawn("lognormalOfLog", [10, 1], 3000, 5))[0].name).toBe("lognormalOfLog");
  expect(fitAll(drawn("exponential", [10], 3000, 6))[0].aic).toBeLessThan(
    fitOf(drawn("exponential", [10], 3000, 6), "normal").aic - 100,
  );
});

/**
 * Under the null hypothesis p-values are uniform, parameters estimated or not: Kolmogorov and Smirnov over 500 samples,
 * at 0.1 %, plus the grain of p-values of 99 samples.
 */
describe("p-values are uniform where the distribution is the right one", () => {
  test.each<readonly [string, number[]]>([
    ["exponential", [3]],
    ["normal", [5, 2]],
    ["weibull", [1.5, 4]],
    ["gamma", [2, 3]],
  ])("%s", (name, parameters) => {
    const [samples, n, bootstrap] = [500, 20, 39];
    const found = { ks: [] as number[], andersonDarling: [] as number[], chiSquare: [] as number[] };
    for (let i = 0; i < samples; i++) {
      const fit = fitOf(drawn(name, parameters, n, 1000 + i), name);
      const p = pValues(fit, n, { seed: 5000 + i, drawn: bootstrap });
      found.ks.push(p.ks);
      found.andersonDarling.push(p.andersonDarling);
      found.chiSquare.push(p.chiSquare);
    }
    const distance = (p: number[]) =>
      p.sort((a, b) => a - b).reduce((most, u, i) => Math.max(most, (i + 1) / samples - u, u - i / samples), 0);
    const allowed = 1.95 / Math.sqrt(samples) + 1 / (bootstrap + 1);
    expect(distance(found.ks)).toBeLessThan(allowed);
    expect(distance(found.andersonDarling)).toBeLessThan(allowed);
    // Counts in bins take few values: a p-value is then too large by up to the share of ties, never too small.
    const small = found.chiSquare.filter((p) => p <= 0.05).length / samples;
    expect(small).toBeLessThan(0.05 + 3.29 * Math.sqrt((0.05 * 0.95) / samples));
  });

  test("of a wrong one they are small", () => {
    const fit = fitOf(drawn("lognormalOfLog", [3, 1.2], 1500, 9), "normal");
    expect(pValues(fit, 1500)).toEqual({ ks: 1 / 401, andersonDarling: 1 / 401, chiSquare: 1 / 401 });
  });
});

describe("densities and shares of what is offered agree with what is drawn", () => {
  test.each(fitAll(drawn("gamma", [3, 2], 400, 2)).map((fit) => [fit.name, fit] as const))("%s", (_name, fit) => {
    for (const u of [0.001, 0.1, 0.5, 0.9, 0.999]) {
      const x = quantileOf(fit, u);
      expect(shareBelow(fit, x)).toBeCloseTo(u, 7);
      const h = Math.abs(x) * 1e-4;
      const slope = (shareBelow(fit, x + h) - shareBelow(fit, x - h)) / (2 * h);
      expect(Math.abs(densityOf(fit, x) - slope)).toBeLessThan(1e-4 * (1e-3 + slope));
    }
  });
});

test("a fit is written as an expression that reads the same", () => {
  const fit = fitOf(drawn("gamma", [3, 2], 400, 2), "gamma");
  const text = writeFit(fit, "min");
  expect(text).toMatch(/^gamma\(\d\.\d+, \d\.\d+ min\)$/);
  const checked = checkExpression(
    text,
    makeScope(new Map(), () => 0),
  );
  const mean = fit.parameters[0] * fit.parameters[1] * 60;
  expect(checked.ok && Math.abs(checked.checked.mean! - mean) < 1e-4 * mean).toBe(true);
  expect(writeFit(fit, "")).not.toContain("min");
});

test("what cannot be fitted is left out: values of 0 and below, values all alike, and too few", () => {
  expect(
    fitAll(sampleOf([0, 1, 2, 3, 4, 5]))
      .map((f) => f.name)
      .sort(),
  ).toEqual(["normal", "uniform"]);
  expect(fitAll(sampleOf([2, 2, 2, 2, 2, 2])).map((f) => f.name)).toEqual(["exponential"]);
  expect(fitAll(sampleOf([1, 2, 3]))).toEqual([]);
});

test("the incomplete gamma function agrees with an independent package, in both tails", () => {
  for (const shape of [0.1, 0.7, 1, 2.5, 30, 400])
    for (const at of [0.01, 0.3, 0.9, 1, 1.1, 2]) {
      const x = at * shape;
      const [below, above] = [gammainc(x, shape, true, false), gammainc(x, shape, true, true)];
      // Far out both lose digits to the exponent.
      const off = (share: number) => (share < 1e-50 ? 1e-7 : 1e-11);
      expect(Math.abs(gammaBelow(x, shape) - below)).toBeLessThanOrEqual(off(below) * below);
      expect(Math.abs(gammaAbove(x, shape) - above)).toBeLessThanOrEqual(off(above) * above);
    }
  // Far out the package has three digits; here the sum of Poisson's probabilities to 60 digits.
  expect(gammaAbove(1600, 400) / 3.110319262124696e-283 - 1).toBeCloseTo(0, 9);
});

describe("what fitting takes for granted is checked", () => {
  const { values } = drawn("exponential", [1], 400, 21);
  test("independent values pass", () => {
    const sample = new Sample(values);
    for (const check of [lagCheck(sample), runsCheck(sample), trendCheck(sample)])
      expect(check.p).toBeGreaterThan(0.01);
  });

  test("a trend, and neighbours that are alike, are found", () => {
    const rising = new Sample(values.map((v, i) => v + i / 100));
    expect(trendCheck(rising).p).toBeLessThan(1e-6);
    const smooth = new Sample(values.map((v, i) => v + (values[i - 1] ?? 0) + (values[i - 2] ?? 0)));
    expect(lagCheck(smooth).statistic).toBeGreaterThan(0.4);
    expect(lagCheck(smooth).p).toBeLessThan(1e-6);
    expect(runsCheck(smooth).p).toBeLessThan(1e-6);
  });

  test("runs and ranks by hand", () => {
    // Below and above the median 3.5 in turn: a run each.
    expect(runsCheck(sampleOf([1, 6, 2, 5, 3, 4])).statistic).toBe(6);
    expect(trendCheck(sampleOf([1, 2, 3, 4])).statistic).toBe(1);
    expect(trendCheck(sampleOf([4, 3, 2, 1])).statistic).toBe(-1);
    // Ranks 0.5, 0.5, 2.5, 2.5 against 0 to 3: 4 / √(4 · 5).
    expect(trendCheck(sampleOf([1, 1, 2, 2])).statistic).toBeCloseTo(4 / Math.sqrt(20), 12);
  });

  test("values far out are told with their places", () => {
    expect(outliersOf(sampleOf([1, 2, 3, 4, 5, 6, 7, 90]))).toEqual([{ at: 7, value: 90 }]);
    expect(outliersOf(sampleOf([1, 2, 3, 4, 5, 6, 7, 9]))).toEqual([]);
  });
});

test("bins are round, hold every value, and those one sets say what lies outside", () => {
  const sample = drawn("gamma", [3, 2], 500, 4);
  const bins = likelyBins(sample);
  expect([1, 2, 5]).toContain(Number((bins.width / 10 ** Math.floor(Math.log10(bins.width))).toFixed(6)));
  const { counts, outside } = binned(sample, bins);
  expect(outside).toBe(0);
  expect(counts.reduce((sum, c) => sum + c, 0)).toBe(500);
  expect(binned(sampleOf([0, 1, 1.5, 2, 7]), { start: 1, width: 1, count: 2 })).toEqual({ counts: [2, 1], outside: 2 });
});
