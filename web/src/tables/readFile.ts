import { readBlock } from "../grid/cells.ts";
import { SpreadsheetProblem } from "./spreadsheet/guard.ts";
import { isSpreadsheet, openSpreadsheet } from "./spreadsheet/openSpreadsheet.ts";
import type { FilledRange } from "./spreadsheet/readWorkbook.ts";

/** The lines of a file: of one with sheets all filled ranges, of a text the whole. */
export interface FileRead {
  readonly cells: string[][];
  readonly ranges?: readonly FilledRange[];
  readonly notes?: readonly string[];
}

/** Reads a spreadsheet or a text. Throws a `SpreadsheetProblem` when it cannot be read or `signal` stops it. */
export async function readFile(name: string, bytes: Uint8Array, signal?: AbortSignal): Promise<FileRead> {
  if (isSpreadsheet(name, bytes)) {
    const { ranges, notes } = await openSpreadsheet(bytes, signal);
    return { cells: ranges[0].cells, ranges, notes };
  }
  const { cells, problem } = readBlock(decoded(bytes));
  if (problem) throw new SpreadsheetProblem(problem, "");
  return { cells };
}

/** A text as UTF-8; as office programs of old write it where it is none. */
function decoded(bytes: Uint8Array): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}
