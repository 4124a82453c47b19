import { formatNumber } from "@busy-harbor/core";
import { binned, type Bins, densityOf, type Fit, quantileOf, type Sample, shareBelow } from "@busy-harbor/core/fitting";
import { useMemo } from "react";
import { below, beside, of, roundTicks, TICK } from "../charts/axes.ts";
import { Area, CartesianGrid, ComposedChart, Line, ReferenceLine, Scatter, ScatterChart, XAxis, YAxis } from "recharts";

export type ChartKind = "histogram" | "quantiles" | "shares" | "neighbours";

const SIZE = { width: 560, height: 300 };
const MARGIN = { top: 8, right: 14, bottom: 20, left: 6 };
/** Points of a plot: more would only lie on one another. */
const MOST_POINTS = 250;
/** Points of the curve over a histogram. */
const CURVE = 160;

/** Observations as a histogram, or against a distribution, or against those before them. */
export function FitChart({
  kind,
  sample,
  bins,
  fit,
  unit,
}: {
  kind: ChartKind;
  sample: Sample;
  bins: Bins;
  fit: Fit | undefined;
  unit: string;
}) {
  if (kind === "histogram") return <Histogram sample={sample} bins={bins} fit={fit} unit={unit} />;
  return <Points kind={kind} sample={sample} fit={fit} unit={unit} />;
}

function Histogram({ sample, bins, fit, unit }: { sample: Sample; bins: Bins; fit: Fit | undefined; unit: string }) {
  const { start, width, count } = bins;
  const end = start + width * count;
  const steps = useMemo(() => {
    const { counts } = binned(sample, bins);
    return [...counts, 0].map((n, i) => ({ at: start + i * width, n }));
  }, [sample, bins, start, width]);
  const curve = useMemo(() => {
    if (!fit) return [];
    // A density times the width and the number of values is what a bin of the histogram should hold.
    return Array.from({ length: CURVE }, (_, i) => {
      const at = start + ((i + 0.5) * (end - start)) / CURVE;
      return { at, expected: densityOf(fit, at) * width * sample.n };
    }).filter(({ expected }) => Number.isFinite(expected));
  }, [fit, start, end, width, sample]);
  const highest = Math.max(...steps.map(({ n }) => n), ...curve.map(({ expected }) => expected), 1);
  return (
    <ComposedChart {...SIZE} margin={MARGIN} accessibilityLayer={false}>
      <CartesianGrid stroke="var(--color-line)" vertical={false} />
      <XAxis
        type="number"
        dataKey="at"
        domain={[start, end]}
        ticks={roundTicks(start, end)}
        tick={TICK}
        tickFormatter={(v: number) => formatNumber(v)}
        stroke="var(--color-ink)"
        label={below(of("Value", unit))}
      />
      <YAxis
        width={48}
        domain={[0, Math.ceil(highest * 1.05)]}
        ticks={roundTicks(0, highest * 1.05)}
        tick={TICK}
        axisLine={false}
        tickLine={false}
        label={beside("How many")}
      />
      <Area
        data={steps}
        dataKey="n"
        type="stepAfter"
        fill="var(--color-action)"
        fillOpacity={0.3}
        stroke="var(--color-action)"
        activeDot={false}
        isAnimationActive={false}
      />
      <Line
        data={curve}
        dataKey="expected"
        stroke="var(--color-buoy)"
        strokeWidth={2}
        dot={false}
        activeDot={false}
        isAnimationActive={false}
      />
    </ComposedChart>
  );
}

function Points({
  kind,
  sample,
  fit,
  unit,
}: {
  kind: Exclude<ChartKind, "histogram">;
  sample: Sample;
  fit: Fit | undefined;
  unit: string;
}) {
  const points = useMemo(() => {
    const { sorted, values, n } = sample;
    const every = Math.max(1, Math.floor(n / MOST_POINTS));
    const places = Array.from({ length: Math.ceil(n / every) }, (_, i) => i * every);
    if (kind === "neighbours") return places.filter((i) => i + 1 < n).map((i) => ({ x: values[i], y: values[i + 1] }));
    if (!fit) return [];
    return places.map((i) => {
      const share = (i + 0.5) / n;
      return kind === "quantiles"
        ? { x: quantileOf(fit, share), y: sorted[i] }
        : { x: shareBelow(fit, sorted[i]), y: share };
    });
  }, [kind, sample, fit]);
  const [low, high] = kind === "shares" ? [0, 1] : [sample.least, sample.most];
  const [across, up] =
    kind === "quantiles"
      ? [of("Quantile of the distribution", unit), of("Value", unit)]
      : kind === "shares"
        ? ["Share below, by the distribution", "Share of values below"]
        : [of("Value", unit), of("The value after it", unit)];
  const domain: [number, number] = [
    Math.min(low, ...points.map((p) => p.x)),
    Math.max(high, ...points.map((p) => p.x)),
  ];
  const axis = { type: "number" as const, tick: TICK, tickFormatter: (v: number) => formatNumber(v, 4) };
  return (
    <ScatterChart {...SIZE} margin={MARGIN} accessibilityLayer={false}>
      <CartesianGrid stroke="var(--color-line)" />
      <XAxis
        {...axis}
        dataKey="x"
        domain={domain}
        ticks={roundTicks(...domain)}
        stroke="var(--color-ink)"
        label={below(across)}
      />
      <YAxis
        {...axis}
        dataKey="y"
        width={60}
        domain={[low, high]}
        ticks={roundTicks(low, high)}
        stroke="var(--color-ink)"
        label={beside(up)}
      />
      {kind !== "neighbours" && (
        <ReferenceLine
          segment={[
            { x: Math.max(low, domain[0]), y: Math.max(low, domain[0]) },
            { x: high, y: high },
          ]}
          stroke="var(--color-buoy)"
        />
      )}
      <Scatter data={points} fill="var(--color-action)" isAnimationActive={false} shape={Dot as never} />
    </ScatterChart>
  );
}

const Dot = ({ cx, cy }: { cx: number; cy: number }) => (
  <circle cx={cx} cy={cy} r={2.4} fill="var(--color-action)" fillOpacity={0.7} />
);
