import { pow } from "../numeric/elementary.ts";

/** How a fully sequential selection stands. */
export interface Sequential {
  /** Positions of the systems still in play. */
  readonly inPlay: readonly number[];
  /** The one that is left, once it is alone. */
  readonly selected: number | undefined;
}

export interface SequentialSettings {
  /** Chance with which the best is to be selected. */
  readonly p: number;
  /** The smallest difference that matters. */
  readonly indifference: number;
  readonly firstStage: number;
  readonly better: "more" | "less";
}

/**
 * The fully sequential procedure of Kim and Nelson (2001), with c = 1: after a first stage, each further replication of
 * those in play may put systems out that are worse than another by more than a bound that closes with the number of
 * replications. It holds under common random numbers. `values` has, by system, the observations so far, equally many of
 * those in play; `out` those that were put out before.
 */
export function kimNelson(
  values: readonly (readonly number[])[],
  { p, indifference, firstStage, better }: SequentialSettings,
  out: ReadonlySet<number> = new Set(),
): Sequential {
  const k = values.length;
  const inPlay = values.flatMap((_, i) => (out.has(i) ? [] : [i]));
  if (inPlay.length === 1) return { inPlay, selected: inPlay[0] };
  const r = Math.min(...inPlay.map((i) => values[i].length));
  if (r < firstStage) return { inPlay, selected: undefined };
  const eta = 0.5 * pow((2 * (1 - p)) / (k - 1), -2 / (firstStage - 1)) - 0.5;
  const h2 = 2 * eta * (firstStage - 1);
  const sign = better === "more" ? 1 : -1;
  const mean = inPlay.map((i) => values[i].slice(0, r).reduce((sum, v) => sum + v, 0) / r);
  const left = inPlay.filter((i, a) =>
    inPlay.every((l, b) => {
      if (i === l) return true;
      const s2 = differenceVariance(values[i], values[l], firstStage);
      const bound = Math.max(0, (indifference / 2) * ((h2 * s2) / indifference ** 2 - r));
      return sign * (mean[a] - mean[b]) >= -bound / r;
    }),
  );
  return { inPlay: left, selected: left.length === 1 ? left[0] : undefined };
}

/** Most replications after which one is left for certain: where the bound has closed for every pair. */
export function mostSequential(
  values: readonly (readonly number[])[],
  { p, indifference, firstStage }: SequentialSettings,
): number {
  const k = values.length;
  const eta = 0.5 * pow((2 * (1 - p)) / (k - 1), -2 / (firstStage - 1)) - 0.5;
  const h2 = 2 * eta * (firstStage - 1);
  let most = firstStage;
  for (let i = 0; i < k; i++)
    for (let l = i + 1; l < k; l++)
      most = Math.max(
        most,
        Math.floor((h2 * differenceVariance(values[i], values[l], firstStage)) / indifference ** 2) + 1,
      );
  return most;
}

/** Variance of the differences of two systems over the first stage. */
function differenceVariance(a: readonly number[], b: readonly number[], n: number): number {
  let mean = 0;
  for (let i = 0; i < n; i++) mean += (a[i] - b[i]) / n;
  let squares = 0;
  for (let i = 0; i < n; i++) squares += (a[i] - b[i] - mean) ** 2;
  return squares / (n - 1);
}
