import type { Table, TableLink } from "@busy-harbor/core";
import { cameFrom, type Plan } from "../incoming.ts";
import type { FilledRange } from "../spreadsheet/readWorkbook.ts";

/** What is kept of rows that were taken in from a file, so that they can be fetched again. */
export function linkOf(
  file: { readonly folder: string; readonly path: string },
  range: FilledRange | undefined,
  plan: Plan,
  names: readonly string[],
  /** The table once the rows are in. */
  table: Pick<Table, "columns">,
): TableLink {
  return {
    folder: file.folder,
    file: file.path,
    sheet: range?.sheet ?? "",
    cells: range?.address ?? "",
    pinned: false,
    header: plan.header,
    commas: plan.commas,
    mode: plan.mode === "update" ? "update" : "replace",
    columns: [...cameFrom(plan, table)].map(([to, c]) => ({ name: names[c], to })),
    atStart: false,
    readAt: new Date().toISOString(),
  };
}
