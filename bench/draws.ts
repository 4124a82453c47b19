import { distributions, drawer } from "../core/src/random/distributions.ts";

/** Each distribution with parameters that stay, some of them extreme. */
const CASES: readonly (readonly [name: string, parameters: readonly number[]])[] = [
  ["uniform", [2, 6]],
  ["uniformInteger", [1, 6]],
  ["triangular", [0.8, 1.9, 4.2]],
  ["pert", [1, 2, 6]],
  ["exponential", [3]],
  ["erlang", [950, 6]],
  ["gamma", [0.02, 2]],
  ["gamma", [5, 2]],
  ["gamma", [1e6, 2]],
  ["weibull", [1.5, 4]],
  ["lognormal", [55, 20]],
  ["lognormalOfLog", [3, 0.4]],
  ["normal", [10, 2]],
  ["normal", [0, 1, 7, 9]],
  ["beta", [2, 3, 1, 5]],
  ["beta", [1e5, 2e5, 0, 1]],
  ["johnsonSB", [0.5, 1.2, 2, 9]],
  ["johnsonSU", [0.3, 2, 1, 2]],
  ["logLogistic", [9, 4]],
  ["pearsonV", [12, 30]],
  ["pearsonVI", [3, 14, 4]],
  ["poisson", [3.5]],
  ["poisson", [1e6]],
  ["binomial", [1e6, 0.3]],
  ["geometric", [0.2]],
  ["negativeBinomial", [1, 1e-5]],
  ["negativeBinomial", [1000, 0.01]],
  ["bernoulli", [0.3]],
];
const DRAWS = 100_000;

/** Microseconds of a draw in the middle 98 % of its range, of the slowest distribution; and which that is. */
export function slowestDraw(): { readonly microseconds: number; readonly name: string } {
  const times = CASES.map(([name, parameters]) => {
    const draw = drawer(distributions.get(name)!, parameters);
    let [shortest, sum] = [Infinity, 0];
    for (let round = 0; round < 5; round++) {
      const start = performance.now();
      for (let i = 0; i < DRAWS; i++) sum += draw(0.01 + (0.98 * (i + 0.5)) / DRAWS);
      shortest = Math.min(shortest, performance.now() - start);
    }
    if (!Number.isFinite(sum)) throw new Error(`${name} gave no number`);
    return { microseconds: (shortest / DRAWS) * 1000, name: `${name}(${parameters.join(", ")})` };
  });
  return times.reduce((a, b) => (b.microseconds > a.microseconds ? b : a));
}
