import { type Design, type Study, type Table, type TableLink, tablesOf } from "@busy-harbor/core";
import { api } from "../../api/client.ts";
import { chooseFile } from "../../ui/chooseFile.ts";
import { readFile } from "../readFile.ts";
import { SpreadsheetProblem } from "../spreadsheet/guard.ts";
import { cellsAt } from "./cellsAt.ts";
import { changesOf, type RowChange } from "./changes.ts";
import { type Refreshed, refreshed } from "./refreshed.ts";

export type Linked = Table & { readonly link: TableLink };

/** A linked table with what its file has now, or why that cannot be had. */
export type Fetched =
  | ({ readonly ok: true; readonly before: Linked; readonly changes: readonly RowChange[] } & Refreshed)
  | { readonly ok: false; readonly before: Linked; readonly message: string };

/** The tables of a design that are linked to a file. */
export const linkedOf = (study: Study, design: Pick<Design, "tables">): Linked[] =>
  tablesOf(study.tables, design.tables).filter((table): table is Linked => table.link !== undefined);

/** Where a table's rows come from, in words. */
export const sayFile = ({ folder, file, sheet }: TableLink): string =>
  `${folder === "" ? file : `${folder}/${file}`}${sheet === "" ? "" : `, sheet ${sheet}`}`;

/** Reads the file of a linked table as it is now; a file that is in no folder is chosen by the person. */
export async function fetchLinked(table: Linked, signal?: AbortSignal): Promise<Fetched> {
  const { link } = table;
  try {
    const bytes = link.folder === "" ? await chosenAgain(link) : await api.fileNow(link.folder, link.file, signal);
    const { cells, ranges } = await readFile(link.file, bytes, signal);
    const now = ranges ? cellsAt(ranges, link.sheet, link.cells, link.pinned) : cells;
    const found = refreshed(table, link, now);
    return { ok: true, before: table, ...found, changes: changesOf(table, found.table) };
  } catch (error) {
    if (error instanceof SpreadsheetProblem)
      return { ok: false, before: table, message: `${error.message} ${error.hint}`.trim() };
    if (signal?.aborted) return { ok: false, before: table, message: "Reading the file was stopped." };
    // Whatever else it is, who waits for the file hears of it.
    return { ok: false, before: table, message: error instanceof Error ? error.message : String(error) };
  }
}

async function chosenAgain({ file }: TableLink): Promise<Uint8Array<ArrayBuffer>> {
  const chosen = await chooseFile(".csv,.tsv,.txt,.xlsx,text/csv,text/plain");
  if (!chosen) throw new SpreadsheetProblem(`${file} was not chosen again.`, "");
  return new Uint8Array(await chosen.arrayBuffer());
}
