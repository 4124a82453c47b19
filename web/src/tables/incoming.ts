import { type Column, columnSchema, compile, nameKey, type Problem, type Study, type Table } from "@busy-harbor/core";
import { newId } from "../state/edits.ts";
import { guessColumn, type Known } from "./guess.ts";

export type Mode = "replace" | "append" | "update";

/** What is to be done with lines that come in. */
export interface Plan {
  /** How many of the first lines name the columns. */
  readonly header: number;
  /** Whether 3,5 means three and a half. */
  readonly commas: boolean;
  readonly mode: Mode;
  /**
   * By column that comes in: the id of a column of the table, "new" for one that holds what is guessed, "new" with what
   * it holds behind it (`newOf`), or "" to leave it out.
   */
  readonly targets: readonly string[];
}

/** Where a column goes that is to be a new one, of what is guessed or of what a person says. */
export const newOf = (holds: Column["holds"]): string => `new ${holds}`;
const isNew = (target: string): boolean => target === "new" || target.startsWith("new ");

/** The new column that one becomes: as it was guessed, or as it is said. */
const newColumn = (guessed: Column, target: string): Column => {
  const said = columnSchema.shape.holds.safeParse(target.slice("new ".length));
  return said.success ? { ...guessed, holds: said.data } : guessed;
};

const COMMA = /^[+-]?\d{1,3}(\.\d{3})*,\d+$|^[+-]?\d+,\d+$/;

/** Whether numbers are likely written with decimal commas. */
export const writesCommas = (cells: readonly (readonly string[])[]): boolean => {
  const inside = cells.flat().filter((cell) => /\d[.,]\d/.test(cell));
  return inside.length > 0 && inside.filter((cell) => COMMA.test(cell.trim())).length > inside.length / 2;
};

const withPoints = (cell: string): string =>
  COMMA.test(cell.trim()) ? cell.trim().replaceAll(".", "").replace(",", ".") : cell;

/** Lines that come in as columns: their names, the cells below, and what each is likely to hold. */
export function arriving(cells: readonly (readonly string[])[], { header, commas }: Plan, known: Known) {
  const width = Math.max(0, ...cells.map((line) => line.length));
  const heads = cells.slice(0, header);
  const names = Array.from({ length: width }, (_, c) => headed(heads, c) || `Column ${c + 1}`);
  const lines = cells.slice(header).map((line) =>
    Array.from({ length: width }, (_, c) => {
      const cell = line[c] ?? "";
      return (commas ? withPoints(cell) : cell).trim();
    }),
  );
  const columns = names.map((name, c) =>
    guessColumn(
      name,
      lines.slice(0, 2000).map((line) => line[c]),
      known,
    ),
  );
  return { names, lines, columns };
}

/** What lines above a column call it: each once, as a merged heading stands in all of its cells. */
const headed = (heads: readonly (readonly string[])[], c: number): string =>
  heads
    .map((line, i) => {
      const text = (line[c] ?? "").trim();
      return text === "" && (heads[i + 1]?.[c] ?? "") !== "" ? headingOf(line, heads[i + 1], c) : text;
    })
    .filter((text, i, all) => text !== "" && text !== all[i - 1])
    .join(" ");

/** The heading that reaches over an empty cell from its left: one with a name of its own below it. */
function headingOf(line: readonly string[], below: readonly string[], c: number): string {
  let from = c;
  while (from >= 0 && (line[from] ?? "").trim() === "") from -= 1;
  return from >= 0 && (below[from] ?? "").trim() !== "" ? line[from].trim() : "";
}

/** Where columns that come in go at first: to those of their name; into a table without rows, all as they are. */
export const firstTargets = (columns: readonly Column[], table: Table): string[] =>
  columns.map(({ name }) => {
    if (table.rows.length === 0) return "new";
    return table.columns.find((c) => nameKey(c.name) === nameKey(name))?.id ?? "";
  });

/** The table once lines have come in. A table without rows gives up its columns for those that come. */
export function takenIn(
  table: Table,
  plan: Plan,
  { lines, columns }: Pick<ReturnType<typeof arriving>, "lines" | "columns">,
  /** Told which row each line has become, by their places from 0. */
  tell?: (row: number, line: number) => void,
): Table {
  const isFresh = table.rows.length === 0 && plan.targets.some(isNew);
  const result: Table = structuredClone({ ...table, rows: [] });
  if (isFresh) result.columns = [];
  const places = plan.targets.map((target, c) => {
    if (target === "") return -1;
    if (!isNew(target)) return result.columns.findIndex(({ id }) => id === target);
    const { name } = columns[c];
    const taken = result.columns.some((other) => nameKey(other.name) === nameKey(name));
    result.columns.push(
      columnSchema.parse({
        ...newColumn(columns[c], target),
        id: newId("column"),
        name: taken ? `${name} ${c + 1}` : name,
      }),
    );
    return result.columns.length - 1;
  });
  if (isFresh) result.key = keyOf(result, lines, places);
  const keyPlace = result.columns.findIndex(({ id }) => id === (result.matrix ? result.columns[0]?.id : result.key));
  const rows = plan.mode === "replace" || isFresh ? [] : table.rows.map((cells) => [...cells]);
  const byKey = new Map(plan.mode === "update" ? rows.map((cells, i) => [cells[keyPlace] ?? "", i] as const) : []);
  const keyFrom = places.indexOf(keyPlace);
  for (const [i, line] of lines.entries()) {
    const known = plan.mode === "update" && keyFrom >= 0 ? byKey.get(line[keyFrom]) : undefined;
    const cells = known === undefined ? new Array<string>(result.columns.length).fill("") : rows[known];
    places.forEach((place, c) => {
      if (place < 0) return;
      while (cells.length <= place) cells.push("");
      cells[place] = line[c];
    });
    tell?.(known ?? rows.length, i);
    if (known === undefined) rows.push(cells);
  }
  result.rows = rows;
  return result;
}

/** By the column of a table that lines have come into, the number from 0 of the column that came. */
export function cameFrom({ targets }: Pick<Plan, "targets">, { columns }: Pick<Table, "columns">): Map<string, number> {
  // New columns stand at the end, in the order in which they came.
  let next = columns.length - targets.filter(isNew).length;
  return new Map(
    targets.flatMap((target, c) => (target === "" ? [] : [[isNew(target) ? columns[next++].id : target, c]])),
  );
}

/** The first column of texts that are all there and all different finds rows. */
function keyOf(table: Table, lines: readonly (readonly string[])[], places: readonly number[]): string {
  const [first] = table.columns;
  const from = places.indexOf(0);
  const texts = lines.map((line) => line[from]);
  const isKey =
    first && ["text", "element", "entity type"].includes(first.holds) && new Set(texts).size === texts.length;
  return isKey && !texts.includes("") ? first.id : "";
}

/** What would be wrong with the cells of a table, were it as it is given. */
export function wrongIn(study: Study, designId: string, table: Table): readonly Problem[] {
  const replaced = <T extends { tables: Table[] }>(of: T): T => ({
    ...of,
    tables: of.tables.map((t) => (t.id === table.id ? table : t)),
  });
  const design = study.designs.find(({ id }) => id === designId);
  const whole = { ...replaced(study), designs: design ? [replaced(design)] : study.designs };
  return compile(whole, designId).problems.filter(({ id }) => id === table.id);
}
