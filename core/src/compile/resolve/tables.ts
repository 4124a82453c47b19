import type { DesignOf } from "../../document/design.ts";
import type { ElementBase } from "../../document/element.ts";
import type { StudyOf } from "../../document/study.ts";
import { type Column, type Table, tablesOf } from "../../document/table.ts";
import { isClaimable } from "../../elements/index.ts";
import {
  type Checked,
  checkExpression,
  type ColumnSource,
  nameKey,
  numberOf,
  PLAIN,
  type Scope,
  type TableSource,
  TEXT,
  type ValueType,
  YES_NO,
} from "../../expression/index.ts";
import { TIME } from "../../quantity/index.ts";
import type { Days } from "./calendars.ts";
import { type CellProblem, cellWords, readNumbers, unitOfColumn } from "./cells.ts";
import { StudyNames } from "./names.ts";
import type { Path, Problems } from "./problems.ts";

/**
 * Names of where expressions are read. While attributes are still being made known, those so far; `isWhole` once all
 * are.
 */
export type ScopeOfCells = (withEntity: boolean) => { readonly scope: Scope; readonly isWhole: boolean };

/** What a table is read with. */
interface Context {
  readonly study: StudyOf;
  readonly design: DesignOf;
  /** What expressions know by name, by index: elements, each member of a family, then families as a whole. */
  readonly elements: readonly Pick<ElementBase, "name" | "kind">[];
  readonly entityTypes: readonly { readonly name: string }[];
  readonly days: Days["days"];
  readonly intern: (text: string) => number;
  readonly textOf: (number: number) => string;
  readonly scope: ScopeOfCells;
  /** Other tables, by their ids. */
  readonly table: (id: string) => TableSource | undefined;
}

/** So many problems of a table are told one by one. */
const TOLD = 50;

/** The tables of a design as expressions read them; every cell is checked. */
export function readTables(
  { study, design, elements, entityTypes, days, intern, textOf }: Omit<Context, "scope" | "table">,
  scope: ScopeOfCells,
  problems: Problems,
): TableSource[] {
  const tables = tablesOf(study.tables, design.tables);
  const sources = new Map<string, TableSource>();
  const context: Context = {
    study,
    design,
    elements,
    entityTypes,
    days,
    intern,
    textOf,
    scope,
    table: (id) => sources.get(id),
  };
  const names = new StudyNames([...design.elements, ...design.entityTypes]);
  tables.forEach((table, i) => names.take("tables", i, table, problems));
  for (const [i, table] of tables.entries()) {
    const own = design.tables.indexOf(table);
    const path: Path = own >= 0 ? ["designs", study.designs.indexOf(design), "tables", own] : ["tables", i];
    sources.set(table.id, readTable(table, path, context, problems));
  }
  return [...sources.values()];
}

function readTable(table: Table, path: Path, context: Context, problems: Problems): TableSource {
  const columns = new Map<string, ColumnSource>();
  let told = 0;
  const tell = (
    column: number,
    { row, message, hint, code = "bad-cell" }: CellProblem & { readonly code?: string },
  ) => {
    told += 1;
    if (told > TOLD) return;
    const { id, name } = table.columns[column] ?? { id: "", name: "" };
    const place = row < 0 ? `column ${name}` : `row ${row + 1}, ${name}`;
    problems.add(
      code,
      row < 0 ? [...path, "columns", column] : [...path, "rows", row, column],
      { id: table.id, field: row < 0 ? `column.${id}` : `cell.${row}.${id}` },
      `${table.name}, ${place}: ${message}`,
      hint,
    );
  };
  table.columns.forEach((column, c) => {
    if (table.columns.findIndex((other) => nameKey(other.name) === nameKey(column.name)) < c)
      tell(c, { row: -1, message: "another column has this name.", hint: "Choose another name." });
    columns.set(
      column.id,
      readColumn(table, column, c, context, (problem) => tell(c, problem)),
    );
  });
  if (told > TOLD)
    problems.add(
      "bad-cell",
      path,
      { id: table.id },
      `${table.name}: ${told - TOLD} more cells cannot be read.`,
      "Mend the first ones: the others are often wrong in the same way.",
    );
  const key = columns.get(table.matrix ? (table.columns[0]?.id ?? "") : table.key);
  const ordered = [...columns.values()];
  return {
    id: table.id,
    name: table.name,
    rows: table.rows.length,
    key,
    columns: ordered,
    rowOf: key
      ? finder(key.values)
      : (number) => (Number.isInteger(number) && number >= 1 && number <= table.rows.length ? number - 1 : -1),
    say: sayer(key, table, context),
    ...(table.matrix && key && { matrix: readMatrix(table, ordered, key, context, tell) }),
  };
}

/** Finds the row of a key by one look. */
function finder(values: Float64Array): (key: number) => number {
  let rows: Map<number, number> | undefined;
  return (key) => {
    if (!rows) {
      rows = new Map();
      for (let row = values.length - 1; row >= 0; row--) if (!Number.isNaN(values[row])) rows.set(values[row], row);
    }
    return rows.get(key) ?? -1;
  };
}

/** Keys in words. */
function sayer(key: ColumnSource | undefined, table: Table, { elements, entityTypes, textOf, table: other }: Context) {
  return (value: number): string => {
    switch (key?.type.kind) {
      case "text":
        return `"${textOf(value)}"`;
      case "element":
        return `"${elements[value]?.name ?? value}"`;
      case "entityType":
        return `"${entityTypes[value]?.name ?? value}"`;
      case "yesNo":
        return value === 1 ? "yes" : "no";
      case "row":
        return other(key.type.table.id)?.say(value) ?? String(value + 1);
      default: {
        const column = key && table.columns.find(({ id }) => id === key.id);
        return String(column ? value / unitOfColumn(column).factor : value);
      }
    }
  };
}

type Tell = (column: number, problem: CellProblem & { readonly code?: string }) => void;

function readMatrix(
  table: Table,
  columns: readonly ColumnSource[],
  key: ColumnSource,
  context: Context,
  tell: Tell,
): TableSource["matrix"] {
  const [first, ...rest] = table.columns;
  const names = new Map<number, number>();
  const read = (text: string) => readKey(text, first, context);
  rest.forEach(({ name, holds, unit }, i) => {
    const value = read(name);
    if (value === undefined)
      tell(i + 1, { row: -1, message: `its name is no key, as ${first.name} has.`, hint: "Rename the column." });
    else names.set(value, i + 1);
    if (holds !== rest[0].holds || unit !== rest[0].unit)
      tell(i + 1, {
        row: -1,
        message: "columns of a matrix hold the same, in one unit.",
        hint: `Let it hold what ${rest[0].name} holds.`,
      });
  });
  return {
    keyType: key.type,
    type: columns[1]?.type ?? PLAIN,
    columnOf: (value) => names.get(value) ?? -1,
  };
}

/** The value of a key that is written as the name of a column. */
function readKey(text: string, column: Column, context: Context): number | undefined {
  const [value] = readCells(
    { ...column, required: false, unique: false, default: "" },
    [[text]],
    0,
    context,
    () => undefined,
  );
  return Number.isNaN(value) ? undefined : value;
}

function readColumn(
  table: Table,
  column: Column,
  c: number,
  context: Context,
  tell: (problem: CellProblem) => void,
): ColumnSource {
  const isKey = table.matrix ? c === 0 : column.id === table.key;
  const type = typeOf(column, context);
  if (!type) {
    tell({ row: -1, message: `"${column.unit}" is not a unit.`, hint: "Write one such as min, kg or m/s." });
    return {
      id: column.id,
      name: column.name,
      type: PLAIN,
      values: new Float64Array(table.rows.length).fill(Number.NaN),
    };
  }
  if (isKey && column.holds === "expression")
    tell({
      row: -1,
      message: "an expression cannot be a key.",
      hint: "Let it hold text or a number, or choose another key.",
    });
  const strict = isKey ? { ...column, required: true, unique: true } : column;
  const values = readCells(strict, table.rows, c, context, tell);
  if (column.holds !== "expression") return { id: column.id, name: column.name, type, values };
  return {
    id: column.id,
    name: column.name,
    type,
    values,
    expressions: cellExpressions(table, column, c, type, context, tell),
  };
}

function typeOf(column: Column, { table }: Context): ValueType | undefined {
  switch (column.holds) {
    case "text":
    case "calendar":
      return TEXT;
    case "yes or no":
      return YES_NO;
    case "date":
    case "duration":
      return numberOf(TIME);
    case "element":
    case "resource":
      return { kind: "element" };
    case "entity type":
      return { kind: "entityType" };
    case "row": {
      const of = table(column.of);
      return { kind: "row", table: { id: column.of, name: of?.name ?? "" } };
    }
    case "number":
    case "expression": {
      const { dimension, known } = unitOfColumn(column);
      return known ? numberOf(dimension) : undefined;
    }
  }
}

/** The values of a column, by row; what is wrong with its cells is told. */
function readCells(
  column: Column,
  rows: Table["rows"],
  c: number,
  context: Context,
  tell: (problem: CellProblem) => void,
): Float64Array {
  const { elements, entityTypes, intern, table, study, days } = context;
  switch (column.holds) {
    case "number":
    case "duration":
    case "yes or no":
    case "date": {
      const { values, problems } = readNumbers(column, rows, c, { start: study.run.start, days });
      problems.forEach(tell);
      return values;
    }
    case "text":
      return cellWords(column, rows, c, tell, (text) => intern(text));
    case "calendar": {
      const calendars = new Set(study.calendars.map(({ name }) => nameKey(name)));
      const read = (text: string) => (calendars.has(nameKey(text)) ? intern(text) : undefined);
      return cellWords(column, rows, c, tell, read, "no calendar is called so.");
    }
    case "element":
    case "resource": {
      const byName = new Map(
        elements.flatMap((element, i) =>
          column.holds === "resource" && !isClaimable(element) ? [] : [[nameKey(element.name), i] as const],
        ),
      );
      return cellWords(
        column,
        rows,
        c,
        tell,
        (text) => byName.get(nameKey(text)),
        `no ${column.holds} of this design is called so.`,
      );
    }
    case "entity type": {
      const byName = new Map(entityTypes.map((type, i) => [nameKey(type.name), i]));
      return cellWords(column, rows, c, tell, (text) => byName.get(nameKey(text)), "no entity type is called so.");
    }
    case "row": {
      const of = table(column.of);
      if (!of) {
        tell({
          row: -1,
          message: "it does not say of which table its rows are, or that table comes after this one.",
          hint: "Choose a table that stands before this one.",
        });
        return new Float64Array(rows.length).fill(Number.NaN);
      }
      return cellWords(column, rows, c, tell, (text) => rowNamed(text, of, context), `${of.name} has no such row.`);
    }
    case "expression":
      // Read where they are used; here only whether they are there.
      return cellWords(column, rows, c, tell, () => 0).fill(Number.NaN);
  }
}

/** The row of a table by its key or number as it is written; undefined where there is none. */
function rowNamed(text: string, of: TableSource, { elements, entityTypes, intern }: Context): number | undefined {
  const { key } = of;
  const indexIn = (items: readonly { readonly name: string }[]) =>
    items.findIndex(({ name }) => nameKey(name) === nameKey(text));
  const value =
    key?.type.kind === "text"
      ? intern(text)
      : key?.type.kind === "element"
        ? indexIn(elements)
        : key?.type.kind === "entityType"
          ? indexIn(entityTypes)
          : Number(text);
  const row = of.rowOf(value);
  return row >= 0 ? row : undefined;
}

/** Checks the expressions of a column, once each for places with an entity at hand and without. */
function cellExpressions(
  { rows }: Table,
  column: Column,
  c: number,
  type: ValueType,
  { scope }: Context,
  tell: (problem: CellProblem) => void,
): ColumnSource["expressions"] {
  const known = new Map<boolean, readonly (Checked | undefined)[]>();
  let isBeingRead = false;
  return (withEntity) => {
    const before = known.get(withEntity);
    if (before) return before;
    // A cell that reads its own column finds nothing there.
    if (isBeingRead) return rows.map(() => undefined);
    isBeingRead = true;
    const names = scope(withEntity);
    const checked = rows.map((cells, row) => {
      const text = (cells[c] ?? "").trim() || column.default;
      if (text === "") return undefined;
      const result = checkExpression(text, names.scope, type);
      if (result.ok) return result.checked;
      if (!names.isWhole) return undefined;
      const [{ message, hint }] = result.problems;
      tell({ row, message: withEntity ? message : `${message} No entity is at hand where this is read.`, hint });
      return undefined;
    });
    isBeingRead = false;
    if (names.isWhole) known.set(withEntity, checked);
    return checked;
  };
}

/** Every expression of the tables, checked, so that a slip is told before anybody reads it. */
export const checkCells = (tables: readonly TableSource[]): void =>
  tables.forEach(({ columns }) => columns.forEach(({ expressions }) => expressions?.(true)));
