import type { Response } from "express";
import Papa from "papaparse";
import { dimensionSymbol } from "@busy-harbor/core";
import type { MeasureInfo, RunSummary } from "@busy-harbor/core/contract";
import { drained } from "./drained.ts";

interface Finished {
  readonly number: number;
  readonly values: Float64Array;
  readonly errors: Float64Array | undefined;
}

/**
 * Sends all of a run as one JSON document, page by page, as fast as it is taken: however large, it is never in memory
 * whole, and others are served between.
 */
export async function sendResults(
  response: Response,
  run: RunSummary,
  measures: readonly MeasureInfo[],
  pages: AsyncIterable<readonly Finished[]>,
): Promise<void> {
  response.type("application/json");
  response.write(`{"run":${JSON.stringify(run)},"measures":${JSON.stringify(measures)},"replications":[`);
  let first = true;
  for await (const page of pages) {
    const text = page.map((replication) => rowOf(replication)).join(",");
    if (!response.write((first ? "" : ",") + text)) await drained(response);
    if (response.destroyed) return;
    first = false;
    await new Promise((resolve) => setImmediate(resolve));
  }
  response.end("]}");
}

function rowOf({ number, values, errors }: Finished): string {
  const pairs = errors ? Array.from({ length: errors.length / 2 }, (_, i) => [errors[2 * i], errors[2 * i + 1]]) : [];
  // What is no number is written as null.
  return JSON.stringify({ number, values: [...values], ...(pairs.length > 0 ? { errors: pairs } : {}) });
}

/** The same for a spreadsheet: a row a replication, a column a measure, SI units. */
export async function sendCsv(
  response: Response,
  run: RunSummary,
  measures: readonly MeasureInfo[],
  pages: AsyncIterable<readonly Finished[]>,
): Promise<void> {
  response.set({
    "content-type": "text/csv; charset=utf-8",
    "content-disposition": `attachment; filename="run-${run.number}.csv"`,
  });
  const lines = (rows: (string | number)[][]) => `${Papa.unparse(rows, { newline: "\r\n" })}\r\n`;
  response.write(
    lines([["Replication", ...measures.map((m) => `${m.owner}: ${m.label} (${dimensionSymbol(m.dimension)})`)]]),
  );
  for await (const page of pages) {
    const text = lines(
      page.map(({ number, values }) => [number, ...Array.from(values, (v) => (Number.isFinite(v) ? v : ""))]),
    );
    if (!response.write(text)) await drained(response);
    if (response.destroyed) return;
    await new Promise((resolve) => setImmediate(resolve));
  }
  response.end();
}
