import type { KeptInRun, RunSummary } from "@busy-harbor/core/contract";
import type { Series } from "@busy-harbor/core/kept";
import type { Response } from "express";
import Papa from "papaparse";
import { drained } from "./drained.ts";
import { notFound } from "./problems.ts";

/**
 * Sends all that was kept of a measure for a spreadsheet: a row an observation, or a row a change of a level. SI units.
 */
export async function sendKept(
  response: Response,
  { number }: RunSummary,
  { sources, replications }: KeptInRun,
  source: number,
  seriesOf: (isLevel: boolean, replication: number) => Series,
): Promise<void> {
  if (!(source in sources)) throw notFound("kept measure");
  const { id, part, isLevel } = sources[source];
  response.attachment(`run-${number}, ${[id.replace("/", " "), part].filter(Boolean).join(" ")}.csv`);
  response.type("text/csv; charset=utf-8");
  response.write(`Replication,${isLevel ? "From (s)" : "At (s)"},Value\r\n`);
  for (const replication of replications) {
    for (const chunk of seriesOf(isLevel, replication).chunks()) {
      const rows = Array.from({ length: chunk.length / 2 }, (_, i) => [replication, chunk[2 * i], chunk[2 * i + 1]]);
      if (!response.write(`${Papa.unparse(rows, { newline: "\r\n" })}\r\n`)) await drained(response);
      if (response.destroyed) return;
    }
    await new Promise((resolve) => setImmediate(resolve));
  }
  response.end();
}
