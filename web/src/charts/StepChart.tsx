import { formatClock, formatNumber, type Steps } from "@busy-harbor/core";
import { memo, useMemo } from "react";
import { Line, LineChart, XAxis, YAxis, CartesianGrid } from "recharts";

/** Colours and dashes of lines on the same axes. */
export const SERIES = ["var(--color-action)", "var(--color-buoy)", "var(--color-blocked)", "var(--color-amber)"];
export const DASHES = [undefined, "5 3", "2 2", "8 3 2 3"];

export interface StepSeries extends Steps {
  readonly name: string;
}

const TICK = { fontSize: 11, fill: "var(--color-soft)" };

/**
 * Levels over time as what they are: each value holds until the next. Values are in the unit shown; times in seconds,
 * written on the axis as the clock on the wall has them.
 */
export const StepChart = memo(function StepChart({
  series,
  since,
  until,
  now = until,
  wall,
  width,
  height,
}: {
  series: readonly StepSeries[];
  since: number;
  until: number;
  /** Up to when anything is known, where the axis goes on. */
  now?: number;
  wall: (time: number) => number;
  width: number;
  height: number;
}) {
  const lines = useMemo(() => series.map((s) => pointsOf(s, since, Math.min(now, until))), [series, since, now, until]);
  return (
    <LineChart
      width={width}
      height={height}
      margin={{ top: 6, right: 6, bottom: 0, left: 0 }}
      accessibilityLayer={false}
    >
      <CartesianGrid stroke="var(--color-line)" vertical={false} />
      <XAxis
        type="number"
        dataKey="time"
        domain={[since, Math.max(until, since + 1)]}
        ticks={[since, until]}
        interval={0}
        tick={EndTick as never}
        tickFormatter={(time: number) => formatClock(wall(time))}
        tickLine={false}
        stroke="var(--color-ink)"
        height={18}
      />
      <YAxis
        type="number"
        width={30}
        domain={[(least: number) => Math.min(0, least), "auto"]}
        allowDecimals={lines.some((points) => points.some((p) => !Number.isInteger(p.value)))}
        tickCount={4}
        tick={TICK}
        tickFormatter={(value: number) => formatNumber(value, 3)}
        tickLine={false}
        axisLine={false}
      />
      {lines.map((points, i) => (
        <Line
          key={series[i].name}
          data={points}
          dataKey="value"
          type="stepAfter"
          stroke={SERIES[i % SERIES.length]}
          strokeDasharray={DASHES[i % DASHES.length]}
          strokeWidth={1.6}
          dot={false}
          activeDot={false}
          connectNulls={false}
          isAnimationActive={false}
        />
      ))}
    </LineChart>
  );
});

/** The two ends of the time axis, written inside of it. */
function EndTick({
  x,
  y,
  payload,
  tickFormatter,
  index,
}: {
  x: number;
  y: number;
  index: number;
  payload: { value: number };
  tickFormatter: (value: number) => string;
}) {
  return (
    <text x={x} y={y + 8} textAnchor={index === 0 ? "start" : "end"} fontSize={11} fill="var(--color-soft)">
      {tickFormatter(payload.value)}
    </text>
  );
}

/** The changes from a time on, with the value it begins with and the one it holds when all that is known ends. */
function pointsOf({ times, values }: Steps, since: number, until: number): { time: number; value: number | null }[] {
  let first = 0;
  while (first + 1 < times.length && times[first + 1] <= since) first++;
  const points = times
    .slice(first)
    .map((time, i) => ({ time: Math.max(time, since), value: finite(values[first + i]) }));
  const last = points.at(-1);
  if (last && last.time < until) points.push({ time: until, value: last.value });
  return points;
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** A stretch of the n-th line, for the words beside its name. */
export function LineSample({ at }: { at: number }) {
  return (
    <svg width={22} height={8} aria-hidden className="shrink-0">
      <line
        x1={0}
        x2={22}
        y1={4}
        y2={4}
        stroke={SERIES[at % SERIES.length]}
        strokeWidth={2}
        strokeDasharray={DASHES[at % DASHES.length]}
      />
    </svg>
  );
}
