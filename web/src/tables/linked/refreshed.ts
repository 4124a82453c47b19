import { type Table, type TableLink } from "@busy-harbor/core";
import { arriving, type Plan, takenIn } from "../incoming.ts";

/** A linked table as it would be with the rows of its file as they are now. */
export interface Refreshed {
  readonly table: Table;
  /** Columns of the file that the link names and the file no longer has; their cells stay as they are. */
  readonly missing: readonly string[];
  /** Columns of the file that go nowhere. */
  readonly unused: readonly string[];
}

const NOBODY = { elements: [], entityTypes: [] };

/** Has the rows of a table be those of its file. Cells of columns that do not come from there stay with their rows. */
export function refreshed(table: Table, link: TableLink, cells: readonly (readonly string[])[]): Refreshed {
  const plan: Plan = { header: link.header, commas: link.commas, mode: link.mode, targets: [] };
  const coming = arriving(cells, plan, NOBODY);
  const known = new Set(table.columns.map(({ id }) => id));
  const taken = link.columns.filter(({ to }) => known.has(to));
  const targets = coming.names.map((name) => taken.find((column) => column.name === name)?.to ?? "");
  const result = takenIn(table, { ...plan, targets }, coming);
  if (link.mode === "replace") keepOthers(table, result, new Set(targets));
  return {
    table: result,
    missing: taken.filter(({ to }) => !targets.includes(to)).map(({ name }) => name),
    unused: coming.names.filter((_, c) => targets[c] === ""),
  };
}

/** Gives rows the cells of columns that do not come from the file, by their key or, without one, by their number. */
function keepOthers(before: Table, after: Table, coming: ReadonlySet<string>): void {
  const others = before.columns.flatMap(({ id }, c) => (coming.has(id) ? [] : [c]));
  if (others.length === 0) return;
  const key = keyPlace(before);
  const byKey = key < 0 ? undefined : new Map(before.rows.map((row) => [row[key] ?? "", row] as const));
  after.rows.forEach((row, i) => {
    const old = byKey ? byKey.get(row[key] ?? "") : before.rows[i];
    for (const c of others) {
      while (row.length <= c) row.push("");
      row[c] = old?.[c] ?? "";
    }
  });
}

/** Where the key of rows stands; -1 for none. */
export const keyPlace = ({ matrix, key, columns }: Table): number =>
  matrix ? 0 : columns.findIndex(({ id }) => id === key);
