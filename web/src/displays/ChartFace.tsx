import type { Display, DisplayModel, Study } from "@busy-harbor/core";
import { useMemo } from "react";
import { LineSample, StepChart } from "../charts/StepChart.tsx";
import type { Reading } from "./reading.ts";
import { factorOf, wordsOf } from "./words.ts";

const [WIDTH, HEIGHT] = [220, 96];
/** Seconds shown where the display does not say. */
const SPAN = 3600;

/** The recent past of the rows, one line each. */
export default function ChartFace({
  display,
  shown,
  reading,
  units,
  wall,
}: {
  display: Extract<Display, { kind: "chart" }>;
  shown: DisplayModel;
  reading: Reading;
  units: Study["units"];
  wall: (time: number) => number;
}) {
  const { curves, first } = reading;
  const span = shown.span && shown.span > 0 ? shown.span : SPAN;
  const until = Math.max(reading.time ?? 0, span);
  const series = useMemo(
    () =>
      display.rows.map((row, i) => {
        const { times = [], values = [] } = curves?.get(first + i) ?? {};
        const factor = factorOf(shown.values[i], units);
        return { name: `${i}: ${row.label}`, times, values: values.map((v) => v / factor) };
      }),
    [display, curves, first, shown, units],
  );
  const words = (i: number) => wordsOf(reading.values[first + i] ?? Number.NaN, shown.values[i], units);
  return (
    <div style={{ width: WIDTH }}>
      <div role="img" aria-label={display.rows.map((row, i) => `${row.label || row.value}: ${words(i)}`).join(", ")}>
        <StepChart
          series={series}
          since={until - span}
          until={until}
          now={reading.time ?? 0}
          wall={wall}
          width={WIDTH}
          height={HEIGHT}
        />
      </div>
      <ul className="flex flex-wrap gap-x-3 text-xs">
        {display.rows.map((row, i) => (
          <li key={i} className="flex items-center gap-1">
            <LineSample at={i} />
            {row.label || row.value} <span className="tabular-nums">{words(i)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
