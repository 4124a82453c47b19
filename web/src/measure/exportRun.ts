import type { Study } from "@busy-harbor/core";
import { MOST_ROWS, type RunSummary } from "@busy-harbor/core/contract";
import { writeCsv } from "../grid/cells.ts";
import { saveFile } from "../ui/saveFile.ts";
import { runRows } from "./runRows.ts";

/**
 * Every value of every replication, for a spreadsheet: a row a measure; of very many replications a row each,
 * straight from the server.
 */
export async function exportRun(run: RunSummary, units: Study["units"], level: number): Promise<void> {
  if (run.finished > MOST_ROWS) {
    window.location.assign(`/api/runs/${run.id}/results.csv`);
    return;
  }
  const { head, rows } = await runRows(run, units, level);
  saveFile(`run-${run.number}.csv`, writeCsv([head, ...rows]), "text/csv");
}
