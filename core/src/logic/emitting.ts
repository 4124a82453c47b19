import type { Checked, Read, Write } from "../expression/index.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Phase } from "../lowering/places.ts";
import type { StepModel } from "../model/logic.ts";
import type { Node } from "../model/model.ts";
import type { Claims } from "./claims.ts";
import type { Holdings } from "./holdings.ts";
import type { Locals } from "./locals.ts";
import type { Movements } from "./movements.ts";
import type { Recorders } from "./recorders.ts";
import type { Signals } from "./signals.ts";
import type { Waits } from "./waits.ts";

/** What the logic of a running model shares. */
export interface Parts {
  readonly lowering: Lowering;
  readonly locals: Locals;
  readonly claims: Claims;
  readonly signals: Signals;
  readonly waits: Waits;
  readonly holdings: Holdings;
  readonly movements: Movements;
  readonly recorders: Recorders;
  /** The first step of a procedure, by its place; once all are emitted. */
  readonly procedures: Int32Array;
  /** What notes that a token begins a phase where it is. */
  readonly standingAt: (phase: Exclude<Phase, "moving">) => (token: number) => void;
  /** Begins a process of the system at a step, now; returns its token. */
  readonly startProcess: (pc: number) => number;
  /** Index of the element at which a token is; -1 for a process of the system. */
  readonly nodeOf: (token: number) => number;
  /** Whether something that steps may hold can be down or off shift. */
  readonly stops: boolean;
  /** The place of a procedure among all, by its id, and what it asks for. */
  readonly procedureIndex: (id: string) => number;
  readonly parametersOf: (index: number) => ReadonlyArray<{ readonly id: string }>;
  /** A token has come to a step at which watching stops. */
  readonly reached: (owner: string, step: StepModel, token: number) => void;
  /** A row is written into one of the tables of results, by its number. */
  readonly wrote: (table: number, values: Float64Array, token: number) => void;
  /** Where log lines go while watching. */
  readonly log: ((text: string, value: number, token: number) => void) | undefined;
}

/** Where steps are emitted: what stands before and after them. */
export interface Emitting extends Parts {
  /** Id of the procedure or rule that they are of, to which failures lead. */
  readonly id: string;
  /** The element whose rule it is. */
  readonly node: Node | undefined;
  /** Where it goes on, and where it does when the step did not come about. */
  readonly next: number;
  readonly otherwise: number;
  /** Where the loop around it ends, and where all steps do. */
  readonly leaveLoop: number;
  readonly end: number;
  /** Emits the steps under one, which lead to `next`. */
  under(steps: readonly StepModel[], next: number, more?: { readonly leaveLoop?: number }): number;
  /** The closure of a setting; `fallback` where it is empty. */
  read(step: StepModel, field: string, fallback?: number): Read;
  /** The same; undefined where it is empty. */
  optional(step: StepModel, field: string): Read | undefined;
  readOf(step: StepModel, field: string, checked: Checked): Read;
  write(step: StepModel, field: string): Write;
  /** Fails at a step. */
  fail(
    step: StepModel,
    field: string,
    code: "step-failed" | "invalid-count" | "instant-loop",
    message: string,
    hint?: string,
    value?: number,
  ): void;
}
