import type { Study } from "@busy-harbor/core";
import { MOST_ROWS, type RunSummary } from "@busy-harbor/core/contract";
import { writeCsv } from "../grid/cells.ts";
import { useRuns } from "../state/runs.ts";
import { saveFile } from "../ui/saveFile.ts";
import { readingsOf } from "./readings.ts";

/**
 * Every value of every replication, for a spreadsheet: a row a measure; of very many replications a row each,
 * straight from the server.
 */
export async function exportRun(run: RunSummary, units: Study["units"], level: number): Promise<void> {
  if (run.finished > MOST_ROWS) {
    window.location.assign(`/api/runs/${run.id}/results.csv`);
    return;
  }
  const { fetchFigures, fetchColumns } = useRuns.getState();
  await fetchFigures(run.id);
  const figures = useRuns.getState().figures.get(run.id)!;
  await fetchColumns(
    run.id,
    figures.measures.map((_, i) => i),
    true,
  );
  const { columns } = useRuns.getState().figures.get(run.id)!;
  const readings = readingsOf(figures, units, level);
  const replications = columns.get(0)?.replications ?? [];
  const cell = (value: number) => (Number.isFinite(value) ? value : "");
  const rows = readings.map(({ measure, unit, interval, index, factor }) => [
    measure.owner,
    measure.label,
    unit,
    cell(interval.mean),
    cell(interval.halfWidth),
    ...(columns.get(index)?.values ?? []).map((v) => cell(v / factor)),
  ]);
  const text = writeCsv([
    ["Of", "Measure", "Unit", "Mean", "Half-width", ...replications.map((r) => `Replication ${r}`)],
    ...rows,
  ]);
  saveFile(`run-${run.number}.csv`, text, "text/csv");
}
