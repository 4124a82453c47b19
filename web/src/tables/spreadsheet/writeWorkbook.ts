import type { Column, Table } from "@busy-harbor/core";
import ExcelJS from "exceljs";

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
const MOMENT = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{1,2}:\d{2}(?::\d{2})?))?$/;
const HOURS = /^(\d+):([0-5]\d)(?::([0-5]\d))?$/;
const FORBIDDEN = /[\\/?*[\]:]/g;

/** Writes tables as an XLSX file, a sheet each: numbers as numbers, dates as dates, all else as text. */
export async function writeWorkbook(tables: readonly Table[]): Promise<Uint8Array<ArrayBuffer>> {
  const workbook = new ExcelJS.Workbook();
  const names = new Set<string>();
  for (const table of tables) {
    let name = table.name.replace(FORBIDDEN, " ").slice(0, 28) || "Table";
    for (let n = 2; names.has(name.toLowerCase()); n++) name = `${name.slice(0, 25)} ${n}`;
    names.add(name.toLowerCase());
    const sheet = workbook.addWorksheet(name, { views: [{ state: "frozen", ySplit: 1 }] });
    sheet.addRow(table.columns.map(({ name: column, unit }) => (unit === "" ? column : `${column} (${unit})`)));
    sheet.getRow(1).font = { bold: true };
    for (const cells of table.rows) {
      const row = sheet.addRow(table.columns.map((column, c) => valueOf(column, (cells[c] ?? "").trim())));
      table.columns.forEach(({ holds }, c) => {
        if (holds === "date") row.getCell(c + 1).numFmt = "yyyy-mm-dd hh:mm";
        else if (holds === "duration" && HOURS.test(cells[c] ?? "")) row.getCell(c + 1).numFmt = "[h]:mm:ss";
      });
    }
  }
  // What it gives is a kind of its own, which cannot be handed to another thread.
  return Uint8Array.from(new Uint8Array(await workbook.xlsx.writeBuffer()));
}

function valueOf({ holds }: Column, text: string): ExcelJS.CellValue {
  if (text === "") return null;
  const [, h, m, s] = HOURS.exec(text) ?? [];
  if (holds === "duration" && h !== undefined) return (Number(h) * 3600 + Number(m) * 60 + Number(s ?? 0)) / 86_400;
  const [, date, time = "00:00"] = MOMENT.exec(text) ?? [];
  if (holds === "date" && date !== undefined) return new Date(`${date}T${time.padStart(5, "0")}Z`);
  if (holds === "yes or no") return text.toLowerCase() === "yes" || text.toLowerCase() === "true";
  return (holds === "number" || holds === "duration") && NUMBER.test(text) ? Number(text) : text;
}
