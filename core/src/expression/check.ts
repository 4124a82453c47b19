import type { Checking, Found } from "./checking.ts";
import { pow } from "../numeric/elementary.ts";
import { type Distribution, distributions, drawer } from "../random/distributions.ts";
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
import { familyNamed, memberProperty, memberTarget, memberTerm } from "./familyTerms.ts";
import { functions } from "./functions.ts";
import { drawingNames, LIST_DISTRIBUTIONS, listDistribution, listTerm, nthTerm } from "./lists.ts";
import { parseExpression } from "./parser.ts";
import { writeName } from "./rename.ts";
import { closestName, type Meaning, type Scope } from "./scope.ts";
import type { BinaryOperator, Node, UnitExpression } from "./syntax.ts";
import type { Read } from "./read.ts";
import type { Write } from "./running.ts";
import {
  cell,
  cellTarget,
  columnNamed,
  columnTerm,
  lookUp,
  ofRowsNamed,
  overRows,
  ROW_FUNCTIONS,
  tableNamed,
  valueOfRow,
} from "./tableTerms.ts";
import type { TableSource } from "./tables.ts";
import {
  type Checked,
  CheckProblem,
  type Environment,
  constantTerm,
  derived,
  dimensionOf,
  fail,
  type Term,
} from "./term.ts";
import { type ExpressionProblem, numberOf, PLAIN, sameType, TEXT, typeName, type ValueType, YES_NO } from "./types.ts";

export type CheckResult =
  | { readonly ok: true; readonly checked: Checked }
  | { readonly ok: false; readonly problems: readonly ExpressionProblem[] };

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

interface RowOf {
  readonly term: Term;
  readonly table: TableSource;
}

class Checker implements Checking {
  private readonly rows = new Map<Node, RowOf | undefined>();

  constructor(
    readonly scope: Scope,
    readonly found: Found = { sources: [], tables: [] },
  ) {}

  within(scope: Scope): Checking {
    return new Checker(scope, this.found);
  }

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
        return this.property(node);
      case "list":
        return listTerm(node, this);
      case "index": {
        const family = familyNamed(node.of, this);
        if (family) return memberTerm(node, family, this);
        const ofRows = ofRowsNamed(node.of, this);
        if (ofRows) return valueOfRow(node, ofRows, this);
        const table = tableNamed(node.of, this);
        return table ? lookUp(node, table, this) : nthTerm(node, this.term(node.of), this);
      }
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

  private property(node: Node & { kind: "property" }): Term {
    const table = tableNamed(node.of, this);
    if (table) return columnTerm(table, columnNamed(node, table, this), this);
    const member = memberProperty(node, this);
    if (member) return member;
    const row = this.row(node.of);
    if (!row) return this.read(node, this.meaning(node));
    return cell(node, row.term, row.table, columnNamed(node, row.table, this), this);
  }

  /** What a node yields, where that is a row of a table; known once asked for, as each part of a path asks for it. */
  private row(node: Node): RowOf | undefined {
    if (!this.rows.has(node)) this.rows.set(node, this.findRow(node));
    return this.rows.get(node);
  }

  private findRow(node: Node): RowOf | undefined {
    if (node.kind === "name" || node.kind === "property") {
      // A name that nobody knows is told of where the whole of it is read.
      if (node.kind === "name" && !this.scope.find(node.name)) return undefined;
      const isOfRow = node.kind === "property" && (tableNamed(node.of, this) ?? this.row(node.of));
      if (!isOfRow && this.meaning(node).type.kind !== "row") return undefined;
    } else if (node.kind !== "index" && node.kind !== "call") return undefined;
    else if (node.kind === "index" && familyNamed(node.of, this)) return undefined;
    const term = this.term(node);
    const table = term.type.kind === "row" ? this.scope.find(term.type.table.name)?.table : undefined;
    return table && { term, table };
  }

  /** What is set where a node stands as the target of a step. */
  target(node: Node): Omit<Target, "source" | "sources"> {
    const refuse = (message: string) =>
      fail(
        node,
        message,
        "What can be set: an attribute of the entity, of an element, a variable, a cell of a table, and what this procedure calls by a name.",
      );
    if (node.kind !== "name" && node.kind !== "property") return refuse("This cannot be set.");
    const cell = node.kind === "property" ? cellTarget(node, this) : undefined;
    if (cell) return cell;
    const member = node.kind === "property" ? memberTarget(node, this) : undefined;
    if (member) {
      const { position, of } = member;
      const writers = of.map(({ source }) => source?.writer?.bind(source) ?? refuse("This is measured, not set."));
      return {
        type: of[0].type,
        compile: (environment) => {
          const at = position.compile(environment);
          const writes = writers.map((writer) => writer(environment.running));
          return (token, value) => writes[at(token)]?.(token, value);
        },
      };
    }
    const { type, source } = this.meaning(node);
    const writer = source?.writer?.bind(source) ?? refuse("This can be read, and not set.");
    return { type, compile: ({ running }) => writer(running) };
  }

  private meaning(node: Node): Meaning {
    if (node.kind === "name") {
      const found = this.scope.find(node.name);
      if (found) return found;
      const close = closestName(node.name, [...this.scope.names(), ...CALLED()]);
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
    const { source, local, list, ofRows, isBroken } = meaning;
    if (isBroken) return fail(node, "Its first value cannot be read.", "Mend it where it stands.");
    if (list) return { type: meaning.type, draws: false, list, compile: () => () => Number.NaN };
    if (ofRows) return columnTerm(ofRows.table, ofRows.column, this);
    if (local) return { type: meaning.type, draws: false, compile: () => local };
    if (!source) {
      const names = [...(meaning.properties?.keys() ?? [])];
      return fail(
        node,
        `This is ${typeName(meaning.type)}, not a value.`,
        names.length > 0 ? `Ask for one of its properties: ${names.map((x) => `.${x}`).join(", ")}.` : undefined,
      );
    }
    this.found.sources.push(source);
    return { type: meaning.type, draws: false, compile: (environment) => source.reader(environment.running) };
  }

  condition(node: Node): Term {
    const term = this.term(node);
    if (term.type.kind !== "yesNo")
      fail(
        node,
        `A condition is wanted here; this is ${typeName(term.type)}.`,
        "Compare it with something, for example with > 0.",
      );
    return term;
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
    if ((LIST_DISTRIBUTIONS as readonly string[]).includes(node.name)) return listDistribution(node, this);
    if ((ROW_FUNCTIONS as readonly string[]).includes(node.name)) return overRows(node, this);
    const distribution = distributions.get(node.name);
    if (distribution) return this.draw(node, distribution);
    const fn = functions.get(node.name);
    if (!fn) {
      const close = closestName(node.name, CALLED());
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
}

/** Names of all that can be called. */
const CALLED = (): string[] => ["if", ...ROW_FUNCTIONS, ...drawingNames(), ...functions.keys()];

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
/** The same where a table as a whole will do too: its rows. */
export function checkCollection(source: string, scope: Scope): CheckResult {
  const { node } = parseExpression(source);
  const table = node?.kind === "name" ? scope.find(node.name)?.table : undefined;
  if (!node || !table) return checkExpression(source, scope);
  return {
    ok: true,
    checked: {
      source,
      type: { kind: "table" },
      draws: false,
      sources: [],
      tables: [{ table: table.id, start: node.start, end: node.end }],
      compile: () => () => Number.NaN,
    },
  };
}

/** Something that a step sets. */
export interface Target {
  readonly source: string;
  readonly type: ValueType;
  /** What is read to know which it is. */
  readonly sources: Checked["sources"];
  compile(environment: Environment): Write;
}

/** Checks what stands as the target of a step that sets it: a name, a property, or that of a member of a family. */
export function checkTarget(
  source: string,
  scope: Scope,
):
  | { readonly ok: true; readonly target: Target }
  | { readonly ok: false; readonly problems: readonly ExpressionProblem[] } {
  const { node, problems } = parseExpression(source);
  if (!node) return { ok: false, problems };
  try {
    const checker = new Checker(scope);
    const target = checker.target(node);
    return { ok: true, target: { ...target, source, sources: checker.found.sources } };
  } catch (error) {
    if (error instanceof CheckProblem) return { ok: false, problems: [error.problem] };
    throw error;
  }
}

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
      list: term.list,
      sources: checker.found.sources,
      tables: checker.found.tables,
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
