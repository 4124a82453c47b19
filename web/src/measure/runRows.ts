import type { Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useRuns } from "../state/runs.ts";
import { readingsOf } from "./readings.ts";

/** Every measure of a run as a row: whose and what, unit, mean and half-width, and the value of each replication. */
export async function runRows(
  run: RunSummary,
  units: Study["units"],
  level: number,
): Promise<{ readonly head: string[]; readonly rows: (string | number)[][] }> {
  const { fetchFigures, fetchColumns } = useRuns.getState();
  await fetchFigures(run.id);
  const figures = useRuns.getState().figures.get(run.id)!;
  await fetchColumns(
    run.id,
    figures.measures.map((_, i) => i),
    true,
  );
  const { columns } = useRuns.getState().figures.get(run.id)!;
  const replications = columns.get(0)?.replications ?? [];
  const cell = (value: number) => (Number.isFinite(value) ? value : "");
  return {
    head: ["Of", "Measure", "Unit", "Mean", "Half-width", ...replications.map((r) => `Replication ${r}`)],
    rows: readingsOf(figures, units, level).map(({ measure, unit, interval, index, factor }) => [
      measure.owner,
      measure.label,
      unit,
      cell(interval.mean),
      cell(interval.halfWidth),
      ...(columns.get(index)?.values ?? []).map((v) => cell(v / factor)),
    ]),
  };
}
