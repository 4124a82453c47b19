import { useMemo } from "react";
import { groupBy } from "../groupBy.ts";
import { Hatch, type Part, PartsChart, type PartsRow } from "./PartsChart.tsx";
import type { Reading } from "./readings.ts";

/** What vehicles may be doing, in the order in which it is drawn, each with its fill. */
const PARTS: readonly Part[] = [
  ["loaded", "driving loaded", "var(--color-busy)"],
  ["empty", "driving empty", "url(#vehicle-empty)"],
  ["loading", "loading", "url(#vehicle-loading)"],
  ["unloading", "unloading", "url(#vehicle-unloading)"],
  ["returning", "returning home", "url(#vehicle-returning)"],
  ["cruising", "cruising", "url(#vehicle-cruising)"],
  ["atStop", "standing at a stop", "url(#vehicle-stop)"],
  ["refilling", "refilling", "url(#vehicle-refilling)"],
  ["heldUp", "held up by others", "url(#vehicle-held)"],
  ["down", "down", "url(#vehicle-down)"],
  ["offShift", "off shift", "url(#vehicle-off)"],
  ["idle", "idle", "var(--color-sheet)"],
];

/** What vehicles did, in shares of their time: a bar each fleet. */
export function VehicleShares({ readings }: { readings: readonly Reading[] }) {
  const rows = useMemo(
    () =>
      [
        ...groupBy(
          // Conveyors have shares of the same name, of other things that they do.
          readings.filter(({ measure }) => measure.ownerKind === "vehicle" && measure.measure === "doing"),
          ({ measure }) => measure.ownerId,
        ),
      ].map(([key, of]): PartsRow => ({
        key,
        name: of[0].measure.owner,
        mean: of.reduce((sum, { interval }) => sum + interval.mean, 0),
        parts: Object.fromEntries(of.map((reading) => [reading.measure.part ?? "", reading])),
      })),
    [readings],
  );
  return (
    <PartsChart
      title="What vehicles did with their time"
      rows={rows}
      parts={PARTS}
      unit="%"
      whole="All time"
      testId="vehicle-shares"
      scale={100}
      patterns={PATTERNS}
    />
  );
}

const PATTERNS = (
  <defs>
    <Hatch id="vehicle-empty" colour="var(--color-busy)" path="M0 3h6" />
    <Hatch id="vehicle-loading" colour="var(--color-setting)" path="M0 6L6 0" />
    <Hatch id="vehicle-unloading" colour="var(--color-setting)" path="M0 0L6 6" />
    <Hatch id="vehicle-cruising" colour="var(--color-off)" path="M0 0L6 6" />
    <Hatch id="vehicle-stop" colour="var(--color-soft)" path="M0 3h6" />
    <Hatch id="vehicle-refilling" colour="var(--color-needing)" path="M3 0v6" />
    <Hatch id="vehicle-held" colour="var(--color-blocked)" path="M0 6L6 0" />
    <Hatch id="vehicle-down" colour="var(--color-down)" path="M0 6L6 0M0 0L6 6" />
    <Hatch id="vehicle-off" colour="var(--color-off)" path="M0 3h6M3 0v6" />
    <Hatch id="vehicle-returning" colour="var(--color-off)" path="M3 0v6" />
  </defs>
);
