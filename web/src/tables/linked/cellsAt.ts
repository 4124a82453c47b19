import { type Block, blockOf } from "../spreadsheet/address.ts";
import { SpreadsheetProblem } from "../spreadsheet/guard.ts";
import type { FilledRange } from "../spreadsheet/readWorkbook.ts";

/**
 * The range of a sheet that a table is linked to, in the file as it is now: the filled range that begins at the first
 * cell or has it in it, from that cell on; or just the cells of the address, where they are pinned. Throws a
 * `SpreadsheetProblem` where the sheet or the range is gone.
 */
export function cellsAt(ranges: readonly FilledRange[], sheet: string, address: string, pinned: boolean): string[][] {
  const ofSheet = ranges.filter((range) => range.sheet === sheet);
  if (ofSheet.length === 0) {
    const sheets = [...new Set(ranges.map((range) => range.sheet))].join(", ");
    throw new SpreadsheetProblem(`The file has no filled sheet "${sheet}".`, `It has ${sheets}. Link the table anew.`);
  }
  const wanted = blockOf(address);
  if (!wanted) throw new SpreadsheetProblem(`"${address}" is no range of cells.`, "Link the table anew.");
  if (pinned) return pinnedCells(ofSheet, wanted);
  const within = ofSheet.find((range) => {
    const block = blockOf(range.address)!;
    return (
      block.left <= wanted.left && wanted.left <= block.right && block.top <= wanted.top && wanted.top <= block.bottom
    );
  });
  if (!within)
    throw new SpreadsheetProblem(
      `Nothing stands at ${address.split(":")[0]} of the sheet ${sheet} any more.`,
      "Link the table anew, to where its rows are now.",
    );
  const { left } = blockOf(within.address)!;
  const from = within.rows.findIndex((row) => row >= wanted.top);
  return within.cells.slice(from).map((line) => line.slice(wanted.left - left));
}

function pinnedCells(ranges: readonly FilledRange[], { left, top, right, bottom }: Block): string[][] {
  const byRow = new Map<number, string[]>();
  for (const range of ranges) {
    const block = blockOf(range.address)!;
    range.rows.forEach((row, i) => {
      if (row < top || row > bottom) return;
      const line = byRow.get(row) ?? new Array<string>(right - left + 1).fill("");
      for (let column = Math.max(left, block.left); column <= Math.min(right, block.right); column++)
        line[column - left] = range.cells[i][column - block.left];
      byRow.set(row, line);
    });
  }
  const filled = [...byRow].sort(([a], [b]) => a - b).map(([, line]) => line);
  if (filled.length === 0)
    throw new SpreadsheetProblem("The pinned cells are empty.", "Pin others, or let the range follow its rows.");
  return filled;
}
