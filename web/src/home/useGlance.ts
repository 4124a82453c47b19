import { formatNumber, type Study } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useEffect, useState } from "react";
import { api } from "../api/client.ts";
import { meanText, readingsOf } from "../measure/readings.ts";

/** What is seen of a study before it is opened. */
export interface Glance {
  readonly study: Study;
  readonly lastRun?: RunSummary;
  /** What the last run found, in words. */
  readonly found?: string;
}

/** Fetches what a study is at a glance, once its row is on screen; anew when it has changed. */
export function useGlance(id: string, revision: number, isInSight: boolean): Glance | undefined {
  const [glance, setGlance] = useState<Glance>();
  useEffect(() => {
    if (!isInSight) return;
    let isWanted = true;
    void glanceAt(id, (next) => isWanted && setGlance(next));
    return () => void (isWanted = false);
  }, [id, revision, isInSight]);
  return glance;
}

async function glanceAt(id: string, tell: (glance: Glance) => void): Promise<void> {
  try {
    const { study } = await api.study(id);
    tell({ study });
    const runs = await api.runs(id);
    const lastRun = runs.toSorted((a, b) => b.number - a.number).find((r) => r.finished > 0);
    if (!lastRun) return;
    tell({ study, lastRun });
    const [measures, statistics] = await Promise.all([api.measures(lastRun.id), api.statistics(lastRun.id)]);
    tell({ study, lastRun, found: headline(study, lastRun, measures, statistics) });
  } catch {
    // The row does without: opening the study says what is wrong.
  }
}

/** The mean time in the system of the first type that left it. */
function headline(
  study: Study,
  run: RunSummary,
  measures: Awaited<ReturnType<typeof api.measures>>,
  statistics: Float64Array,
): string | undefined {
  const { level } = study.run;
  const reading = readingsOf({ measures, statistics, columns: new Map() }, study.units, level).find(
    ({ measure, interval }) =>
      measure.measure === "timeInSystem" && measure.part === "mean" && Number.isFinite(interval.mean),
  );
  if (!reading) return undefined;
  const { mean, halfWidth } = meanText(reading.interval);
  const sure = halfWidth
    ? ` ± ${halfWidth} ${reading.unit} at ${formatNumber(level * 100)} %`
    : ` ${reading.unit}, a single sample`;
  return `${run.designName}: ${reading.measure.owner} spent ${mean}${sure} in the system, on average`;
}
