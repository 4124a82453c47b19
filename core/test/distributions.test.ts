import { distributions, drawer, weightedQuantile } from "../src/random/distributions.ts";
import reference from "./reference/distributions.json";
import { openStreams } from "../src/random/streams.ts";

const missing = Number.NaN;

/** One or two parameter sets each; `heavy` marks tails too heavy for a plain sum over quantiles. */
const sets: [name: string, parameters: number[], tolerance?: number][] = [
  ["uniform", [2, 6]],
  ["uniformInteger", [1, 6]],
  ["triangular", [0.8, 1.9, 4.2]],
  ["triangular", [1, 1, 3]],
  ["pert", [1, 2, 6]],
  ["exponential", [3]],
  ["erlang", [3, 6]],
  ["gamma", [0.7, 2]],
  ["gamma", [5, 2]],
  ["weibull", [1.5, 4]],
  ["lognormal", [55, 20]],
  ["lognormalOfLog", [3, 0.4]],
  ["normal", [10, 2]],
  ["normal", [10, 4, 8, 15]],
  ["beta", [2, 3, 1, 5]],
  ["johnsonSB", [0.5, 1.2, 2, 9]],
  ["johnsonSU", [0.3, 2, 1, 2]],
  ["logLogistic", [9, 4]],
  ["pearsonV", [12, 30]],
  ["pearsonVI", [3, 14, 4]],
  ["poisson", [3.5]],
  ["poisson", [2000]],
  ["binomial", [12, 0.3]],
  ["binomial", [5000, 0.4]],
  ["geometric", [0.2]],
  ["negativeBinomial", [4, 0.3]],
  ["bernoulli", [0.3]],
];

test("every distribution is among the cases", () => {
  expect(new Set(sets.map(([name]) => name))).toEqual(new Set(distributions.keys()));
});

/** Mean and variance by the midpoint rule over the quantile function, finer towards both tails. */
function moments(quantile: (u: number) => number) {
  const steps = 40_000;
  let first = 0;
  let second = 0;
  let total = 0;
  for (let i = 0; i < steps; i++) {
    // u = 3t² − 2t³ crowds points where quantiles run away.
    const t = (i + 0.5) / steps;
    const weight = 6 * t * (1 - t);
    const x = quantile(t * t * (3 - 2 * t));
    total += weight;
    first += weight * x;
    second += weight * x * x;
  }
  const mean = first / total;
  return { mean, variance: second / total - mean * mean };
}

test.each(sets)("%s(%p): mean and variance are those of its quantiles", (name, parameters) => {
  const d = distributions.get(name)!;
  expect(d.check(parameters)).toBeUndefined();
  const [a, b, c, e] = [...parameters, missing, missing, missing, missing];
  const { mean, variance } = moments((u) => d.quantile(u, a, b, c, e));
  expect(Math.abs(mean / d.mean(parameters) - 1)).toBeLessThan(1e-3);
  expect(Math.abs(variance / d.variance(parameters) - 1)).toBeLessThan(8e-3);
});

test.each(sets)("%s(%p): samples from a stream agree, at four standard errors", (name, parameters) => {
  const d = distributions.get(name)!;
  const uniform = openStreams(99, 1).stream(1).uniform();
  const [a, b, c, e] = [...parameters, missing, missing, missing, missing];
  const n = 4000;
  let sum = 0;
  for (let i = 0; i < n; i++) sum += d.quantile(uniform(), a, b, c, e);
  expect(Math.abs(sum / n - d.mean(parameters))).toBeLessThan(4 * Math.sqrt(d.variance(parameters) / n));
});

test.each([
  ["normal", [0, 1, 38, 40]],
  ["normal", [0, 1, -90, -38]],
  ["negativeBinomial", [2, 1e-6]],
  ["uniform", [3, 2]],
  ["exponential", [0]],
  ["erlang", [1.5, 2]],
  ["triangular", [1, 1, 1]],
  ["beta", [0, 1, 0, 1]],
  ["normal", [1, 1, 3, 2]],
  ["binomial", [2.5, 0.1]],
  ["bernoulli", [1.2]],
  ["geometric", [0]],
  ["poisson", [-1]],
])("%s(%p) is refused with a reason", (name, parameters) => {
  expect(distributions.get(name)!.check(parameters)).toMatch(/must/);
});

describe("quantiles over the whole range are those of independent software", () => {
  const rows = reference.rows.map((row) => [`${row.name}(${row.parameters.join(", ")})`, row] as const);
  test.each(rows)("%s", (_, { name, parameters, quantiles }) => {
    const d = distributions.get(name)!;
    expect(d.check(parameters)).toBeUndefined();
    const [a, b, c, e] = [...parameters, missing, missing, missing, missing];
    const draw = drawer(d, parameters);
    reference.u.forEach((u, i) => {
      const exact: number | null = quantiles[i];
      if (exact === null || (exact < 1e-290 && exact > 0)) return;
      const counts = d.result === "number";
      // A share as near to 0 or 1 as 1e-12 keeps four digits when it is subtracted from 1.
      const lost = 1e-15 / Math.min(u, 1 - u);
      const off = (value: number) => Math.abs(value - exact) / (exact === 0 ? 1 : Math.abs(exact));
      expect({ u, prepared: off(draw(u)) <= (counts ? 0 : 1e-7) }).toEqual({ u, prepared: true });
      expect({ u, varying: off(d.quantile(u, a, b, c, e)) <= (counts ? 0 : Math.max(1e-9, lost)) }).toEqual({
        u,
        varying: true,
      });
    });
  });
});

test.each([
  [8, 20, 8.1213681122361123, 0.0143248834433409],
  [7, 9, 7.1375454394180382, 0.0182615697190063],
  [30, 31, 30.033259667433623, 0.00110377151183529],
  [-1, 2, 0.229637179091329, 0.519762539211533],
])(
  "a normal distribution cut to %p to %p has the mean and variance that integration gives",
  (low, high, mean, variance) => {
    const d = distributions.get("normal")!;
    expect(Math.abs(d.mean([0, 1, low, high]) / mean - 1)).toBeLessThan(1e-10);
    expect(Math.abs(d.variance([0, 1, low, high]) / variance - 1)).toBeLessThan(1e-7);
    expect(Math.abs(d.mean([-3, 2, -3 - 2 * high, -3 - 2 * low]) - (-3 - 2 * mean))).toBeLessThan(1e-9);
  },
);

test("draws are whole numbers where they should be, rising with the share, and never outside", () => {
  for (const [name, parameters] of sets) {
    const draw = drawer(distributions.get(name)!, parameters);
    let last = -Infinity;
    for (let i = 1; i < 2000; i++) {
      const value = draw(i / 2000);
      expect(value).toBeGreaterThanOrEqual(last);
      if (distributions.get(name)!.result === "number") expect(Number.isInteger(value)).toBe(true);
      last = value;
    }
  }
});

test("values by weights: the first whose weights together are above the share, weights of 0 never", () => {
  const draw = weightedQuantile([10, 20, 30, 40], [1, 0, 2, 1]);
  expect([0, 0.2499, 0.25, 0.5, 0.7499, 0.75, 0.9999].map(draw)).toEqual([10, 10, 30, 30, 30, 40, 40]);
});
