import type { Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useEffect, useMemo } from "react";
import { useRuns } from "../../state/runs.ts";
import { type Reading, readingsOf } from "../readings.ts";
import { announce } from "../../ui/announce.ts";

/** Another run, with its readings and their positions by their keys; undefined until those are there. */
export function useOther(
  id: string,
  { units, run: { level } }: Study,
):
  | {
      readonly run: RunSummary;
      readonly indexOf: ReadonlyMap<string, number>;
      readonly readings: readonly Reading[];
    }
  | undefined {
  const run = useRuns((s) => s.runs.find((r) => r.id === id));
  const figures = useRuns((s) => s.figures.get(id));
  const measures = figures?.measures;
  const fetchFigures = useRuns((s) => s.fetchFigures);
  useEffect(() => {
    if (id === "" || measures) return;
    fetchFigures(id).catch((error: unknown) => announce(error instanceof Error ? error.message : String(error), true));
  }, [id, measures, fetchFigures]);
  const indexOf = useMemo(() => measures && new Map(measures.map(({ key }, i) => [key, i])), [measures]);
  const readings = useMemo(() => (figures ? readingsOf(figures, units, level) : []), [figures, units, level]);
  return useMemo(() => (run && indexOf ? { run, indexOf, readings } : undefined), [run, indexOf, readings]);
}
