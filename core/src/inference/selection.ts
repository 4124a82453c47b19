import type { Better } from "./best.ts";
import { momentsOf, varianceOf } from "./groups.ts";
import { kimNelson } from "./kimNelson.ts";
import { rinottConstant, rinottReplications } from "./rinott.ts";

export const SELECTION_METHODS = ["kim and nelson", "rinott"] as const;

/** How the best of several systems is to be selected. */
export interface SelectionSettings {
  readonly method: (typeof SELECTION_METHODS)[number];
  readonly better: Better;
  /** Chance with which the best is to be selected, where it is better than all others by `indifference`. */
  readonly p: number;
  /** The smallest difference that matters. */
  readonly indifference: number;
  /** Replications of each system before any is put out. */
  readonly firstStage: number;
  /** Replications of a system at which the selection gives up. */
  readonly most: number;
}

/** How a selection stands, and what it needs to go on. */
export interface SelectionStep {
  /** By system, how many replications are wanted of it. */
  readonly wanted: readonly number[];
  /** By system, whether it may still be selected. */
  readonly inPlay: readonly boolean[];
  /** The system selected, once nothing more is wanted. */
  readonly selected: number | undefined;
  /** Whether the promised chance holds: not where the most replications were reached before it was told. */
  readonly holds: boolean;
}

/**
 * The next step of a selection by indifference zone, from the observations there are, in the order of their numbers;
 * those beyond what was wanted are not looked at. It depends on nothing else, so that a selection which was interrupted
 * goes on as if it had not been.
 */
export const selectionStep = (values: readonly (readonly number[])[], settings: SelectionSettings): SelectionStep =>
  settings.method === "rinott" ? rinottStep(values, settings) : kimNelsonStep(values, settings);

/** Two stages, of which the second is the longer the more a system varies (Rinott 1978). */
function rinottStep(
  values: readonly (readonly number[])[],
  { p, indifference, firstStage, most, better }: SelectionSettings,
): SelectionStep {
  const all = values.map(() => true);
  if (values.some((of) => of.length < firstStage))
    return { wanted: values.map(() => firstStage), inPlay: all, selected: undefined, holds: true };
  const h = rinottConstant(p, values.length, firstStage);
  const asked = values.map((of) =>
    rinottReplications(h, Math.sqrt(varianceOf(momentsOf(of.slice(0, firstStage)))), indifference, firstStage),
  );
  const wanted = asked.map((n) => Math.min(n, most));
  const isWhole = values.every((of, i) => of.length >= wanted[i]);
  const selected = isWhole ? bestOf(values, wanted, all, better) : undefined;
  return {
    wanted,
    inPlay: values.map((_, i) => selected === undefined || i === selected),
    selected,
    holds: asked.every((n) => n <= most),
  };
}

/**
 * Replications after which a fully sequential selection is looked at again: a tenth more. What is looked at less often
 * is put out wrongly no oftener (Jennison, Johnstone and Turnbull 1982).
 */
const nextLook = (r: number): number => r + Math.max(1, Math.floor(r / 10));

/** Fully sequential (Kim and Nelson 2001): systems are put out as soon as they are told to be worse. */
function kimNelsonStep(values: readonly (readonly number[])[], settings: SelectionSettings): SelectionStep {
  const { firstStage, most, better } = settings;
  const out = new Set<number>();
  const wanted = values.map(() => Math.min(firstStage, most));
  for (let r = Math.min(firstStage, most); ; r = Math.min(nextLook(r), most)) {
    const inPlay = values.map((_, i) => !out.has(i));
    inPlay.forEach((isIn, i) => isIn && (wanted[i] = r));
    if (values.some((of, i) => inPlay[i] && of.length < r)) return { wanted, inPlay, selected: undefined, holds: true };
    const seen = values.map((of) => of.slice(0, r));
    const { inPlay: left, selected } = kimNelson(seen, settings, out);
    const still = values.map((_, i) => left.includes(i));
    if (selected !== undefined) return { wanted, inPlay: still, selected, holds: true };
    if (r >= most) return { wanted, inPlay: still, selected: bestOf(values, wanted, still, better), holds: false };
    for (let i = 0; i < values.length; i++) if (!still[i]) out.add(i);
  }
}

/** The system with the best mean of what was wanted of it. */
function bestOf(
  values: readonly (readonly number[])[],
  wanted: readonly number[],
  inPlay: readonly boolean[],
  better: Better,
): number {
  let best = -1;
  let bestMean = Number.NaN;
  values.forEach((of, i) => {
    if (!inPlay[i]) return;
    const { mean } = momentsOf(of.slice(0, wanted[i]));
    if (best < 0 || (better === "more" ? mean > bestMean : mean < bestMean)) [best, bestMean] = [i, mean];
  });
  return best;
}
