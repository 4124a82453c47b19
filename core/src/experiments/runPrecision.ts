import type { Problem } from "../document/problem.ts";
import type { RunSettings } from "../document/runSettings.ts";
import type { Precision } from "../inference/precision.ts";
import type { MeasureInfo } from "../measures/info.ts";
import { constantOf } from "./constant.ts";

/** What a run goes on for, read against what is measured in it. */
export interface RunPrecision {
  readonly goals: readonly {
    /** Of its measure in a result's values. */
    readonly position: number;
    readonly precision: Precision;
  }[];
  readonly level: number;
  readonly most: number;
}

export type PrecisionRead = {
  /** Undefined where none is wanted, or where it cannot be read. */
  readonly precision: RunPrecision | undefined;
  readonly problems: readonly Problem[];
};

/** Reads the precision that a run is to reach; what is wrong with it is told at its place in the run settings. */
export function readPrecision(settings: RunSettings, measures: readonly MeasureInfo[]): PrecisionRead {
  const { precision: wanted, level, kind } = settings;
  if (!wanted) return { precision: undefined, problems: [] };
  const problems: Problem[] = [];
  const refuse = (goal: number, field: string, message: string, hint: string) =>
    problems.push({
      code: "precision",
      severity: "error",
      message,
      hint,
      path: ["run", "precision", "goals", goal, field],
      field: `precision.${goal}.${field}`,
    });
  if (kind === "long")
    refuse(0, "measure", "One long run cannot go on until a precision is reached.", "Choose replications as its type.");
  const goals = wanted.goals.flatMap(({ measure, to, relative }, i) => {
    const position = measures.findIndex(({ key }) => key === measure);
    if (position < 0) {
      refuse(i, "measure", "The design has no such measure.", "Choose another.");
      return [];
    }
    const amount = constantOf(to);
    const dimension = relative ? "0,0,0,0" : measures[position].dimension.join();
    if (!amount || amount.dimension.join() !== dimension || !(amount.value > 0)) {
      refuse(
        i,
        "to",
        `"${to}" is no half-width of ${measures[position].label.toLowerCase()}.`,
        EXAMPLES[Number(relative)],
      );
      return [];
    }
    return [{ position, precision: relative ? { relative: amount.value } : { halfWidth: amount.value } }];
  });
  return { precision: problems.length > 0 ? undefined : { goals, level, most: wanted.most }, problems };
}

const EXAMPLES = ["Write an amount above 0 in units of the measure, such as 30 s.", "Write a share such as 5 %."];
