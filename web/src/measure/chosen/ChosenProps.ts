import { type MeasureInfo, specOf } from "@busy-harbor/core";
import type { KeptInRun, RunSummary } from "@busy-harbor/core/contract";
import type { Reading } from "../readings.ts";

/** What a drawing of what was kept is given. */
export interface ChosenProps {
  readonly run: RunSummary;
  readonly kept: KeptInRun;
  /** Position of what is drawn among what is kept. */
  readonly source: number;
  readonly reading: Reading;
  /** Confidence level of intervals. */
  readonly level: number;
  /** All measures of the run. */
  readonly readings: readonly Reading[];
}

/** What all the figures of a measure are of, without the one that is chosen of them. */
export function nameOf({ label, ...measure }: MeasureInfo): string {
  const { part } = measure;
  const ending = part === undefined ? "" : (specOf(measure)?.parts?.[part] ?? "");
  const isState = measure.measure === "state";
  return ending !== "" && !isState && label.endsWith(ending) ? label.slice(0, -ending.length) : label;
}

/** The same, with whose it is. */
export const titleOf = (measure: MeasureInfo): string => `${measure.owner}: ${nameOf(measure)}`;

/** Changes with all that is kept: what was read before is read anew once the run is over. */
export const versionOf = ({ id, state }: RunSummary): string =>
  `${id} ${state === "running" || state === "queued" ? "under way" : "over"}`;
