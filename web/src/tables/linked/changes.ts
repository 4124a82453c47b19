import type { Table } from "@busy-harbor/core";
import { keyPlace } from "./refreshed.ts";

/** What becomes of a row of a table, or of one cell of it. */
export interface RowChange {
  readonly what: "new" | "gone" | "changed";
  /** The row by its key, or by its number from 1. */
  readonly row: string;
  readonly column: string;
  readonly was: string;
  readonly becomes: string;
}

/**
 * How the rows of a table differ from what they would be, cell by cell. Rows are the same that have the same key, or
 * the same number in a table without one. Those that are there stand first, in the order they would have.
 */
export function changesOf(before: Table, after: Table): RowChange[] {
  const { columns } = after;
  const key = keyPlace(after);
  const nameOf = (row: readonly string[], i: number) => (key < 0 ? String(i + 1) : row[key] || String(i + 1));
  const old = new Map(before.rows.map((row, i) => [nameOf(row, i), row] as const));
  const there = new Set<string>();
  const changes: RowChange[] = [];
  const inWords = (row: readonly string[]) => columns.flatMap((_, c) => (row[c] ? [row[c]] : [])).join(", ");
  after.rows.forEach((row, i) => {
    const name = nameOf(row, i);
    there.add(name);
    const was = old.get(name);
    if (!was) return void changes.push({ what: "new", row: name, column: "", was: "", becomes: inWords(row) });
    if (was === row) return;
    columns.forEach((column, c) => {
      const [from, to] = [was[c] ?? "", row[c] ?? ""];
      if (from !== to) changes.push({ what: "changed", row: name, column: column.name, was: from, becomes: to });
    });
  });
  before.rows.forEach((row, i) => {
    const name = nameOf(row, i);
    if (!there.has(name)) changes.push({ what: "gone", row: name, column: "", was: inWords(row), becomes: "" });
  });
  return changes;
}

/** How many rows change and how, in words. */
export function sayChanges(changes: readonly RowChange[]): string {
  const rows = (what: RowChange["what"]) =>
    new Set(changes.filter((change) => change.what === what).map(({ row }) => row)).size;
  const parts = (
    [
      ["new", "new"],
      ["changed", "changed"],
      ["gone", "gone"],
    ] as const
  ).flatMap(([what, word]) => {
    const count = rows(what);
    return count === 0 ? [] : [`${count} ${count === 1 ? "row" : "rows"} ${word}`];
  });
  return parts.length === 0 ? "nothing has changed" : parts.join(", ");
}
