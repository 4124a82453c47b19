import { formatNumber, type Interval } from "@busy-harbor/core";
import { memo, useMemo } from "react";
import {
  CartesianGrid,
  ReferenceArea,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  ScatterChart,
  XAxis,
  YAxis,
} from "recharts";
import { useSlowly } from "./useSlowly.ts";
import type { Reading } from "./readings.ts";

/** Most points drawn, as each is a shape of its own; of more values every so-manieth is taken. */
const MOST_POINTS = 160;

/** The chosen measure by replication, with its mean and interval. */
export function ReplicationDots({
  reading: { measure, interval },
  values,
}: {
  reading: Reading;
  /** By replication, in the unit shown. */
  values: readonly number[];
}) {
  // The drawing is much to draw: while figures grow it follows once a second, and at once when another measure is
  // chosen.
  const drawn = useSlowly(useMemo(() => ({ key: measure.key, values, interval }), [measure.key, values, interval]));
  return <Dots values={drawn.values} interval={drawn.interval} />;
}

const Dots = memo(function Dots({ values, interval }: { values: readonly number[]; interval: Interval }) {
  const step = Math.max(1, Math.ceil(values.length / MOST_POINTS));
  const points = values
    .map((value, i) => ({ replication: i + 1, value }))
    .filter((p, i) => i % step === 0 && Number.isFinite(p.value));
  const low = interval.mean - interval.halfWidth;
  const high = interval.mean + interval.halfWidth;
  return (
    <ResponsiveContainer>
      <ScatterChart margin={{ top: 8, right: 8, bottom: 4, left: 4 }}>
        <CartesianGrid stroke="var(--color-line)" vertical={false} />
        <XAxis
          type="number"
          dataKey="replication"
          domain={[0.5, values.length + 0.5]}
          allowDecimals={false}
          ticks={ticks(values.length)}
          tick={{ fontSize: 12, fill: "var(--color-soft)" }}
          stroke="var(--color-ink)"
        />
        <YAxis
          type="number"
          dataKey="value"
          domain={["auto", "auto"]}
          width={56}
          tickFormatter={(v: number) => formatNumber(v, 3)}
          tick={{ fontSize: 12, fill: "var(--color-soft)" }}
          stroke="var(--color-ink)"
        />
        {Number.isFinite(low) && high > low && (
          <ReferenceArea y1={low} y2={high} fill="var(--color-action)" fillOpacity={0.14} />
        )}
        {Number.isFinite(interval.mean) && (
          <ReferenceLine y={interval.mean} stroke="var(--color-action)" strokeWidth={1.5} />
        )}
        <Scatter
          data={points}
          fill="var(--color-ink)"
          fillOpacity={0.75}
          isAnimationActive={false}
          shape={({ cx, cy }: { cx?: number; cy?: number }) => (
            <circle cx={cx} cy={cy} r={3} fill="var(--color-ink)" fillOpacity={0.75} />
          )}
        />
      </ScatterChart>
    </ResponsiveContainer>
  );
});

function ticks(n: number): number[] {
  const step = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 5000, 10000].find((s) => n / s <= 10) ?? 20000;
  return Array.from({ length: Math.floor(n / step) + 1 }, (_, i) => Math.max(1, i * step));
}
