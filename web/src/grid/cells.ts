import Papa from "papaparse";

/**
 * Reads a block of cells, as spreadsheets copy them (tabs) or write them (commas,
 * semicolons). `problem` says what is wrong with text that cannot be told apart into cells.
 */
export function readBlock(text: string): { readonly cells: string[][]; readonly problem?: string } {
  const tabs = text.includes("\t");
  const { data, errors } = Papa.parse<string[]>(
    text.replace(/\r?\n$/, ""),
    tabs ? { delimiter: "\t" } : { delimitersToGuess: [",", ";", "|"] },
  );
  const quotes = errors.find((e) => e.type === "Quotes");
  if (quotes)
    return {
      cells: [],
      problem: `A quotation mark in row ${(quotes.row ?? 0) + 1} is not closed, so its cells cannot be told apart. Close it, or leave it out.`,
    };
  const cells = data.filter((row) => row.some((cell) => cell.trim() !== ""));
  return cells.length === 0 ? { cells, problem: "There are no cells in it." } : { cells };
}

/** The block as tab-separated text for a spreadsheet. */
export const writeBlock = (rows: readonly (readonly string[])[]): string =>
  Papa.unparse(rows as string[][], { delimiter: "\t", newline: "\n" });

/** The block as comma-separated text for a file. */
export const writeCsv = (rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse(rows as (string | number)[][], { newline: "\r\n" })}\r\n`;
