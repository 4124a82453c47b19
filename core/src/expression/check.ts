import { pow } from "../numeric/elementary.ts";
import type { RandomStream } from "../random/randomStream.ts";
import {
  distributions,
  drawer,
  empiricalQuantile,
  weightedQuantile,
  type Distribution,
} from "../random/distributions.ts";
import {
  dimensionName,
  dimensionSymbol,
  divideDimensions,
  findUnit,
  formatDuration,
  isNumber,
  multiplyDimensions,
  NUMBER,
  powerDimension,
  RATE,
  sameDimension,
  TIME,
  type Dimension,
} from "../quantity/index.ts";
import { functions } from "./functions.ts";
import { parseExpression } from "./parser.ts";
import { writeName } from "./rename.ts";
import type { Running, Source } from "./running.ts";
import { closestName, type Meaning, type Scope } from "./scope.ts";
import type { BinaryOperator, Node, UnitExpression } from "./syntax.ts";
import type { Read } from "./read.ts";
import { type ExpressionProblem, numberOf, PLAIN, sameType, TEXT, typeName, type ValueType, YES_NO } from "./types.ts";

/** What compiled expressions need of a running replication. */
export interface Environment {
  readonly running: Running;
  /** The stream to draw from; asked for only by what draws. */
  random(): Pick<RandomStream, "uniform" | "exponential">;
}

/** A checked expression: its type, whether it draws, its value where that is fixed, and how to make its closure. */
export interface Checked {
  readonly source: string;
  readonly type: ValueType;
  readonly draws: boolean;
  readonly constant?: number;
  /** Mean of what it yields, in SI, where that is known without sampling. */
  readonly mean?: number;
  /** What it reads of a running model, each as often as it is named. */
  readonly sources: readonly Source[];
  compile(environment: Environment): Read;
}

export type CheckResult =
  | { readonly ok: true; readonly checked: Checked }
  | { readonly ok: false; readonly problems: readonly ExpressionProblem[] };

interface Term {
  readonly type: ValueType;
  readonly draws: boolean;
  readonly constant?: number;
  readonly mean?: number;
  readonly elements?: readonly Term[];
  readonly compile: (environment: Environment) => Read;
}

class CheckProblem extends Error {
  constructor(readonly problem: ExpressionProblem) {
    super(problem.message);
  }
}

const fail = (node: { start: number; end: number }, message: string, hint?: string, fix?: string): never => {
  throw new CheckProblem({ start: node.start, end: node.end, message, hint, fix });
};

const constantTerm = (type: ValueType, value: number): Term => ({
  type,
  draws: false,
  constant: value,
  mean: value,
  compile: () => () => value,
});

/** A term computed from others; folded to a constant when all its parts are. */
function derived(type: ValueType, parts: readonly Term[], build: (reads: Read[]) => Read): Term {
  const draws = parts.some((p) => p.draws);
  if (!draws && parts.every((p) => p.constant !== undefined)) {
    return constantTerm(type, build(parts.map((p) => p.compile(NO_ENVIRONMENT)))(0));
  }
  return { type, draws, compile: (environment) => build(parts.map((p) => p.compile(environment))) };
}

function drawing(random: Environment["random"], quantile: (u: number) => number): Read {
  const uniform = random().uniform();
  return () => quantile(uniform());
}

const NO_ENVIRONMENT: Environment = {
  running: {
    part: ({ name }) => {
      throw new Error(`A constant reads ${name}.`);
    },
  },
  random: () => ({ uniform: () => () => Number.NaN, exponential: () => () => Number.NaN }),
};

function unitOf(node: Node, unit: UnitExpression): { dimension: Dimension; factor: number } {
  let dimension = NUMBER;
  let factor = 1;
  for (const { symbol, power } of unit) {
    const found = findUnit(symbol) ?? fail(node, `"${symbol}" is not a unit.`);
    dimension = multiplyDimensions(dimension, powerDimension(found.dimension, power));
    factor *= wholePower(found.factor, power);
  }
  return { dimension, factor };
}

/** A power by multiplication, the same on every machine. */
function wholePower(base: number, power: number): number {
  let result = 1;
  for (let i = 0; i < Math.abs(power); i++) result *= base;
  return power < 0 ? 1 / result : result;
}

const dimensionOf = (node: Node, term: Term): Dimension =>
  term.type.kind === "number"
    ? term.type.dimension
    : fail(node, `A number is wanted here; this is ${typeName(term.type)}.`);

const ARITHMETIC: Partial<Record<BinaryOperator, (a: Read, b: Read) => Read>> = {
  "+": (a, b) => (t) => a(t) + b(t),
  "-": (a, b) => (t) => a(t) - b(t),
  "*": (a, b) => (t) => a(t) * b(t),
  "/": (a, b) => (t) => a(t) / b(t),
  "^": (a, b) => (t) => pow(a(t), b(t)),
  mod: (a, b) => (t) => {
    const divisor = b(t);
    const value = a(t);
    return value - Math.floor(value / divisor) * divisor;
  },
  "=": (a, b) => (t) => (a(t) === b(t) ? 1 : 0),
  "<>": (a, b) => (t) => (a(t) !== b(t) ? 1 : 0),
  "<": (a, b) => (t) => (a(t) < b(t) ? 1 : 0),
  "<=": (a, b) => (t) => (a(t) <= b(t) ? 1 : 0),
  ">": (a, b) => (t) => (a(t) > b(t) ? 1 : 0),
  ">=": (a, b) => (t) => (a(t) >= b(t) ? 1 : 0),
  is: (a, b) => (t) => (a(t) === b(t) ? 1 : 0),
  and: (a, b) => (t) => (a(t) !== 0 && b(t) !== 0 ? 1 : 0),
  or: (a, b) => (t) => (a(t) !== 0 || b(t) !== 0 ? 1 : 0),
};

class Checker {
  readonly sources: Source[] = [];

  constructor(private readonly scope: Scope) {}

  term(node: Node): Term {
    switch (node.kind) {
      case "number": {
        const { dimension, factor } = node.unit ? unitOf(node, node.unit) : { dimension: NUMBER, factor: 1 };
        return constantTerm(numberOf(dimension), node.value * factor);
      }
      case "text":
        return constantTerm(TEXT, this.scope.intern(node.value));
      case "yesNo":
        return constantTerm(YES_NO, node.value ? 1 : 0);
      case "name":
        return this.read(node, this.meaning(node));
      case "property":
        return this.read(node, this.meaning(node));
      case "list":
        return this.list(node);
      case "index":
        return this.index(node);
      case "negate": {
        const of = this.term(node.of);
        dimensionOf(node.of, of);
        return derived(
          of.type,
          [of],
          ([a]) =>
            (t) =>
              -a(t),
        );
      }
      case "not": {
        const of = this.condition(node.of);
        return derived(
          YES_NO,
          [of],
          ([a]) =>
            (t) =>
              a(t) === 0 ? 1 : 0,
        );
      }
      case "binary":
        return this.binary(node);
      case "call":
        return this.call(node);
    }
  }

  private meaning(node: Node): Meaning {
    if (node.kind === "name") {
      const found = this.scope.find(node.name);
      if (found) return found;
      const close = closestName(node.name, [...this.scope.names(), ...distributions.keys(), ...functions.keys()]);
      return fail(
        node,
        `Nothing here is called "${node.name}".`,
        close ? `Did you mean ${close}?` : "Check the spelling, or write text in double quotes.",
        close && writeName(close),
      );
    }
    if (node.kind === "property") {
      const of = this.meaning(node.of);
      const found = [...(of.properties ?? [])].find(([name]) => name.toLowerCase() === node.name.toLowerCase());
      if (found) return found[1];
      const names = [...(of.properties?.keys() ?? [])];
      const close = closestName(node.name, names);
      return fail(
        close ? { start: node.end - node.name.length, end: node.end } : node,
        `There is no ".${node.name}" here.`,
        names.length > 0 ? `There is ${names.map((x) => `.${x}`).join(", ")}.` : undefined,
        close,
      );
    }
    return fail(node, "Only a named thing has properties.");
  }

  private read(node: Node, meaning: Meaning): Term {
    if (meaning.constant !== undefined) return constantTerm(meaning.type, meaning.constant);
    const { source } = meaning;
    if (!source) {
      const names = [...(meaning.properties?.keys() ?? [])];
      return fail(
        node,
        `This is ${typeName(meaning.type)}, not a value.`,
        names.length > 0 ? `Ask for one of its properties: ${names.map((x) => `.${x}`).join(", ")}.` : undefined,
      );
    }
    this.sources.push(source);
    return { type: meaning.type, draws: false, compile: (environment) => source.reader(environment.running) };
  }

  private condition(node: Node): Term {
    const term = this.term(node);
    if (term.type.kind !== "yesNo")
      fail(
        node,
        `A condition is wanted here; this is ${typeName(term.type)}.`,
        "Compare it with something, for example with > 0.",
      );
    return term;
  }

  private list(node: Node & { kind: "list" }): Term {
    if (node.items.length === 0) fail(node, "A list needs at least one value.");
    const items = node.items.map((item) => this.term(item));
    items.forEach((item, i) => {
      if (!sameType(item.type, items[0].type))
        fail(node.items[i], `This is ${typeName(item.type)}, but the list begins with ${typeName(items[0].type)}.`);
    });
    return {
      type: { kind: "list", of: items[0].type },
      draws: items.some((item) => item.draws),
      elements: items,
      compile: () => () => Number.NaN,
    };
  }

  private index(node: Node & { kind: "index" }): Term {
    const list = this.term(node.of);
    if (list.type.kind !== "list" || !list.elements)
      return fail(node.of, `Only a list can be asked for its n-th value; this is ${typeName(list.type)}.`);
    if (node.keys.length !== 1) fail(node, "One position is wanted in the brackets.");
    const key = this.term(node.keys[0]);
    if (!isNumber(dimensionOf(node.keys[0], key))) fail(node.keys[0], "A position is a plain number, counted from 1.");
    return derived(list.type.of, [key, ...list.elements], ([at, ...items]) => (t) => {
      const position = at(t);
      return Number.isInteger(position) && position >= 1 && position <= items.length
        ? items[position - 1](t)
        : Number.NaN;
    });
  }

  private binary(node: Node & { kind: "binary" }): Term {
    const { operator } = node;
    const build = ([a, b]: Read[]) => ARITHMETIC[operator]!(a, b);
    if (operator === "and" || operator === "or") {
      return derived(YES_NO, [this.condition(node.left), this.condition(node.right)], build);
    }
    const left = this.term(node.left);
    const right = this.term(node.right);
    if (operator === "is" || operator === "=" || operator === "<>") {
      const comparable = sameType(left.type, right.type) && left.type.kind !== "list";
      if (!comparable) this.mismatch(node, left, right, "compared");
      return derived(YES_NO, [left, right], build);
    }
    const a = dimensionOf(node.left, left);
    const b = dimensionOf(node.right, right);
    switch (operator) {
      case "+":
      case "-":
      case "mod":
      case "<":
      case "<=":
      case ">":
      case ">=": {
        if (!sameDimension(a, b))
          this.mismatch(
            node,
            left,
            right,
            operator === "+"
              ? "added"
              : operator === "-"
                ? "subtracted"
                : operator === "mod"
                  ? "divided with a rest"
                  : "compared",
          );
        const compares = operator !== "+" && operator !== "-" && operator !== "mod";
        const term = derived(compares ? YES_NO : left.type, [left, right], build);
        if ((operator === "+" || operator === "-") && left.mean !== undefined && right.mean !== undefined) {
          return { ...term, mean: operator === "+" ? left.mean + right.mean : left.mean - right.mean };
        }
        return term;
      }
      case "*":
      case "/": {
        const dimension = operator === "*" ? multiplyDimensions(a, b) : divideDimensions(a, b);
        const term = derived(numberOf(dimension), [left, right], build);
        const scale =
          right.constant !== undefined
            ? left.mean
            : operator === "*" && left.constant !== undefined
              ? right.mean
              : undefined;
        if (scale === undefined) return term;
        const by = right.constant ?? left.constant!;
        return { ...term, mean: operator === "*" ? scale * by : scale / by };
      }
      case "^": {
        if (!isNumber(b)) fail(node.right, "A power must be a plain number.");
        if (isNumber(a)) return derived(PLAIN, [left, right], build);
        const power = right.constant;
        if (power === undefined || !Number.isInteger(power) || Math.abs(power) > 8)
          fail(node.right, "A quantity with a unit can only be raised to a fixed whole number.");
        return derived(numberOf(powerDimension(a, power!)), [left, right], build);
      }
    }
  }

  private mismatch(node: Node & { kind: "binary" }, left: Term, right: Term, verb: string): never {
    const plainSide = [left, right].find(
      (t) => t.type.kind === "number" && isNumber(t.type.dimension) && t.constant !== undefined,
    );
    return fail(
      node,
      `${typeName(left.type)} and ${typeName(right.type)} cannot be ${verb}.`.replace(/^./, (c) => c.toUpperCase()),
      plainSide && left.type.kind === "number" && right.type.kind === "number"
        ? `Give ${plainSide.constant} a unit.`
        : "Both sides must be of one kind.",
    );
  }

  private call(node: Node & { kind: "call" }): Term {
    if (node.name === "if") return this.choice(node);
    if (node.name === "discrete" || node.name === "empirical") return this.listDistribution(node);
    const distribution = distributions.get(node.name);
    if (distribution) return this.draw(node, distribution);
    const fn = functions.get(node.name);
    if (!fn) {
      const close = closestName(node.name, [
        "if",
        "discrete",
        "empirical",
        ...distributions.keys(),
        ...functions.keys(),
      ]);
      const where = { start: node.start, end: node.start + node.name.length };
      return fail(where, `There is no function "${node.name}".`, close ? `Did you mean ${close}?` : undefined, close);
    }
    const [least, most] = fn.arguments;
    if (node.args.length < least || node.args.length > most)
      fail(
        node,
        `"${node.name}" takes ${least === most ? least : `${least} to ${most}`} value${most === 1 ? "" : "s"}; ${node.args.length} given.`,
      );
    const args = node.args.map((arg) => this.term(arg));
    const dimension = fn.dimension(args.map((arg, i) => dimensionOf(node.args[i], arg)));
    if (!dimension) return fail(node, `"${node.name}" wants ${fn.wants}.`);
    return derived(numberOf(dimension), args, (reads) => {
      const [a, b] = reads;
      if (reads.length === 1) return (t) => fn.apply(a(t));
      if (reads.length === 2) return (t) => fn.apply(a(t), b(t));
      return (t) => fn.apply(...reads.map((read) => read(t)));
    });
  }

  private choice(node: Node & { kind: "call" }): Term {
    if (node.args.length !== 3) fail(node, `"if" takes a condition and two values: if(condition, then, otherwise).`);
    const condition = this.condition(node.args[0]);
    const yes = this.term(node.args[1]);
    const no = this.term(node.args[2]);
    if (!sameType(yes.type, no.type))
      fail(node, `The two outcomes must be of one kind; these are ${typeName(yes.type)} and ${typeName(no.type)}.`);
    return derived(
      yes.type,
      [condition, yes, no],
      ([c, a, b]) =>
        (t) =>
          c(t) !== 0 ? a(t) : b(t),
    );
  }

  private draw(node: Node & { kind: "call" }, distribution: Distribution): Term {
    const { parameters, optional = 0 } = distribution;
    const least = parameters.length - optional;
    if (node.args.length < least || node.args.length > parameters.length) {
      fail(
        node,
        `"${node.name}" takes ${parameters.map((p) => p.name).join(", ")}${optional ? ` (the last ${optional} may be left out)` : ""}; ${node.args.length} given.`,
        `Write ${node.name}(${parameters
          .slice(0, least)
          .map((p) => p.name)
          .join(", ")}).`,
      );
    }
    const args = node.args.map((arg) => this.term(arg));
    let dimension: Dimension | undefined;
    args.forEach((arg, i) => {
      const own = dimensionOf(node.args[i], arg);
      if (parameters[i].kind === "number") {
        if (!isNumber(own))
          fail(node.args[i], `The ${parameters[i].name} is a plain number; this is ${dimensionName(own)}.`);
      } else if (dimension === undefined) dimension = own;
      else if (!sameDimension(dimension, own)) {
        fail(
          node.args[i],
          `The ${parameters[i].name} must be ${dimensionName(dimension)} like the values before it; this is ${dimensionName(own)}.`,
          isNumber(own) ? "Give it a unit." : undefined,
        );
      }
    });
    const type = numberOf(distribution.result === "number" ? NUMBER : (dimension ?? NUMBER));
    const { quantile } = distribution;
    if (args.every((arg) => arg.constant !== undefined)) {
      const values = args.map((arg) => arg.constant!);
      const wrong = distribution.check(values);
      if (wrong) fail(node, `In ${node.name}, ${wrong}`);
      return {
        type,
        draws: true,
        mean: distribution.mean(values),
        compile: ({ random }) => {
          if (distribution.name === "exponential") return random().exponential(values[0]);
          const uniform = random().uniform();
          const draw = drawer(distribution, values);
          return () => draw(uniform());
        },
      };
    }
    const missing: Read = () => NaN;
    return {
      type,
      draws: true,
      compile: (environment) => {
        const reads = args.map((arg) => arg.compile(environment));
        const [a, b, c, d] = [...reads, missing, missing, missing, missing];
        const uniform = environment.random().uniform();
        const given = reads.length;
        return (t) => {
          const u = uniform();
          const values = [a(t), b(t), c(t), d(t)];
          if (distribution.check(values.slice(0, given)) !== undefined) return NaN;
          return quantile(u, values[0], values[1], values[2], values[3]);
        };
      },
    };
  }

  /** `discrete([values], [weights])` and `empirical([observations])`. */
  private listDistribution(node: Node & { kind: "call" }): Term {
    const wanted = node.name === "discrete" ? 2 : 1;
    if (node.args.length !== wanted)
      fail(
        node,
        node.name === "discrete"
          ? '"discrete" takes a list of values and a list of weights: discrete([1, 2], [70 %, 30 %]).'
          : '"empirical" takes one list of observations: empirical([3 min, 5 min, 9 min]).',
      );
    const lists = node.args.map((arg) => {
      const list = this.term(arg);
      if (list.type.kind !== "list" || !list.elements) return fail(arg, "A list in square brackets is wanted here.");
      return {
        of: list.type.of,
        values: list.elements.map(
          (item, i) =>
            item.constant ?? fail((arg as Node & { kind: "list" }).items[i], "A fixed value is wanted here."),
        ),
      };
    });
    const [{ of, values }, weights] = lists;
    if (weights) {
      if (weights.values.length !== values.length)
        fail(
          node,
          `There are ${values.length} values but ${weights.values.length} weights.`,
          "Give each value one weight.",
        );
      if (!sameType(weights.of, PLAIN)) fail(node.args[1], "Weights are plain numbers.");
      if (weights.values.some((w) => !(w >= 0)) || !weights.values.some((w) => w > 0))
        fail(node.args[1], "Weights must be 0 or more, and not all 0.");
      const total = weights.values.reduce((sum, w) => sum + w, 0);
      const mean =
        of.kind === "number" ? values.reduce((sum, v, i) => sum + (v * weights.values[i]) / total, 0) : undefined;
      return {
        type: of,
        draws: true,
        mean,
        compile: ({ random }) => drawing(random, weightedQuantile(values, weights.values)),
      };
    }
    if (of.kind !== "number") fail(node.args[0], "Observations must be numbers.");
    const sorted = [...values].sort((x, y) => x - y);
    const steps = Math.max(1, sorted.length - 1);
    const mean =
      sorted.length === 1 ? sorted[0] : sorted.slice(1).reduce((sum, v, i) => sum + (v + sorted[i]) / 2 / steps, 0);
    return {
      type: of,
      draws: true,
      mean,
      compile: ({ random }) => drawing(random, (u) => empiricalQuantile(u, sorted)),
    };
  }
}

/** The unit that is likely meant where none is written, by the dimension wanted. */
const LIKELY_UNITS: Readonly<Record<string, readonly [unit: string, others: string]>> = {
  s: ["min", "s, min or h"],
  m: ["m", "m or ft"],
  "m/s": ["m/s", "m/s or km/h"],
  kg: ["kg", "kg or t"],
};

/** A hint for the commonest slips where a quantity is wanted, and what to write instead. */
function mendFor(found: Checked, expected: ValueType): Pick<ExpressionProblem, "hint" | "fix"> {
  if (found.type.kind !== "number" || expected.kind !== "number") return {};
  const wantsTime = sameDimension(expected.dimension, TIME);
  if (wantsTime && sameDimension(found.type.dimension, RATE)) {
    const value = found.constant;
    const between = value !== undefined && value > 0 ? formatDuration(1 / value) : undefined;
    if (!between) return { hint: "Write the time from one to the next: 1 divided by the rate." };
    return {
      hint: `Write the time from one to the next: exponential(${between}) for random spacing, ${between} for even spacing.`,
      fix: `exponential(${between})`,
    };
  }
  const likely = LIKELY_UNITS[dimensionSymbol(expected.dimension)];
  if (!likely || !isNumber(found.type.dimension) || found.constant === undefined) return {};
  const source = found.source.trim();
  return {
    hint: `Add a unit: ${source} ${likely[1]}.`,
    fix: /^[\d.]+$/.test(source) ? `${source} ${likely[0]}` : `(${source}) * 1 ${likely[0]}`,
  };
}

/**
 * Reads and checks an expression against the type its place wants. Never throws.
 * `expected` undefined accepts any type.
 */
export function checkExpression(source: string, scope: Scope, expected?: ValueType): CheckResult {
  const { node, problems } = parseExpression(source);
  if (!node) return { ok: false, problems };
  try {
    const checker = new Checker(scope);
    const term = checker.term(node);
    const checked: Checked = {
      source,
      type: term.type,
      draws: term.draws,
      constant: term.constant,
      mean: term.mean,
      sources: checker.sources,
      compile: term.compile,
    };
    if (expected && !sameType(term.type, expected)) {
      const end = Math.max(source.trimEnd().length, 1);
      return {
        ok: false,
        problems: [
          {
            start: 0,
            end,
            message: `This is ${typeName(term.type)}; ${typeName(expected)} is wanted.`,
            ...mendFor(checked, expected),
          },
        ],
      };
    }
    if (term.constant !== undefined && !Number.isFinite(term.constant)) {
      return {
        ok: false,
        problems: [
          {
            start: 0,
            end: source.length,
            message: "This has no finite value.",
            hint: "Look for a division by zero or a root of a negative number.",
          },
        ],
      };
    }
    return { ok: true, checked };
  } catch (error) {
    if (error instanceof CheckProblem) return { ok: false, problems: [error.problem] };
    throw error;
  }
}
