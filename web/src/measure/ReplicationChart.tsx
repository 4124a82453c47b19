import { definitionOf, formatNumber, type Interval } from "@busy-harbor/core";
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
import { meanText, type Reading } from "./readings.ts";

/** Most points drawn, as each is a shape of its own; of more values every so-manieth is taken. */
const MOST_POINTS = 160;

/** The chosen measure by replication, with its mean and interval, and the figures beside it. */
export function ReplicationChart({
  reading: { measure, interval, unit },
  values,
  one,
}: {
  reading: Reading;
  /** By replication, in the unit shown. */ values: readonly number[];
  one: string;
}) {
  const { mean, halfWidth } = meanText(interval);
  // The drawing is much to draw: while figures grow it follows once a second, and at once when another measure is
  // chosen.
  const drawn = useSlowly(useMemo(() => ({ key: measure.key, values, interval }), [measure.key, values, interval]));
  return (
    <figure
      className="panel flex gap-6 px-5 pt-4 pb-3"
      aria-label={`${measure.owner}: ${measure.label} by replication`}
    >
      <figcaption className="w-60 shrink-0">
        <p className="text-soft">{measure.owner}</p>
        <p className="font-semibold">{measure.label}</p>
        <p className="pt-2 text-lg tabular-nums" data-testid="chosen-mean">
          {mean} {halfWidth && <span className="text-soft">± {halfWidth}</span>} {unit}
        </p>
        <p className="text-soft">
          standard deviation {formatNumber(interval.sd, 3)} {unit}
        </p>
        <p className="pt-2 text-xs text-soft">
          {definitionOf(measure)} One dot a {one}
          {unit && `, in ${unit}`}; the band is the interval of the mean.
        </p>
      </figcaption>
      <div className="h-44 min-w-0 grow">
        <Dots values={drawn.values} interval={drawn.interval} />
      </div>
    </figure>
  );
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
