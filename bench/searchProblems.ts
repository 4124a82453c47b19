import { isAllowed, type SearchSettings, searchStep, searchValue, type Tried } from "../core/src/inference/index.ts";
import { openStreams } from "../core/src/random/streams.ts";

/** A problem whose best is known: what a place is worth, and by how much an observation may be off. */
interface Problem {
  readonly settings: Omit<SearchSettings, "seed">;
  readonly worth: (values: readonly number[]) => number;
  readonly sd: (worth: number) => number;
}

/** The mean number in line of M/M/c at an offered load of `a`, by Erlang's second formula; infinite where c ≤ a. */
function inLine(a: number, c: number): number {
  if (c <= a) return Infinity;
  let inverse = 1;
  for (let k = 1; k <= c; k++) inverse = 1 + (k / a) * inverse;
  const blocked = 1 / inverse;
  const waits = blocked / (1 - (a / c) * (1 - blocked));
  return (waits * a) / (c - a);
}

/** Staff of two desks, of which each costs a wage and each in line its time; six at least in both together. */
const staffing: Problem = {
  settings: {
    factors: [
      { kind: "whole", low: 1, high: 20 },
      { kind: "whole", low: 1, high: 20 },
    ],
    constraints: [{ coefficients: [1, 1], most: 24 }],
    better: "less",
    budget: 2000,
    indifference: 3,
    p: 0.95,
  },
  worth: ([c, d]) => 10 * (c + d) + 25 * (Math.min(40, inLine(4.2, c)) + Math.min(40, inLine(6.7, d))),
  sd: (worth) => 0.05 * worth,
};

/** A bowl on a grid of whole numbers, its bottom off the middle. */
const bowl: Problem = {
  settings: {
    factors: [
      { kind: "whole", low: -20, high: 20 },
      { kind: "whole", low: -20, high: 20 },
      { kind: "whole", low: -20, high: 20 },
    ],
    constraints: [],
    better: "less",
    budget: 3000,
    indifference: 1,
    p: 0.95,
  },
  worth: ([x, y, z]) => 100 + (x - 7) ** 2 + (y + 11) ** 2 + (z - 2) ** 2,
  sd: () => 3,
};

export const SEARCH_PROBLEMS = { staffing, bowl } as const;

/** The best there is, by trying all. */
export function bestOf({ settings, worth }: Problem): number {
  const { factors } = settings;
  let best = Infinity;
  const go = (point: number[]) => {
    const factor = factors[point.length];
    if (!factor) {
      if (isAllowed(point, settings))
        best = Math.min(best, worth(point.map((step, f) => searchValue(factors[f], step))));
      return;
    }
    if (factor.kind === "whole") for (let step = 0; step <= factor.high - factor.low; step++) go([...point, step]);
  };
  go([]);
  return best;
}

/** Searches once; how far from the best it ends, as a share, and what it took. */
export function searched(problem: Problem, seed: number): { readonly off: number; readonly spent: number } {
  const settings: SearchSettings = { ...problem.settings, seed };
  const uniform = openStreams(seed, 1).stream(3).uniform();
  const normal = () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
  const history: (Tried & { readonly values: number[] })[] = [];
  const common: number[] = [];
  const worthOf = (point: readonly number[]) =>
    problem.worth(point.map((step, f) => searchValue(settings.factors[f], step)));
  for (;;) {
    const { wanted, phase, best } = searchStep(history, settings);
    if (phase === "over") {
      const spent = history.reduce((sum, { values }) => sum + values.length, 0);
      const optimum = bestOf(problem);
      return { off: best === undefined ? Infinity : (worthOf(wanted[best].point) - optimum) / optimum, spent };
    }
    wanted.forEach(({ point, replications }, i) => {
      history[i] ??= { values: [] };
      const worth = worthOf(point);
      while (history[i].values.length < replications) {
        const r = history[i].values.length;
        // Half of what observations vary by is common to all places.
        while (common.length <= r) common.push(normal());
        const noise = Math.SQRT1_2 * (common[r] + normal());
        history[i].values.push(worth + problem.sd(worth) * noise);
      }
    });
  }
}
