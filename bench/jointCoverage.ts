import {
  bonferroni,
  dunnettOneSided,
  type Pair,
  type SelectionSettings,
  selectionStep,
  studentizedRangeQuantile,
  subsetOfBest,
  tukey,
  type WithBest,
  withBest,
} from "../core/src/inference/index.ts";
import { openStreams } from "../core/src/random/streams.ts";

const LEVEL = 0.95;
const REPLICATIONS = 10;
/** The smallest difference that matters, in deviations: the best is better by just that, the hardest case there is. */
const INDIFFERENCE = 0.5;
/** One ahead, all others alike: the slippage configuration. */
const MEANS = [0, 0, INDIFFERENCE, 0, 0];
const BEST = 2;
/** Deviations for selection, which has to bear with unequal ones. */
const DEVIATIONS = [0.7, 1.2, 1, 1.4, 0.9];

/** Standard normal numbers by Box and Muller's (1958) transform of one stream. */
function normals(seed: number): () => number {
  const uniform = openStreams(seed, 1).stream(1).uniform();
  let spare: number | undefined;
  return () => {
    if (spare !== undefined) {
      const value = spare;
      spare = undefined;
      return value;
    }
    const size = Math.sqrt(-2 * Math.log(uniform()));
    const angle = 2 * Math.PI * uniform();
    spare = size * Math.sin(angle);
    return size * Math.cos(angle);
  };
}

const pairsHold = (pairs: readonly Pair[]): boolean =>
  pairs.every(({ a, b, low, high }) => low <= MEANS[b] - MEANS[a] && MEANS[b] - MEANS[a] <= high);

const bestHold = (systems: readonly WithBest[]): boolean =>
  systems.every(({ low, high }, i) => {
    const truth = MEANS[i] - Math.max(...MEANS.filter((_, j) => j !== i));
    return low <= truth && truth <= high;
  });

/** Of so many trials on known normal systems, the share in which each method says what is so, in percent. */
export function jointCoverage(trials: number): Record<string, number> {
  const held = new Map<string, number>();
  const count = (name: string, holds: boolean) => held.set(name, (held.get(name) ?? 0) + (holds ? 1 : 0));
  const known = <F extends (...args: number[]) => number>(f: F): F => {
    const values = new Map<string, number>();
    return ((...args: number[]) => {
      const key = args.join();
      if (!values.has(key)) values.set(key, f(...args));
      return values.get(key)!;
    }) as F;
  };
  const [range, dunnett] = [known(studentizedRangeQuantile), known(dunnettOneSided)];
  for (let trial = 0; trial < trials; trial++) {
    const normal = normals(7000 + trial);
    const apart = MEANS.map((mean) => Array.from({ length: REPLICATIONS }, () => mean + normal()));
    count("joint-tukey", pairsHold(tukey(apart, LEVEL, range)));
    count("joint-bonferroni", pairsHold(bonferroni(apart, LEVEL, false)));
    count("joint-with-best", bestHold(withBest(apart, LEVEL, "more", false, dunnett)));
    count("subset", subsetOfBest(apart, LEVEL, "more", false)[BEST]);
    // Under common random numbers: what all have in common is twice as large as what each has of its own.
    const common = Array.from({ length: REPLICATIONS }, () => 2 * normal());
    const paired = MEANS.map((mean) => common.map((shared) => mean + shared + normal()));
    count("joint-bonferroni-paired", pairsHold(bonferroni(paired, LEVEL, true)));
    count("joint-with-best-paired", bestHold(withBest(paired, LEVEL, "more", true, dunnett)));
    count("subset-paired", subsetOfBest(paired, LEVEL, "more", true)[BEST]);
    count("rinott", selects("rinott", normal) === BEST);
    count("kim-nelson", selects("kim and nelson", normal) === BEST);
  }
  return Object.fromEntries([...held].map(([name, n]) => [name, (100 * n) / trials]));
}

/** Selects by the procedure that the product runs, from as many observations as it asks for. */
function selects(method: SelectionSettings["method"], normal: () => number): number {
  const settings: SelectionSettings = {
    method,
    p: LEVEL,
    indifference: INDIFFERENCE,
    firstStage: REPLICATIONS,
    better: "more",
    most: 1e6,
  };
  const values: number[][] = MEANS.map(() => []);
  // Rinott's systems are independent; for the sequential one they have something in common.
  const common: number[] = [];
  for (;;) {
    const { wanted, selected } = selectionStep(values, settings);
    if (selected !== undefined) return selected;
    while (common.length < Math.max(...wanted)) common.push(method === "rinott" ? 0 : normal());
    values.forEach((of, i) => {
      while (of.length < wanted[i]) of.push(MEANS[i] + common[of.length] + DEVIATIONS[i] * normal());
    });
  }
}
