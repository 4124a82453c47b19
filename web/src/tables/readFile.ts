import { isSpreadsheet, openSpreadsheet, openText } from "./spreadsheet/openSpreadsheet.ts";
import type { FilledRange } from "./spreadsheet/readWorkbook.ts";

/** The lines of a file: of one with sheets all filled ranges, of a text the whole. */
export interface FileRead {
  readonly cells: string[][];
  readonly ranges?: readonly FilledRange[];
  readonly notes?: readonly string[];
}

/** Reads a spreadsheet or a text. Throws a `SpreadsheetProblem` when it cannot be read or `signal` stops it. */
export async function readFile(name: string, bytes: Uint8Array, signal?: AbortSignal): Promise<FileRead> {
  if (!isSpreadsheet(name, bytes)) return { cells: await openText(bytes, signal) };
  const { ranges, notes } = await openSpreadsheet(bytes, signal);
  return { cells: ranges[0].cells, ranges, notes };
}
