import type { Table } from "@busy-harbor/core";
import { expose, transfer } from "comlink";
import { SpreadsheetProblem } from "./guard.ts";
import { readWorkbook, type WorkbookRead } from "./readWorkbook.ts";
import { writeWorkbook } from "./writeWorkbook.ts";

/** An error on its way to the page, which keeps no classes. */
export type OpenedWorkbook =
  | { readonly ok: true; readonly workbook: WorkbookRead }
  | { readonly ok: false; readonly message: string; readonly hint: string };

const thread = {
  async read(bytes: Uint8Array): Promise<OpenedWorkbook> {
    try {
      return { ok: true, workbook: await readWorkbook(bytes) };
    } catch (error) {
      if (error instanceof SpreadsheetProblem) return { ok: false, message: error.message, hint: error.hint };
      throw error;
    }
  },
  async write(tables: readonly Table[]): Promise<Uint8Array<ArrayBuffer>> {
    const bytes = await writeWorkbook(tables);
    return transfer(bytes, [bytes.buffer]);
  },
};

export type SpreadsheetThread = typeof thread;

expose(thread);
