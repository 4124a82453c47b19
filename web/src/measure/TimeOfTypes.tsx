import { useMemo } from "react";
import { Hatch, PartsChart, type PartsRow } from "./PartsChart.tsx";
import type { Reading } from "./readings.ts";

/** Parts of the time in system, in the order in which they are drawn, each with its fill. */
const PARTS = [
  ["waiting", "waiting in lines", "var(--color-amber)"],
  ["waitingForVehicle", "waiting for a vehicle", "url(#time-asked)"],
  ["blocked", "blocked", "url(#time-blocked)"],
  ["stood", "standing still", "url(#time-stood)"],
  ["worked", "worked on", "var(--color-busy)"],
  ["moving", "moving", "url(#time-moving)"],
  ["carried", "carried", "url(#time-carried)"],
  ["dwelling", "dwelling", "var(--color-setting)"],
  ["held", "held inside another", "url(#time-held)"],
] as const;
/** Types and exits drawn: of more nobody reads all. */
const MOST_ROWS = 30;

/** Where the time of entities goes: the mean time in system of each type, and by exit, in its parts. */
export function TimeOfTypes({ readings }: { readings: readonly Reading[] }) {
  const rows = useMemo(() => rowsOf(readings), [readings]);
  const unit = readings.find(({ measure }) => measure.measure === "timeInSystem")?.unit ?? "";
  return (
    <PartsChart
      title="Where the time of entities goes"
      rows={rows}
      parts={PARTS}
      unit={unit}
      whole="Mean time in system"
      testId="time-of-types"
      patterns={PATTERNS}
    />
  );
}

const PATTERNS = (
  <defs>
    <Hatch id="time-asked" colour="var(--color-amber)" path="M0 6L6 0" />
    <Hatch id="time-carried" colour="var(--color-busy)" path="M0 3h6" />
    <Hatch id="time-blocked" colour="var(--color-blocked)" path="M0 6L6 0" />
    <Hatch id="time-stood" colour="var(--color-off)" path="M3 0v6" />
    <Hatch id="time-moving" colour="var(--color-action)" path="M0 3h6" />
    <Hatch id="time-held" colour="var(--color-soft)" path="M0 6L6 0M0 0L6 6" />
  </defs>
);

/** A row for each type, and below it one for each exit where there are several. */
function rowsOf(readings: readonly Reading[]): PartsRow[] {
  const rows = new Map<string, { name: string; parts: Partial<Record<string, Reading>> }>();
  const means = new Map<string, number>();
  for (const reading of readings) {
    const { ownerKind, ownerId, owner, measure, part, each, label } = reading.measure;
    if (ownerKind === "entity type" && measure === "timeInSystem" && part === "mean")
      means.set(ownerId, reading.interval.mean);
    if (ownerKind === "departures" && measure === "timeInSystem" && part === "mean" && each !== undefined)
      means.set(`${each} ${ownerId}`, reading.interval.mean);
    const of = PARTS.find(([name]) => name === measure);
    if (ownerKind !== "entity type" || !of) continue;
    const key = each === undefined ? ownerId : `${ownerId} ${each}`;
    const exit = each === undefined ? "" : ` by ${label.slice(0, label.lastIndexOf(": "))}`;
    const row = rows.get(key) ?? { name: owner + exit, parts: {} };
    row.parts[of[0]] = reading;
    rows.set(key, row);
  }
  return (
    [...rows]
      .map(([key, row]): PartsRow => {
        const sum = PARTS.reduce((s, [part]) => s + (row.parts[part]?.interval.mean ?? 0), 0);
        return { ...row, key, mean: means.get(key) ?? sum };
      })
      // Who never leaves by an exit has no time there.
      .filter(({ mean }) => Number.isFinite(mean))
      .slice(0, MOST_ROWS)
  );
}
