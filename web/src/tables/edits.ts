import {
  columnSchema,
  type Column,
  type Design,
  freshName,
  type Renamed,
  type Rewriting,
  rewritings,
  type Study,
  type Table,
  tableSchema,
} from "@busy-harbor/core";
import { compiled } from "../state/compiled.ts";
import { newId } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";

/** Adds a table to a draft of the study, with two columns to begin with, or a matrix. Returns its id. */
export function addTable(study: Study, matrix: boolean): string {
  const key = columnSchema.parse({ id: newId("column"), name: matrix ? "From" : "Key", holds: "text" });
  const value = columnSchema.parse({ id: newId("column"), name: matrix ? "A" : "Value", unit: "min" });
  const table = tableSchema.parse({
    id: newId("table"),
    name: freshName(matrix ? "Matrix" : "Table", study.tables),
    matrix,
    key: key.id,
    columns: [key, value],
    rows: matrix ? [["A", "0"]] : [],
  });
  study.tables.push(table);
  return table.id;
}

/** The table that the design on screen has, its own version or the study's, in a study or a draft of one. */
export function tableIn(study: Study, designId: string | undefined, id: string): Table | undefined {
  const own = study.designs.find((d) => d.id === designId)?.tables.find((table) => table.id === id);
  return own ?? study.tables.find((table) => table.id === id);
}

/** Changes the table that the design on screen has, as one step to undo. */
export function editTable(id: string, what: string, recipe: (table: Table) => void, mergeKey?: string): void {
  const { change, designId } = useStudy.getState();
  change(
    what,
    (study) => {
      const table = tableIn(study, designId, id);
      if (table) recipe(table);
    },
    mergeKey && `${id}/${mergeKey}`,
  );
}

/** Calls something of a table otherwise, and has all expressions say so; `recipe` changes the table itself. */
export function renameInUse(renamed: Renamed, what: string, recipe: (table: Table) => void): void {
  const { change, history } = useStudy.getState();
  if (!history) return;
  const study = history.present;
  const found = study.designs.flatMap((design) => rewritings(renamed, compiled(study, design.id).model));
  change(what, (draft) => {
    for (const rewriting of found) write(draft, rewriting);
    for (const table of everyVersion(draft, renamed.table)) recipe(table);
  });
  const places = new Set(found.map(({ path }) => path.join("/"))).size;
  if (places > 0)
    announce(`The new name is written in ${places === 1 ? "one expression" : `${places} expressions`} too.`);
}

function write(draft: Study, { path, text }: Rewriting): void {
  let holder = draft as unknown as Record<string | number, unknown>;
  for (const step of path.slice(0, -1)) holder = holder[step] as Record<string | number, unknown>;
  holder[path[path.length - 1]] = text;
}

const everyVersion = (study: Study, id: string): Table[] =>
  [...study.tables, ...study.designs.flatMap((d) => d.tables)].filter((table) => table.id === id);

/** Changes the columns of every version of a table, which all have the same. */
export function editColumns(id: string, what: string, recipe: (table: Table) => void, mergeKey?: string): void {
  useStudy.getState().change(what, (study) => everyVersion(study, id).forEach(recipe), mergeKey && `${id}/${mergeKey}`);
}

/** Puts a text into a cell; cells before it that a row lacks are empty. */
export function putCell(table: Table, row: number, column: number, text: string): void {
  while (table.rows.length <= row) table.rows.push([]);
  const cells = table.rows[row];
  while (cells.length < column) cells.push("");
  cells[column] = text;
}

/** Adds a column at the right end of every version of a table: the same in each. Returns its id. */
export function addColumn(table: Table, like?: Partial<Column>): string {
  const name = freshName(like?.name ?? "Column", table.columns);
  const column = columnSchema.parse({ ...like, id: newId("column"), name });
  editColumns(table.id, `Add column to ${table.name}`, (t) => void t.columns.push({ ...column }));
  return column.id;
}

/** Gives a table other columns; cells stay with theirs. */
function setColumns(table: Table, columns: readonly Column[]): void {
  const from = columns.map(({ id }) => table.columns.findIndex((column) => column.id === id));
  table.rows = table.rows.map((cells) => from.map((c) => (c < 0 ? "" : (cells[c] ?? ""))));
  table.columns = structuredClone([...columns]);
}

/** Puts a table as it is to be in place of the one that the design on screen has; others keep their cells. */
export function takeIn(result: Table, what: string): void {
  const { change, designId } = useStudy.getState();
  change(what, (study) => {
    for (const table of everyVersion(study, result.id)) {
      setColumns(table, result.columns);
      table.key = result.key;
    }
    const table = tableIn(study, designId, result.id);
    if (table) {
      table.rows = result.rows;
      if (result.link) table.link = result.link;
    }
  });
}

/** Takes a column out, with its cells. */
export function deleteColumn(table: Table, id: string): void {
  const at = table.columns.findIndex((column) => column.id === id);
  if (at < 0) return;
  table.columns.splice(at, 1);
  for (const cells of table.rows) if (cells.length > at) cells.splice(at, 1);
  if (table.key === id) table.key = "";
}

/** Moves a column by one place, with its cells. */
export function moveColumn(table: Table, id: string, by: -1 | 1): void {
  const from = table.columns.findIndex((column) => column.id === id);
  const to = from + by;
  if (from < 0 || to < 0 || to >= table.columns.length) return;
  table.columns.splice(to, 0, ...table.columns.splice(from, 1));
  for (const cells of table.rows) {
    while (cells.length < table.columns.length) cells.push("");
    cells.splice(to, 0, ...cells.splice(from, 1));
  }
}

/** In how many cells two versions of a table differ; rows that one lacks differ in each. */
export function cellsApart(a: Table, b: Table): number {
  let count = 0;
  for (let row = 0; row < Math.max(a.rows.length, b.rows.length); row++) {
    if (a.rows[row] === b.rows[row]) continue;
    for (let c = 0; c < Math.max(a.columns.length, b.columns.length); c++)
      if ((a.rows[row]?.[c] ?? "") !== (b.rows[row]?.[c] ?? "")) count += 1;
  }
  return count;
}

/** Makes a table the route that entities go along, or no longer; one table is. */
export function setRoute(id: string, on: boolean): void {
  useStudy.getState().change(on ? "Make it a route" : "No longer a route", (study) => {
    for (const table of [...study.tables, ...study.designs.flatMap((d) => d.tables)])
      table.route = on && table.id === id;
  });
}

/** Gives the design on screen a version of its own, or takes it away so that the study's holds. */
export function setOwn(design: Design, table: Table | undefined, id: string): void {
  design.tables = design.tables.filter((own) => own.id !== id);
  if (table) design.tables.push(structuredClone(table));
}
