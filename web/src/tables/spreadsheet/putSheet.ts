import ExcelJS from "exceljs";
import { checkArchive, partsLost, SpreadsheetProblem } from "./guard.ts";

/** What a sheet gets: a line of names, and rows of numbers and texts. */
export interface SheetContent {
  readonly sheet: string;
  readonly head: readonly string[];
  readonly rows: readonly (readonly (string | number)[])[];
  /** Whether what stands on the sheet goes, or the rows go below it. */
  readonly mode: "clear" | "append";
}

/**
 * A spreadsheet with rows on a sheet of a name: a new one, or a given one, whose other sheets stay as they are. Throws
 * a `SpreadsheetProblem` for one that cannot be read, or that has parts which would be lost.
 */
export async function putSheet(
  bytes: Uint8Array | undefined,
  { sheet: name, head, rows, mode }: SheetContent,
): Promise<Uint8Array<ArrayBuffer>> {
  const workbook = new ExcelJS.Workbook();
  if (bytes) {
    checkArchive(bytes);
    const lost = partsLost(bytes);
    if (lost.length > 0)
      throw new SpreadsheetProblem(
        `The file has ${lost.join(", ")}, which would be lost.`,
        "Put the results into a file without them, and refer to it from there.",
      );
    try {
      await workbook.xlsx.load(bytes.slice().buffer as never);
    } catch (error) {
      throw new SpreadsheetProblem(
        `The file is damaged: ${error instanceof Error ? error.message : String(error)}.`,
        "Open it in an office program, save it anew, and try again.",
      );
    }
  }
  const known = workbook.worksheets.find((w) => w.name.toLowerCase() === name.toLowerCase());
  const sheet = known ?? workbook.addWorksheet(name, { views: [{ state: "frozen", ySplit: 1 }] });
  // Rows are emptied, not taken out: what refers to them from elsewhere still does.
  if (mode === "clear") sheet.eachRow((row) => row.eachCell((cell) => void (cell.value = null)));
  let last = mode === "clear" ? 0 : sheet.actualRowCount === 0 ? 0 : sheet.rowCount;
  const put = (row: readonly (string | number)[]) => {
    last += 1;
    row.forEach((value, c) => void (sheet.getCell(last, c + 1).value = value === "" ? null : value));
  };
  if (last === 0) {
    put(head);
    sheet.getRow(1).font = { bold: true };
  }
  rows.forEach(put);
  return Uint8Array.from(new Uint8Array(await workbook.xlsx.writeBuffer()));
}
