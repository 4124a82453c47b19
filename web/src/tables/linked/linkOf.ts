import type { Table, TableLink } from "@busy-harbor/core";
import type { Plan } from "../incoming.ts";
import type { FilledRange } from "../spreadsheet/readWorkbook.ts";

/** What is kept of rows that were taken in from a file, so that they can be fetched again. */
export function linkOf(
  file: { readonly folder: string; readonly path: string },
  range: FilledRange | undefined,
  plan: Plan,
  names: readonly string[],
  /** The table once the rows are in. */
  { columns }: Pick<Table, "columns">,
): TableLink {
  // New columns stand at the end, in the order in which they came.
  let next = columns.length - plan.targets.filter((target) => target === "new").length;
  return {
    folder: file.folder,
    file: file.path,
    sheet: range?.sheet ?? "",
    cells: range?.address ?? "",
    pinned: false,
    header: plan.header,
    commas: plan.commas,
    mode: plan.mode === "update" ? "update" : "replace",
    columns: plan.targets.flatMap((target, c) => {
      if (target === "") return [];
      return [{ name: names[c], to: target === "new" ? columns[next++].id : target }];
    }),
    atStart: false,
    readAt: new Date().toISOString(),
  };
}
