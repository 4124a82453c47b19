import type { Checking } from "./checking.ts";
import { distributions, empiricalQuantile, weightedQuantile } from "../random/distributions.ts";
import { isNumber } from "../quantity/index.ts";
import type { Read } from "./read.ts";
import type { Node } from "./syntax.ts";
import { constantTerm, dimensionOf, type Environment, fail, isPlain, type ListTerm, type Term } from "./term.ts";
import { sameType, typeName } from "./types.ts";

/** A list as it is written, such as `[3 min, 5 min]`. */
export function listTerm(node: Node & { kind: "list" }, checking: Checking): Term {
  if (node.items.length === 0) fail(node, "A list needs at least one value.");
  const items = node.items.map((item) => checking.term(item));
  items.forEach((item, i) => {
    if (!sameType(item.type, items[0].type))
      fail(node.items[i], `This is ${typeName(item.type)}, but the list begins with ${typeName(items[0].type)}.`);
  });
  const list: ListTerm = {
    length: items.length,
    fixed: () => (items.every((item) => item.constant !== undefined) ? items.map((item) => item.constant!) : undefined),
    firstOpen: () => items.findIndex((item) => item.constant === undefined),
    read(environment) {
      const reads = items.map((item) => item.compile(environment));
      return (i, token) => reads[i](token);
    },
  };
  return {
    type: { kind: "list", of: items[0].type },
    draws: items.some((item) => item.draws),
    list,
    compile: () => () => Number.NaN,
  };
}

/** The n-th value of a list, from 1. */
export function nthTerm(node: Node & { kind: "index" }, of: Term, checking: Checking): Term {
  const { list, type } = of;
  if (type.kind !== "list" || !list)
    return fail(node.of, `Only a list or a table can be asked for a value by brackets; this is ${typeName(type)}.`);
  if (node.keys.length !== 1) fail(node, "One position is wanted in the brackets.");
  const key = checking.term(node.keys[0]);
  if (!isNumber(dimensionOf(node.keys[0], key))) fail(node.keys[0], "A position is a plain number, counted from 1.");
  const has = (position: number) => Number.isInteger(position) && position >= 1 && position <= list.length;
  const fixed = list.fixed();
  if (key.constant !== undefined && fixed && !of.draws && !key.draws)
    return constantTerm(type.of, has(key.constant) ? fixed[key.constant - 1] : Number.NaN);
  return {
    type: type.of,
    draws: of.draws || key.draws,
    compile(environment) {
      const at = key.compile(environment);
      const read = list.read(environment);
      return (token) => {
        const position = at(token);
        if (has(position)) return read(position - 1, token);
        environment.fault({
          code: "no-such-position",
          message: `gave position ${position} to a list of ${list.length}.`,
          hint: "Positions are whole numbers from 1.",
        });
        return Number.NaN;
      };
    },
  };
}

/** Distributions given by lists of values. */
export const LIST_DISTRIBUTIONS = ["discrete", "empirical", "resample"] as const;

const USAGE: Readonly<Record<(typeof LIST_DISTRIBUTIONS)[number], string>> = {
  discrete: '"discrete" takes a list of values and a list of weights: discrete([1, 2], [70 %, 30 %]).',
  empirical: '"empirical" takes one list of observations: empirical([3 min, 5 min, 9 min]).',
  resample: '"resample" takes one list of observations: resample([3 min, 5 min, 9 min]).',
};

/** `discrete([values], [weights])`, `empirical([observations])` and `resample([observations])`. */
export function listDistribution(node: Node & { kind: "call" }, checking: Checking): Term {
  const name = node.name as (typeof LIST_DISTRIBUTIONS)[number];
  if (node.args.length !== (name === "discrete" ? 2 : 1)) fail(node, USAGE[name]);
  const [values, weights] = node.args.map((arg) => fixedList(arg, checking));
  if (weights) return weighted(node, values, weights);
  // An empty cell is an observation that was not made.
  const observed = [...values.fixed].filter((value) => !Number.isNaN(value));
  if (observed.length === 0) fail(node.args[0], "There is no observation.");
  if (name === "resample") return weightedTerm(values.of, observed, new Array<number>(observed.length).fill(1));
  if (values.of.kind !== "number") fail(node.args[0], "Observations must be numbers.");
  const sorted = Float64Array.from(observed).sort();
  const steps = Math.max(1, sorted.length - 1);
  const mean =
    sorted.length === 1 ? sorted[0] : [...sorted].slice(1).reduce((sum, v, i) => sum + (v + sorted[i]) / 2 / steps, 0);
  return {
    type: values.of,
    draws: true,
    mean,
    compile: ({ random }) => drawing(random, (u) => empiricalQuantile(u, sorted)),
  };
}

function fixedList(arg: Node, checking: Checking) {
  const { type, list } = checking.term(arg);
  if (type.kind !== "list" || !list)
    return fail(arg, "A list in square brackets or a column of a table is wanted here.");
  const fixed = list.fixed();
  const open = fixed ? -1 : list.firstOpen();
  return {
    of: type.of,
    fixed: fixed ?? fail(arg.kind === "list" ? arg.items[open] : arg, "A fixed value is wanted here."),
  };
}

type FixedList = ReturnType<typeof fixedList>;

function weighted(node: Node & { kind: "call" }, values: FixedList, weights: FixedList): Term {
  if (weights.fixed.length !== values.fixed.length)
    fail(
      node,
      `There are ${values.fixed.length} values but ${weights.fixed.length} weights.`,
      "Give each value one weight.",
    );
  if (!isPlain(weights.of)) fail(node.args[1], "Weights are plain numbers.");
  const hole = values.fixed.findIndex((v) => Number.isNaN(v));
  if (hole >= 0) fail(node.args[0], `Value ${hole + 1} is empty.`, "Fill it in, or take its row out.");
  if (weights.fixed.some((w) => !(w >= 0)) || !weights.fixed.some((w) => w > 0))
    fail(node.args[1], "Weights must be 0 or more, and not all 0.");
  return weightedTerm(values.of, [...values.fixed], [...weights.fixed]);
}

function weightedTerm(of: Term["type"], values: readonly number[], weights: readonly number[]): Term {
  const total = weights.reduce((sum, w) => sum + w, 0);
  return {
    type: of,
    draws: true,
    mean: of.kind === "number" ? values.reduce((sum, v, i) => sum + (v * weights[i]) / total, 0) : undefined,
    compile: ({ random }) => drawing(random, weightedQuantile(values, weights)),
  };
}

export function drawing(random: Environment["random"], quantile: (u: number) => number): Read {
  const uniform = random().uniform();
  return () => quantile(uniform());
}

/** Names of all that draws. */
export const drawingNames = (): string[] => [...LIST_DISTRIBUTIONS, ...distributions.keys()];
