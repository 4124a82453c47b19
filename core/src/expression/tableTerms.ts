import type { Checking } from "./checking.ts";
import { weightedQuantile } from "../random/distributions.ts";
import { drawing } from "./lists.ts";
import type { Read } from "./read.ts";
import { closestName, type Meaning, nameKey, type Scope, within } from "./scope.ts";
import type { Node } from "./syntax.ts";
import { CELLS, cellsId, type ColumnSource, type TableSource } from "./tables.ts";
import { constantTerm, type Environment, fail, type Fault, isPlain, NO_ENVIRONMENT, type Term } from "./term.ts";
import { numberOf, PLAIN, sameType, typeName, type ValueType } from "./types.ts";

export const rowType = (table: TableSource): ValueType => ({ kind: "row", table: { id: table.id, name: table.name } });

/** The table that a node names, if it names one. */
export function tableNamed(node: Node, { scope, found }: Checking): TableSource | undefined {
  const table = node.kind === "name" ? scope.find(node.name)?.table : undefined;
  if (table) found.tables.push({ table: table.id, start: node.start, end: node.end });
  return table;
}

/** What has a value for each row of a table, if a node names it. */
export const ofRowsNamed = (node: Node, { scope }: Checking): Meaning["ofRows"] =>
  node.kind === "name" ? scope.find(node.name)?.ofRows : undefined;

/** `Stock["North"]`: the value for the row of a key. */
export function valueOfRow(
  node: Node & { kind: "index" },
  { table, column }: NonNullable<Meaning["ofRows"]>,
  checking: Checking,
): Term {
  if (node.keys.length !== 1)
    fail(node, `${column.name} wants one ${table.key ? "key" : "row number"} of ${table.name} in the brackets.`);
  return cell(node, rowByKey(node.keys[0], table, checking), table, column, checking);
}

/** `Times[key]`, a row of a table, or `Sailing[from, to]`, a value of a matrix. */
export function lookUp(node: Node & { kind: "index" }, table: TableSource, checking: Checking): Term {
  const { matrix } = table;
  if (node.keys.length !== (matrix ? 2 : 1))
    return fail(
      node,
      matrix
        ? `${table.name} is a matrix: two keys are wanted in the brackets, that of the row and that of the column.`
        : `${table.name} wants one ${table.key ? "key" : "row number"} in the brackets.`,
    );
  const row = rowByKey(node.keys[0], table, checking);
  if (!matrix) return row;
  const key = checking.term(node.keys[1]);
  if (!sameType(key.type, matrix.keyType)) wrongKey(node.keys[1], key.type, matrix.keyType, table);
  const missing = (value: number) =>
    `there is no column ${table.say(value)} in ${table.name}.`.replace(/^./, (c) => c.toUpperCase());
  if (key.constant !== undefined) {
    const column = table.columns[matrix.columnOf(key.constant)];
    if (!column) return fail(node.keys[1], missing(key.constant), columnHint(table));
    checking.found.tables.push({
      table: table.id,
      column: column.id,
      start: node.keys[1].start,
      end: node.keys[1].end,
    });
    return cell(node, row, table, column, checking);
  }
  const at = table.columns.map(({ values }) => values);
  return {
    type: matrix.type,
    draws: row.draws || key.draws,
    compile(environment) {
      const [readRow, readKey] = [row.compile(environment), key.compile(environment)];
      return (token) => {
        const r = readRow(token);
        const value = readKey(token);
        const column = matrix.columnOf(value);
        if (column < 0) return faulted(environment, missing(value), columnHint(table));
        return r >= 0 ? filled(environment, table, table.columns[column], r, at[column][r]) : Number.NaN;
      };
    },
  };
}

const columnHint = ({ name }: TableSource) => `Add a column to ${name}, or correct the key.`;
const rowHint = ({ name }: TableSource) => `Add a row to ${name}, or correct the key.`;

const wrongKey = (node: Node, type: ValueType, wanted: ValueType, { name }: TableSource) =>
  fail(node, `${name} is asked by ${typeName(wanted)}; this is ${typeName(type)}.`);

function rowByKey(node: Node, table: TableSource, checking: Checking): Term {
  const key = checking.term(node);
  // A row may be given as it is, as an attribute holds it.
  if (key.type.kind === "row" && key.type.table.id === table.id) return key;
  const wanted = table.key?.type ?? PLAIN;
  if (!sameType(key.type, wanted)) wrongKey(node, key.type, wanted, table);
  const missing = (value: number) => `There is no row ${table.say(value)} in ${table.name}.`;
  if (key.constant !== undefined) {
    const row = table.rowOf(key.constant);
    if (row < 0) return fail(node, missing(key.constant), rowHint(table));
    checking.found.tables.push({ table: table.id, row, start: node.start, end: node.end });
    return constantTerm(rowType(table), row);
  }
  return {
    type: rowType(table),
    draws: key.draws,
    compile(environment) {
      const read = key.compile(environment);
      return (token) => {
        const value = read(token);
        const row = table.rowOf(value);
        return row >= 0 ? row : faulted(environment, missing(value), rowHint(table));
      };
    },
  };
}

function faulted(environment: Environment, message: string, hint: string, code: Fault["code"] = "no-row"): number {
  environment.fault({ code, message, hint });
  return Number.NaN;
}

const emptyCell = (table: TableSource, column: ColumnSource, row: number) =>
  `Row ${nameOfRow(table, row)} of ${table.name} has no ${column.name}.`;
const nameOfRow = (table: TableSource, row: number) =>
  table.key && !Number.isNaN(table.key.values[row]) ? table.say(table.key.values[row]) : String(row + 1);

function filled(
  environment: Environment,
  table: TableSource,
  column: ColumnSource,
  row: number,
  value: number,
): number {
  if (!Number.isNaN(value)) return value;
  return faulted(
    environment,
    emptyCell(table, column, row),
    "Fill in the cell, or give the column a default.",
    "no-value",
  );
}

/** The column of a table that is named after a dot. */
export function columnNamed(node: Node & { kind: "property" }, table: TableSource, { found }: Checking): ColumnSource {
  const key = nameKey(node.name);
  const column = table.columns.find(({ name }) => nameKey(name) === key);
  if (!column) {
    const names = table.columns.map(({ name }) => name);
    const close = closestName(node.name, names);
    return fail(
      node,
      `${table.name} has no column "${node.name}".`,
      names.length > 0 ? `It has ${names.join(", ")}.` : "Give it columns under Tables.",
      close,
    );
  }
  found.tables.push({ table: table.id, column: column.id, start: node.of.end, end: node.end });
  return column;
}

/** Whoever reads a column that steps set is told of its changes. */
function follow(table: TableSource, column: ColumnSource, { found }: Checking): void {
  found.sources.push({ toldBy: [cellsId(table.id, column.id)], reader: () => () => Number.NaN });
}

/** What sets a cell: the column of a row that an expression finds. */
export function cellTarget(
  node: Node & { kind: "property" },
  checking: Checking,
): { readonly type: ValueType; compile(environment: Environment): (token: number, value: number) => void } | undefined {
  const table = node.of.kind === "index" ? tableNamed(node.of.of, checking) : undefined;
  if (!table || node.of.kind !== "index") return undefined;
  const row = lookUp(node.of, table, checking);
  const column = columnNamed(node, table, checking);
  if (!column.isSet || column.expressions)
    return fail(
      node,
      `The cells of ${column.name} cannot be set.`,
      "Set those of a column of numbers, texts, or yes and no.",
    );
  return {
    type: column.type,
    compile(environment) {
      const at = row.compile(environment);
      const cells = environment.running.part(CELLS);
      const values = cells.valuesOf(table.id, column.id);
      const changed = cells.changed(table.id, column.id);
      return (token, value) => {
        const r = at(token);
        if (!(r >= 0) || values[r] === value) return;
        values[r] = value;
        if (changed) changed();
      };
    },
  };
}

/** The value of a column in a row. */
export function cell(node: Node, row: Term, table: TableSource, column: ColumnSource, checking: Checking): Term {
  const expressions = column.expressions?.(checking.scope.find("entity") !== undefined);
  if (column.isSet) follow(table, column, checking);
  else if (row.constant !== undefined) {
    const checked = expressions?.[row.constant];
    if (checked) {
      checking.found.sources.push(...checked.sources);
      return { ...checked, constant: checked.constant };
    }
    const value = column.values[row.constant];
    if (expressions || Number.isNaN(value))
      return fail(node, emptyCell(table, column, row.constant), "Fill in the cell, or give the column a default.");
    return constantTerm(column.type, value);
  }
  for (const checked of expressions ?? []) if (checked) checking.found.sources.push(...checked.sources);
  return {
    type: column.type,
    draws: row.draws || (expressions?.some((checked) => checked?.draws) ?? false),
    compile(environment) {
      const readRow = row.compile(environment);
      const read = columnReader(table, column, expressions, environment);
      return (token) => {
        const r = readRow(token);
        if (r >= 0) return read(r, token);
        return faulted(environment, `No row of ${table.name} is at hand.`, "It is known only from its first step on.");
      };
    },
  };
}

type ReadRow = (row: number, token: number) => number;

function columnReader(
  table: TableSource,
  column: ColumnSource,
  expressions: readonly (Term | undefined)[] | undefined,
  environment: Environment,
): ReadRow {
  if (!expressions) {
    const values = column.isSet ? environment.running.part(CELLS).valuesOf(table.id, column.id) : column.values;
    return (row) => filled(environment, table, column, row, values[row]);
  }
  const reads = expressions.map((checked) => checked?.compile(environment));
  return (row, token) => {
    const read = reads[row];
    return read ? read(token) : filled(environment, table, column, row, Number.NaN);
  };
}

/** A column as the list of its values, from the first row to the last. */
export function columnTerm(table: TableSource, column: ColumnSource, checking: Checking): Term {
  const expressions = column.expressions?.(checking.scope.find("entity") !== undefined);
  for (const checked of expressions ?? []) if (checked) checking.found.sources.push(...checked.sources);
  if (column.isSet) follow(table, column, checking);
  const open = column.isSet
    ? 0
    : (expressions?.findIndex((checked) => checked && checked.constant === undefined) ?? -1);
  return {
    type: { kind: "list", of: column.type },
    draws: expressions?.some((checked) => checked?.draws) ?? false,
    list: {
      length: table.rows,
      fixed: () =>
        open >= 0 ? undefined : expressions ? expressions.map((c) => c?.constant ?? Number.NaN) : column.values,
      firstOpen: () => open,
      read: (environment) => columnReader(table, column, expressions, environment),
    },
    compile: () => () => Number.NaN,
  };
}

/** Functions over the rows of a table. */
export const ROW_FUNCTIONS = ["sum", "mean", "least", "most", "count", "first", "randomRow"] as const;
export type RowFunction = (typeof ROW_FUNCTIONS)[number];

const OF_TABLE: ReadonlySet<string> = new Set(["count", "first"]);

/**
 * `sum(Crew.cost)`, `count(Crew, row.skill = "weld")` and their like: over the rows for which a condition holds, in
 * which `row` is the row that is looked at.
 */
export function overRows(node: Node & { kind: "call" }, checking: Checking): Term {
  const name = node.name as RowFunction;
  const [arg, condition] = node.args;
  if (!arg || node.args.length > 2) fail(node, `"${name}" takes ${usage(name)} and, where wanted, a condition.`);
  const { table, column } = tableOrColumn(arg, name, checking);
  const holds = condition && rowCondition(condition, table, checking);
  if (name === "randomRow") return randomRow(node, table, column && columnTerm(table, column, checking), holds);
  if (name === "first" || name === "count") return search(node, name, table, holds);
  const values = columnTerm(table, column!, checking);
  const { type } = column!;
  if (type.kind !== "number") return fail(arg, `Numbers are wanted here; this is ${typeName(type)}.`);
  const fold = FOLDS[name];
  const build = (environment: Environment): Read => {
    const read = values.list!.read(passingOver(environment));
    const wanted = holds?.(environment);
    return (token) => {
      const folded = fold();
      for (let row = 0; row < table.rows; row++) {
        if (wanted && !wanted(row, token)) continue;
        const value = read(row, token);
        // An empty cell tells nothing.
        if (!Number.isNaN(value)) folded.add(value);
      }
      if (folded.count > 0 || name === "sum") return folded.value();
      return faulted(environment, `No row of ${table.name} has a value for the ${name}.`, "Widen the condition.");
    };
  };
  return whole(node, numberOf(type.dimension), values.draws, holds, values.list!.fixed() !== undefined, build);
}

const usage = (name: RowFunction) =>
  OF_TABLE.has(name) ? "a table" : name === "randomRow" ? "a table or its column of weights" : "a column of a table";

function tableOrColumn(arg: Node, name: RowFunction, checking: Checking) {
  const table = tableNamed(arg, checking);
  if (table && (OF_TABLE.has(name) || name === "randomRow")) return { table, column: undefined };
  const ofRows = ofRowsNamed(arg, checking);
  if (ofRows && !OF_TABLE.has(name)) return ofRows;
  const owner = arg.kind === "property" ? tableNamed(arg.of, checking) : undefined;
  if (owner && !OF_TABLE.has(name))
    return { table: owner, column: columnNamed(arg as typeof arg & { kind: "property" }, owner, checking) };
  return fail(arg, `"${name}" wants ${usage(name)}.`);
}

type Holds = ((environment: Environment) => (row: number, token: number) => boolean) & { readonly isFixed: boolean };

/** Over many rows an empty cell is no fault: it tells nothing, and meets no condition. */
const passingOver = (environment: Environment, onEmpty?: () => void): Environment => ({
  ...environment,
  fault: (fault) => (fault.code === "no-value" ? onEmpty?.() : environment.fault(fault)),
});

/** A condition on a row, which it knows as `row`. */
function rowCondition(node: Node, table: TableSource, checking: Checking): Holds {
  const at = { row: -1 };
  const before = checking.found.sources.length;
  const scope: Scope = withRow(checking.scope, table, () => at.row);
  const term = checking.within(scope).condition(node);
  const isFixed = checking.found.sources.length === before && !term.draws;
  const holds = (environment: Environment) => {
    let isEmpty = false;
    const read = term.compile(passingOver(environment, () => (isEmpty = true)));
    return (row: number, token: number) => {
      const outer = at.row;
      at.row = row;
      isEmpty = false;
      const result = read(token) !== 0;
      at.row = outer;
      return result && !isEmpty;
    };
  };
  return Object.assign(holds, { isFixed });
}

/** `row`, where it is known beforehand which. */
export const rowKnown = (table: TableSource, row: number): ReadonlyMap<string, Meaning> =>
  new Map([["row", { type: rowType(table), constant: row }]]);

/** A scope in which `row`, or another name, is the row of a table that is looked at just now. */
export function withRow(scope: Scope, table: TableSource, current: () => number, name = "row"): Scope {
  return within(scope, new Map([[name, { type: rowType(table), local: current, properties: undefined }]]));
}

/** A term over all rows, computed beforehand where nothing of it changes. */
function whole(
  node: Node,
  type: ValueType,
  draws: boolean,
  holds: Holds | undefined,
  isFixed: boolean,
  build: (environment: Environment) => Read,
): Term {
  if (draws || !isFixed || holds?.isFixed === false) return { type, draws, compile: build };
  const value = build({ ...NO_ENVIRONMENT, fault: ({ message, hint }) => fail(node, message, hint) })(-1);
  return constantTerm(type, value);
}

class Fold {
  count = 0;
  constructor(
    private readonly by: (total: number, v: number) => number,
    private total: number,
    private readonly isMean = false,
  ) {}
  add(v: number): void {
    this.total = this.by(this.total, v);
    this.count += 1;
  }
  value(): number {
    return this.isMean ? this.total / this.count : this.total;
  }
}

const plus = (total: number, v: number) => total + v;
const FOLDS: Readonly<Record<"sum" | "mean" | "least" | "most", () => Fold>> = {
  sum: () => new Fold(plus, 0),
  mean: () => new Fold(plus, 0, true),
  least: () => new Fold(Math.min, Infinity),
  most: () => new Fold(Math.max, -Infinity),
};

/** The number of rows for which a condition holds, or the first such row. */
function search(node: Node, name: "count" | "first", table: TableSource, holds: Holds | undefined) {
  const build = (environment: Environment): Read => {
    const wanted = holds?.(environment) ?? (() => true);
    if (name === "count")
      return (token) => {
        let count = 0;
        for (let row = 0; row < table.rows; row++) if (wanted(row, token)) count += 1;
        return count;
      };
    return (token) => {
      for (let row = 0; row < table.rows; row++) if (wanted(row, token)) return row;
      return faulted(environment, `No row of ${table.name} meets the condition.`, "Widen the condition.");
    };
  };
  return whole(node, name === "count" ? PLAIN : rowType(table), false, holds, true, build);
}

/** A row drawn at random by weights, each as likely where there are none, by one uniform draw. */
function randomRow(node: Node, table: TableSource, weights: Term | undefined, holds: Holds | undefined): Term {
  const fixed = weights ? weights.list!.fixed() : new Float64Array(table.rows).fill(1);
  if (weights && weights.type.kind === "list" && !isPlain(weights.type.of)) fail(node, "Weights are plain numbers.");
  if (!fixed) return fail(node, "Weights of rows are fixed numbers.");
  const given = Float64Array.from(fixed, (w) => (Number.isNaN(w) ? 0 : w));
  if (given.some((w) => w < 0)) fail(node, `Weights are 0 or more; one in ${table.name} is not.`);
  if (!given.some((w) => w > 0)) fail(node, `No row of ${table.name} has a weight above 0.`);
  const type = rowType(table);
  if (!holds) {
    const rows = Array.from(given.keys());
    return { type, draws: true, compile: ({ random }) => drawing(random, weightedQuantile(rows, [...given])) };
  }
  return {
    type,
    draws: true,
    compile(environment) {
      const wanted = holds(environment);
      const uniform = environment.random().uniform();
      const left = new Float64Array(given.length);
      return (token) => {
        let sum = 0;
        for (let row = 0; row < left.length; row++) sum += left[row] = wanted(row, token) ? given[row] : 0;
        let rest = uniform() * sum;
        let last = -1;
        for (let row = 0; row < left.length; row++) {
          if (left[row] === 0) continue;
          last = row;
          rest -= left[row];
          if (rest < 0) return row;
        }
        return last >= 0
          ? last
          : faulted(environment, `No row of ${table.name} with a weight meets the condition.`, "Widen the condition.");
      };
    },
  };
}
