import {
  type Column,
  type ColumnSource,
  type Design,
  type Element,
  formatNumber,
  isClaimable,
  namedIn,
  type Study,
  type Table,
  type TableSource,
  unfold,
  unitOfColumn,
} from "@busy-harbor/core";
import type { GridColumn } from "../grid/column.ts";

/** A row of a table where it stands; another object whenever the table is another. */
export interface TableRow {
  readonly index: number;
  readonly cells: readonly string[];
}

export const rowId = ({ index }: TableRow): string => String(index);

/** A column's name with its unit. */
export const labelOf = ({ name, holds, unit }: Column): string =>
  unit !== "" && ["number", "duration", "expression"].includes(holds) ? `${name} (${unit})` : name;

const RIGHT: ReadonlySet<Column["holds"]> = new Set(["number", "duration"]);

/** What cells may name: elements with the members of families, and entity types with those that are rows. */
export interface Named {
  readonly elements: readonly Pick<Element, "name" | "kind">[];
  readonly entityTypes: readonly { readonly name: string }[];
  readonly calendars: readonly { readonly name: string }[];
}

export function namedBy(study: Study, design: Design): Named {
  const unfolded = unfold(study, design);
  return {
    elements: namedIn(unfolded) as readonly Element[],
    entityTypes: unfolded.design.entityTypes,
    calendars: study.calendars,
  };
}

/** The columns of a table as the grid wants them. */
export function gridColumns(
  table: Table,
  source: TableSource | undefined,
  design: Design,
  named: Named,
  tables: readonly Table[],
): GridColumn<TableRow>[] {
  const keyId = table.matrix ? table.columns[0]?.id : table.key;
  return table.columns.map((column, c): GridColumn<TableRow> => {
    const values = source?.columns.find(({ id }) => id === column.id);
    return {
      id: column.id,
      label: labelOf(column),
      help: `${HOLDS[column.holds]}${column.id === keyId ? "; rows are found by it" : ""}`,
      width: widthOf(column, table.rows, c),
      mono: true,
      align: RIGHT.has(column.holds) ? "right" : undefined,
      frozen: column.id === keyId,
      choices: isMadeOf(design, table, column) ? undefined : choicesOf(column, named, tables),
      expression: column.holds === "expression" ? { entity: true, draws: values?.type } : undefined,
      read: ({ cells }) => cells[c] ?? "",
      value: RIGHT.has(column.holds) || column.holds === "date" ? sortedBy(values, c) : undefined,
    };
  });
}

/** Pixels: wide enough for its name and the first cells. */
function widthOf(column: Column, rows: Table["rows"], c: number): number {
  const longest = rows.slice(0, 100).reduce((most, cells) => Math.max(most, (cells[c] ?? "").length), 0);
  return Math.round(Math.min(300, Math.max(96, longest * 7.9 + 22, labelOf(column).length * 7.4 + 40)));
}

/** A cell by how much it is, if it can be read; else by its text. */
const sortedBy = (values: ColumnSource | undefined, c: number) => (row: TableRow) => {
  const value = values?.values[row.index];
  return value === undefined || Number.isNaN(value) ? row.cells[c] || undefined : value;
};

/** Entity types are made of this column: what stands in it is new. */
const isMadeOf = ({ entityTypes }: Design, table: Table, { id }: Column): boolean =>
  id === table.key && entityTypes.some(({ family }) => family?.table === table.id);

function choicesOf(column: Column, { elements, entityTypes, calendars }: Named, tables: readonly Table[]) {
  switch (column.holds) {
    case "yes or no":
      return () => ["yes", "no"];
    case "element":
      return () => elements.map(({ name }) => name);
    case "resource":
      return () => elements.filter((e) => isClaimable(e)).map(({ name }) => name);
    case "entity type":
      return () => entityTypes.map(({ name }) => name);
    case "calendar":
      return () => calendars.map(({ name }) => name);
    case "row":
      return () => {
        const of = tables.find(({ id }) => id === column.of);
        const key = of?.columns.findIndex(({ id }) => id === of.key) ?? -1;
        return of ? of.rows.map((cells, i) => (key < 0 ? String(i + 1) : (cells[key] ?? ""))) : [];
      };
    default:
      return undefined;
  }
}

/** What a column may hold, in words. */
export const HOLDS: Readonly<Record<Column["holds"], string>> = {
  number: "a number",
  text: "text",
  "yes or no": "yes or no",
  date: "a date and time",
  duration: "a duration",
  element: "an element",
  resource: "a resource",
  calendar: "a calendar",
  "entity type": "an entity type",
  row: "a row of a table",
  expression: "an expression",
};

/** What stands at the foot of a column: sum and mean of numbers, in its unit; else how many cells are filled. */
export function footOf(column: Column, source: TableSource | undefined, table: Table): readonly string[] {
  const c = table.columns.indexOf(column);
  const values = source?.columns.find(({ id }) => id === column.id)?.values;
  if (!values || !RIGHT.has(column.holds)) {
    const filled = table.rows.reduce((count, cells) => count + ((cells[c] ?? "").trim() === "" ? 0 : 1), 0);
    return [`${filled} filled`];
  }
  const { factor } = unitOfColumn(column);
  let [sum, count] = [0, 0];
  for (const value of values) {
    if (Number.isNaN(value)) continue;
    sum += value / factor;
    count += 1;
  }
  return count === 0 ? [] : [`sum ${formatNumber(sum)}`, `mean ${formatNumber(sum / count)}`];
}
