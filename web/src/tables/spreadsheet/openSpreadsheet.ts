import type { Table } from "@busy-harbor/core";
import { wrap } from "comlink";
import { SpreadsheetProblem } from "./guard.ts";
import type { WorkbookRead } from "./readWorkbook.ts";
import type { SheetContent } from "./putSheet.ts";
import type { OpenedWorkbook, SheetPut, SpreadsheetThread, TextRead } from "./spreadsheet.worker.ts";

/** Longest time that reading a file may take, in ms. */
const MOST_TIME = 60_000;

/** Has a thread of its own do something, and ends it after: what it held of a large file is given up with it. */
async function inThread<T>(
  work: (thread: ReturnType<typeof wrap<SpreadsheetThread>>) => Promise<T>,
  signal?: AbortSignal,
): Promise<T> {
  const worker = new Worker(new URL("./spreadsheet.worker.ts", import.meta.url), { type: "module" });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stopped = new Promise<never>((_, reject) => {
    const late = new SpreadsheetProblem("This takes too long.", "Take in a part of it, or save it as CSV.");
    timer = setTimeout(() => reject(late), MOST_TIME);
    signal?.addEventListener("abort", () => reject(new SpreadsheetProblem("Reading the file was stopped.", "")));
    worker.addEventListener("error", () =>
      reject(new SpreadsheetProblem("The file could not be held in memory.", "Take in a part of it.")),
    );
  });
  try {
    return await Promise.race([work(wrap<SpreadsheetThread>(worker)), stopped]);
  } finally {
    clearTimeout(timer);
    worker.terminate();
  }
}

/** Reads an XLSX file off this thread. Throws a `SpreadsheetProblem` when it cannot be read or `signal` stops it. */
export async function openSpreadsheet(bytes: Uint8Array, signal?: AbortSignal): Promise<WorkbookRead> {
  const opened = await inThread<OpenedWorkbook>((thread) => thread.read(bytes), signal);
  if (!opened.ok) throw new SpreadsheetProblem(opened.message, opened.hint);
  return opened.workbook;
}

/** Reads a text of cells off this thread, as `openSpreadsheet` does a spreadsheet. */
export async function openText(bytes: Uint8Array, signal?: AbortSignal): Promise<string[][]> {
  const read = await inThread<TextRead>((thread) => thread.readText(bytes), signal);
  if (!read.ok) throw new SpreadsheetProblem(read.message, read.hint);
  return read.cells;
}

/** Tables as the bytes of an XLSX file, a sheet each. */
export const saveSpreadsheet = (tables: readonly Table[]): Promise<Uint8Array<ArrayBuffer>> =>
  inThread((thread) => thread.write(tables));

/** Puts rows on a named sheet of a spreadsheet, or of a new one. Throws a `SpreadsheetProblem` where it cannot be. */
export async function saveSheet(
  bytes: Uint8Array | undefined,
  content: SheetContent,
): Promise<Uint8Array<ArrayBuffer>> {
  const put = await inThread<SheetPut>((thread) => thread.put(bytes, content));
  if (!put.ok) throw new SpreadsheetProblem(put.message, put.hint);
  return put.bytes;
}

export const isSpreadsheet = (name: string, bytes: Uint8Array): boolean =>
  /\.xlsx?$/i.test(name) || (bytes[0] === 0x50 && bytes[1] === 0x4b);
