import type { StepModel } from "../model/logic.ts";
import type { Emitting } from "./emitting.ts";

/** Whether a number of things is one; fails at the step where it is not. */
export function isCount(n: number, step: StepModel, { fail }: Pick<Emitting, "fail">): boolean {
  if (Number.isInteger(n) && n >= 0) return true;
  fail(step, "count", "invalid-count", `gave ${n}, which is no whole number of 0 or more.`, "Use round(…).", n);
  return false;
}

/** Fails at a step that names no element into which entities come. */
export function failNoElement(step: StepModel, { fail }: Pick<Emitting, "fail">, named: number): void {
  const hint = "Name one such as a queue, a station or departures.";
  fail(step, "to", "step-failed", "named no element that entities come into.", hint, named);
}
