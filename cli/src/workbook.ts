import { writeFile } from "node:fs/promises";
import { UsageError } from "./console.ts";

type Cell = string | number;

/** Writes rows as the sheets of a spreadsheet, the first row of each standing as its head. */
export async function saveWorkbook(
  file: string,
  title: string,
  sheets: readonly (readonly [name: string, rows: readonly (readonly Cell[])[]])[],
): Promise<void> {
  const { default: ExcelJS } = await import("exceljs");
  const workbook = new ExcelJS.Workbook();
  for (const [name, rows] of sheets) {
    const sheet = workbook.addWorksheet(name, { views: [{ state: "frozen", ySplit: 1 }] });
    for (const row of rows) sheet.addRow([...row]);
    sheet.getRow(1).font = { bold: true };
  }
  workbook.title = title;
  try {
    await writeFile(file, Buffer.from(await workbook.xlsx.writeBuffer()));
  } catch (error) {
    throw new UsageError(`${file} cannot be written: ${error instanceof Error ? error.message : String(error)}.`);
  }
}
