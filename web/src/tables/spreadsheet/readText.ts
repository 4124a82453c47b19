import { MOST_COLUMNS, MOST_HEADER_LINES, MOST_ROWS } from "@busy-harbor/core";
import { readBlock } from "../../grid/cells.ts";
import { SpreadsheetProblem } from "./guard.ts";

/** Reads a text of cells: commas, semicolons or tabs between them. Throws a `SpreadsheetProblem` where it cannot. */
export function readText(bytes: Uint8Array): string[][] {
  const { cells, problem } = readBlock(decoded(bytes));
  if (problem) throw new SpreadsheetProblem(problem, "");
  if (cells.length > MOST_ROWS + MOST_HEADER_LINES)
    throw new SpreadsheetProblem(
      `The text has ${cells.length} lines; a table has at most ${MOST_ROWS} rows.`,
      "Take in a part of it.",
    );
  const width = cells.reduce((most, line) => Math.max(most, line.length), 0);
  if (width > MOST_COLUMNS)
    throw new SpreadsheetProblem(
      `The text has ${width} columns; a table has at most ${MOST_COLUMNS}.`,
      "Take in those that are wanted.",
    );
  return cells;
}

/** A text as UTF-8; as office programs of old write it where it is none. */
function decoded(bytes: Uint8Array): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}
