import type { ProcedureOf, RuleOf, StepBase } from "../document/logic.ts";
import type { Problem } from "../document/problem.ts";
import type { Checked, Scope, Target, ValueType } from "../expression/index.ts";
import type { AtHand } from "./atHand.ts";

/** A step that has been read. */
export interface StepModel {
  readonly step: StepBase;
  /** Where it stands in the design. */
  readonly path: Problem["path"];
  /** Checked settings by field, as an element's; those of a list's row as `values.a.to`. */
  readonly fields: ReadonlyMap<string, Checked>;
  /** What its settings name to be set, by field. */
  readonly targets: ReadonlyMap<string, Target>;
  /** Places among the values of a call of what it gives names to, by field. */
  readonly slots: ReadonlyMap<string, number>;
  readonly steps: readonly StepModel[];
  /** The row of a member that its settings which ask of members know as `who`. */
  readonly who: AtHand;
  /** What may be named in it. */
  readonly scope: Scope;
  /** What is called by names of the procedure there. */
  readonly locals: readonly Local[];
}

/** A value that a procedure calls by a name, and its place among those of a call. */
export interface Local {
  readonly name: string;
  readonly slot: number;
  readonly type: ValueType;
}

/** Steps with what they call by names of their own. */
export interface StepsModel {
  readonly steps: readonly StepModel[];
  /** How many values a call keeps. */
  readonly slots: number;
  /** Whether time may pass in them, or the entity may go elsewhere: then they are held to where that can be. */
  readonly takesTime: boolean;
}

export interface ProcedureModel extends StepsModel {
  readonly index: number;
  readonly procedure: ProcedureOf;
  /** In their order; their values have the first places of a call. */
  readonly parameters: ReadonlyArray<{ readonly id: string; readonly name: string; readonly type: ValueType }>;
  /** What it answers, where it does. */
  readonly answer: ValueType | undefined;
}

export interface RuleModel extends StepsModel {
  readonly index: number;
  readonly rule: RuleOf;
  /** Indices of the elements whose event it hears. */
  readonly nodes: readonly number[];
  /** Indices of the entity types whose event it hears. */
  readonly types: readonly number[];
  readonly condition: Checked | undefined;
  readonly every: Checked | undefined;
  readonly first: Checked | undefined;
  /** Seconds of the day, or of dates from 1970 on as the clock on the wall has them, rising. */
  readonly times: readonly number[];
  /** What is followed. */
  readonly value: Checked | undefined;
}

/** A table of results, into which steps write rows. */
export interface Written {
  readonly name: string;
  readonly columns: ReadonlyArray<{ readonly name: string; readonly type: ValueType }>;
}

/** The logic of a design; what is switched off or of no use is left out. */
export interface LogicModel {
  readonly procedures: readonly ProcedureModel[];
  readonly rules: readonly RuleModel[];
  /** Properties of elements that steps set, by their names in small letters: `capacity`. */
  readonly sets: ReadonlySet<string>;
  /** Whether steps look through lines, or have somebody leave one or stand elsewhere in it. */
  readonly usesLines: boolean;
  /** Whether steps reserve units of stock points. */
  readonly reserves: boolean;
  /** By the id of a resource, or of a family of such: names of the procedures and rules of which steps name it. */
  readonly namedBy: ReadonlyMap<string, readonly string[]>;
  /** Tables that steps write rows into. */
  readonly written: readonly Written[];
  /** What is recorded into each measure that steps record into, by its id. */
  readonly recorded: ReadonlyMap<string, ValueType>;
  /** Entities that steps send from one element (-1: from anywhere) to another, and which are born or made where. */
  readonly sends: ReadonlyArray<{ readonly from: number; readonly to: number; readonly type?: number }>;
}
