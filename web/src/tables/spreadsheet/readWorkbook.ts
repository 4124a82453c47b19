import ExcelJS from "exceljs";
import { MOST_COLUMNS, MOST_ROWS } from "@busy-harbor/core";
import { lettersOf } from "./address.ts";
import { checkArchive, SpreadsheetProblem } from "./guard.ts";

/** A filled block of cells, with nothing around it. */
export interface FilledRange {
  readonly sheet: string;
  /** Such as B3:F20. */
  readonly address: string;
  readonly cells: string[][];
  /** Number in the sheet of each line's row: hidden rows are left out. */
  readonly rows: readonly number[];
}

export interface WorkbookRead {
  /** The fullest first, sheet after sheet. */
  readonly ranges: readonly FilledRange[];
  /** What could not be taken as it is, in sentences. */
  readonly notes: readonly string[];
}

/** Most cells that are read of a file. */
const MOST_CELLS = 4_000_000;
/** What of a sheet is not needed. */
const PASSED_OVER = ["dataValidations", "conditionalFormatting", "extLst", "drawing", "legacyDrawing", "pageSetup"];

interface Found {
  hidden: number;
  unknown: number;
  errors: number;
}

/** Reads an XLSX file: each filled range of each sheet as texts. Throws a `SpreadsheetProblem` where it cannot. */
export async function readWorkbook(bytes: Uint8Array): Promise<WorkbookRead> {
  checkArchive(bytes);
  const workbook = new ExcelJS.Workbook();
  try {
    await workbook.xlsx.load(bytes.slice().buffer as never, { ignoreNodes: PASSED_OVER });
  } catch (error) {
    throw new SpreadsheetProblem(
      `The file is damaged: ${error instanceof Error ? error.message : String(error)}.`,
      "Open it in an office program, save it anew, and try again.",
    );
  }
  const found: Found = { hidden: 0, unknown: 0, errors: 0 };
  const ranges = workbook.worksheets.flatMap((sheet) => (sheet.state === "visible" ? rangesOf(sheet, found) : []));
  if (ranges.length === 0)
    throw new SpreadsheetProblem("There are no filled cells in this file.", "Choose one with values in it.");
  const many = (count: number, one: string, more: string) =>
    count === 0 ? [] : [count === 1 ? one : `${count} ${more}`];
  return {
    ranges,
    notes: [
      ...many(found.hidden, "One hidden row was left out.", "hidden rows were left out."),
      ...many(found.unknown, "One formula has no value in the file.", "formulas have no value in the file."),
      ...many(found.errors, "One cell holds an error, and is empty here.", "cells hold errors, and are empty here."),
    ],
  };
}

function rangesOf(sheet: ExcelJS.Worksheet, found: Found): FilledRange[] {
  if (sheet.columnCount > MOST_COLUMNS * 4 || sheet.actualColumnCount > MOST_COLUMNS)
    throw new SpreadsheetProblem(
      `The sheet ${sheet.name} has ${sheet.columnCount} columns; a table has at most ${MOST_COLUMNS}.`,
      "Copy the columns that are wanted to a new file.",
    );
  const rows: Line[] = [];
  let [count, hidden] = [0, 0];
  sheet.eachRow((row, number) => {
    if (row.hidden) {
      found.hidden += 1;
      hidden += 1;
      return;
    }
    const cells: string[] = [];
    row.eachCell((cell, column) => {
      const text = textOf(valueOf(cell), cell.numFmt ?? "", found);
      if (text === "") return;
      cells[column - 1] = text;
      count += 1;
    });
    if (count > MOST_CELLS)
      throw new SpreadsheetProblem(
        `The sheet ${sheet.name} has more than ${MOST_CELLS / 1e6} million cells.`,
        "Take in a part of it.",
      );
    if (cells.length > 0) rows.push({ number, seen: number - hidden, cells });
  });
  if (rows.length > MOST_ROWS + 1)
    throw new SpreadsheetProblem(
      `The sheet ${sheet.name} has ${rows.length} rows; a table has at most ${MOST_ROWS}.`,
      "Take in a part of it.",
    );
  const width = rows.reduce((most, { cells }) => Math.max(most, cells.length), 0);
  return rangesIn(sheet.name, rows, 0, width - 1);
}

/** A row with its number in the sheet, and among those that are not hidden. */
interface Line {
  readonly number: number;
  readonly seen: number;
  readonly cells: string[];
}

/** Rows that follow one another; hidden rows between them are no gap. */
function bands(rows: readonly Line[]): Line[][] {
  const found: Line[][] = [];
  for (const row of rows) {
    const last = found.at(-1);
    if (last && row.seen - last[last.length - 1].seen <= 1) last.push(row);
    else found.push([row]);
  }
  return found;
}

/** The filled ranges among some rows, between two columns: parted by empty rows and columns, again and again. */
function rangesIn(sheet: string, lines: readonly Line[], from: number, to: number): FilledRange[] {
  const parts = bands(lines.filter(({ cells }) => hasAny(cells, from, to)));
  const found = parts.flatMap((part) => columnsOf(part, from, to).map(([a, b]) => ({ part, a, b })));
  const [only] = found;
  if (found.length === 1 && only.a === from && only.b === to && only.part.length === lines.length)
    return [rangeOf(sheet, lines, from, to)];
  return found.flatMap(({ part, a, b }) => rangesIn(sheet, part, a, b));
}

function hasAny(cells: readonly string[], from: number, to: number): boolean {
  for (let c = from; c <= to; c++) if (cells[c] !== undefined) return true;
  return false;
}

/** First and last of the columns that follow one another and are filled in any of the rows. */
function columnsOf(lines: readonly Line[], from: number, to: number): [number, number][] {
  const filled = new Set<number>();
  for (const { cells } of lines) cells.forEach((_, column) => filled.add(column));
  const groups: [number, number][] = [];
  for (let c = from; c <= to; c++) {
    if (!filled.has(c)) continue;
    const last = groups.at(-1);
    if (last && last[1] === c - 1) last[1] = c;
    else groups.push([c, c]);
  }
  return groups;
}

function rangeOf(sheet: string, lines: readonly Line[], from: number, to: number): FilledRange {
  const [top, bottom] = [lines[0].number, lines[lines.length - 1].number];
  return {
    sheet,
    address: `${lettersOf(from + 1)}${top}:${lettersOf(to + 1)}${bottom}`,
    cells: lines.map(({ cells }) => Array.from({ length: to - from + 1 }, (_, c) => cells[from + c] ?? "")),
    rows: lines.map(({ number }) => number),
  };
}

const DAY = 86_400_000;
/** The day from which spreadsheets count. */
const FIRST = Date.UTC(1899, 11, 30);

/** What a cell holds; of a formula, its value: as the package gives it whole, one of 0 or no is left out. */
function valueOf(cell: ExcelJS.Cell): ExcelJS.CellValue {
  if (cell.type !== ExcelJS.ValueType.Formula) return cell.value;
  return cell.result === undefined ? { formula: cell.formula } : (cell.result as ExcelJS.CellValue);
}

/** A cell as a person reads it, in words that a table understands. */
function textOf(value: ExcelJS.CellValue, format: string, found: Found): string {
  if (value === null || value === undefined) return "";
  if (typeof value === "number") return format.includes("%") ? `${short(value * 100)} %` : short(value);
  if (typeof value === "string") return value.trim();
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (value instanceof Date) return momentOf(value, format);
  if ("error" in value) {
    found.errors += 1;
    return "";
  }
  if ("richText" in value)
    return value.richText
      .map(({ text }) => text)
      .join("")
      .trim();
  if ("hyperlink" in value) return textOf(value.text as ExcelJS.CellValue, format, found);
  if (value.result === undefined) {
    found.unknown += 1;
    return "";
  }
  return textOf(value.result as ExcelJS.CellValue, format, found);
}

/** Without the last digits that come of counting in twos. */
const short = (value: number): string => String(Number(value.toPrecision(15)));

const two = (n: number) => String(n).padStart(2, "0");

/** A date, a date and time, or, where the format shows no day, a duration in hours. */
function momentOf(date: Date, format: string): string {
  const seconds = Math.round((date.getTime() - FIRST) / 1000);
  if (
    /h|s/i.test(format) &&
    !/[yd]/i.test(format.replace(/\[[^\]]*\]/g, (inner) => (/[hms]/i.test(inner) ? inner : "")))
  )
    return `${Math.floor(seconds / 3600)}:${two(Math.floor(seconds / 60) % 60)}${seconds % 60 === 0 ? "" : `:${two(seconds % 60)}`}`;
  const text = new Date(FIRST + seconds * 1000).toISOString();
  return seconds % (DAY / 1000) === 0
    ? text.slice(0, 10)
    : `${text.slice(0, 10)} ${text.slice(11, seconds % 60 === 0 ? 16 : 19)}`;
}
