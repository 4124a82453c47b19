import { type Dimension, NUMBER } from "../quantity/index.ts";
import type { RandomStream } from "../random/randomStream.ts";
import type { Read } from "./read.ts";
import type { Running, Source } from "./running.ts";
import type { Node } from "./syntax.ts";
import type { TableUse } from "./tableUse.ts";
import { type ExpressionProblem, typeName, type ValueType } from "./types.ts";

/** What an expression finds wrong while a model runs. */
export interface Fault {
  readonly code: "no-row" | "no-value" | "no-such-position";
  readonly message: string;
  readonly hint: string;
}

/** What compiled expressions need of a running replication. */
export interface Environment {
  readonly running: Running;
  /** The stream to draw from; asked for only by what draws. */
  random(): Pick<RandomStream, "uniform" | "exponential">;
  /** Ends the replication: there is no value, such as for a row that no table has. */
  fault(fault: Fault): void;
}

/** A checked expression: its type, whether it draws, its value where that is fixed, and how to make its closure. */
export interface Checked {
  readonly source: string;
  readonly type: ValueType;
  readonly draws: boolean;
  readonly constant?: number;
  /** Mean of what it yields, in SI, where that is known without sampling. */
  readonly mean?: number;
  /** Its values, where it is a list. */
  readonly list?: ListTerm;
  /** What it reads of a running model, each as often as it is named. */
  readonly sources: readonly Source[];
  /** Where it names tables, their columns and their rows. */
  readonly tables: readonly TableUse[];
  compile(environment: Environment): Read;
}

/** The values of a list, or of a column of a table. */
export interface ListTerm {
  readonly length: number;
  /** Its values where all are fixed, NaN where a table has none; undefined where one is not. */
  fixed(): readonly number[] | Float64Array | undefined;
  /** Position of the first that is not fixed. */
  firstOpen(): number;
  /** The i-th value, from 0, of an entity. */
  read(environment: Environment): (i: number, token: number) => number;
}

/** A part of an expression that has been checked. */
export interface Term {
  readonly type: ValueType;
  readonly draws: boolean;
  readonly constant?: number;
  readonly mean?: number;
  readonly list?: ListTerm;
  readonly compile: (environment: Environment) => Read;
}

export class CheckProblem extends Error {
  constructor(readonly problem: ExpressionProblem) {
    super(problem.message);
  }
}

export const fail = (node: { start: number; end: number }, message: string, hint?: string, fix?: string): never => {
  throw new CheckProblem({ start: node.start, end: node.end, message, hint, fix });
};

export const constantTerm = (type: ValueType, value: number): Term => ({
  type,
  draws: false,
  constant: value,
  mean: value,
  compile: () => () => value,
});

/** A term computed from others; folded to a constant when all its parts are. */
export function derived(type: ValueType, parts: readonly Term[], build: (reads: Read[]) => Read): Term {
  const draws = parts.some((p) => p.draws);
  if (!draws && parts.every((p) => p.constant !== undefined)) {
    return constantTerm(type, build(parts.map((p) => p.compile(NO_ENVIRONMENT)))(0));
  }
  return { type, draws, compile: (environment) => build(parts.map((p) => p.compile(environment))) };
}

/** For constants, which read and draw nothing. */
export const NO_ENVIRONMENT: Environment = {
  running: {
    part: ({ name }) => {
      throw new Error(`A constant reads ${name}.`);
    },
  },
  random: () => ({ uniform: () => () => Number.NaN, exponential: () => () => Number.NaN }),
  fault: () => undefined,
};

export const dimensionOf = (node: Node, term: Term): Dimension =>
  term.type.kind === "number"
    ? term.type.dimension
    : fail(node, `A number is wanted here; this is ${typeName(term.type)}.`);

export const isPlain = (type: ValueType): boolean =>
  type.kind === "number" && type.dimension.every((power, i) => power === NUMBER[i]);
