import type { Table } from "@busy-harbor/core";
import { expose, transfer } from "comlink";
import { SpreadsheetProblem } from "./guard.ts";
import { readText } from "./readText.ts";
import { readWorkbook, type WorkbookRead } from "./readWorkbook.ts";
import { putSheet, type SheetContent } from "./putSheet.ts";
import { writeWorkbook } from "./writeWorkbook.ts";

/** An error on its way to the page, which keeps no classes. */
type Refused = { readonly ok: false; readonly message: string; readonly hint: string };
export type OpenedWorkbook = { readonly ok: true; readonly workbook: WorkbookRead } | Refused;
export type TextRead = { readonly ok: true; readonly cells: string[][] } | Refused;
export type SheetPut = { readonly ok: true; readonly bytes: Uint8Array<ArrayBuffer> } | Refused;

async function orRefused<T>(work: () => Promise<T>): Promise<T | Refused> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof SpreadsheetProblem) return { ok: false, message: error.message, hint: error.hint };
    throw error;
  }
}

const thread = {
  read: (bytes: Uint8Array): Promise<OpenedWorkbook> =>
    orRefused(async () => ({ ok: true, workbook: await readWorkbook(bytes) })),
  readText: (bytes: Uint8Array): Promise<TextRead> =>
    orRefused<TextRead>(() => Promise.resolve({ ok: true, cells: readText(bytes) })),
  async put(bytes: Uint8Array | undefined, content: SheetContent): Promise<SheetPut> {
    const done = await orRefused<SheetPut>(async () => ({ ok: true, bytes: await putSheet(bytes, content) }));
    return done.ok ? transfer(done, [done.bytes.buffer]) : done;
  },
  async write(tables: readonly Table[]): Promise<Uint8Array<ArrayBuffer>> {
    const bytes = await writeWorkbook(tables);
    return transfer(bytes, [bytes.buffer]);
  },
};

export type SpreadsheetThread = typeof thread;

expose(thread);
