import { formatNumber } from "@busy-harbor/core";
import { memo } from "react";
import { Bar, BarChart, CartesianGrid, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";

/** A sample as it is drawn. */
export interface Box {
  readonly name: string;
  /** What is drawn spans this. */
  readonly range: readonly [number, number];
  /** A dot each. */
  readonly values: readonly number[];
  readonly first: number;
  readonly median: number;
  readonly third: number;
  readonly whiskers: readonly [number, number];
  readonly mean: number;
  readonly halfWidth: number;
  /** Drawn filled. */
  readonly mayBeBest: boolean;
}

const ROW = 34;
/** Dots are drawn of so many replications at most. */
const MOST_DOTS = 200;

const TICK = { fontSize: 12, fill: "var(--color-soft)" };

/** Samples as boxes of quartiles, or as intervals of their means, on one axis. */
export const BoxPlot = memo(function BoxPlot({
  boxes,
  as,
  target,
}: {
  boxes: readonly Box[];
  as: "boxes" | "intervals";
  target: number | undefined;
}) {
  const Shape = as === "boxes" ? BoxShape : IntervalShape;
  const longest = Math.max(...boxes.map(({ name }) => name.length));
  return (
    <ResponsiveContainer height={ROW * boxes.length + 40}>
      <BarChart
        layout="vertical"
        data={[...boxes]}
        margin={{ top: 4, right: 16, bottom: 0, left: 0 }}
        accessibilityLayer={false}
      >
        <CartesianGrid stroke="var(--color-line)" horizontal={false} />
        <XAxis
          type="number"
          domain={["auto", "auto"]}
          tick={TICK}
          tickFormatter={(v: number) => formatNumber(v, 3)}
          stroke="var(--color-ink)"
        />
        <YAxis
          type="category"
          dataKey="name"
          width={Math.min(260, 7 * longest + 12)}
          tick={{ fontSize: 12, fill: "var(--color-ink)" }}
          tickLine={false}
          interval={0}
          stroke="var(--color-ink)"
        />
        {target !== undefined && (
          <ReferenceLine x={target} stroke="var(--color-buoy)" strokeDasharray="2 3" ifOverflow="extendDomain" />
        )}
        <Bar dataKey="range" isAnimationActive={false} shape={Shape as never} />
      </BarChart>
    </ResponsiveContainer>
  );
});

interface ShapeProps {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly payload: Box;
}

/** Where a value lies: the bar spans the whole range. */
const across = ({ x, width, payload: { range } }: ShapeProps) => {
  const [low, high] = range;
  return (v: number) => (high > low ? x + ((v - low) / (high - low)) * width : x);
};

function BoxShape(props: ShapeProps) {
  const { y, height, payload } = props;
  const { values, first, median, third, whiskers, mayBeBest } = payload;
  const at = across(props);
  const middle = y + height / 2;
  const half = Math.min(9, height / 2 - 1);
  const colour = mayBeBest ? "var(--color-action)" : "var(--color-ink)";
  const step = Math.ceil(values.length / MOST_DOTS);
  const dots = values
    .filter((_, i) => i % step === 0)
    .map((v, i) => `M${at(v).toFixed(1)} ${(middle + ((i * 7) % 15) - 7).toFixed(1)}h0`)
    .join("");
  return (
    <g>
      <path d={dots} stroke="var(--color-soft)" strokeOpacity={0.45} strokeWidth={3} strokeLinecap="round" />
      <line x1={at(whiskers[0])} x2={at(first)} y1={middle} y2={middle} stroke={colour} strokeWidth={1.5} />
      <line x1={at(third)} x2={at(whiskers[1])} y1={middle} y2={middle} stroke={colour} strokeWidth={1.5} />
      <rect
        x={at(first)}
        y={middle - half}
        width={Math.max(1, at(third) - at(first))}
        height={2 * half}
        rx={2}
        fill={mayBeBest ? "var(--color-action)" : "var(--color-sheet)"}
        fillOpacity={mayBeBest ? 0.22 : 0.7}
        stroke={colour}
        strokeWidth={1.5}
      />
      <line x1={at(median)} x2={at(median)} y1={middle - half} y2={middle + half} stroke={colour} strokeWidth={2.5} />
    </g>
  );
}

function IntervalShape(props: ShapeProps) {
  const { y, height, payload } = props;
  const { mean, halfWidth, mayBeBest } = payload;
  const at = across(props);
  const middle = y + height / 2;
  const colour = mayBeBest ? "var(--color-action)" : "var(--color-ink)";
  return (
    <g>
      <line
        x1={at(mean - halfWidth)}
        x2={at(mean + halfWidth)}
        y1={middle}
        y2={middle}
        stroke={colour}
        strokeWidth={3}
        strokeLinecap="round"
      />
      <circle
        cx={at(mean)}
        cy={middle}
        r={5}
        fill={mayBeBest ? colour : "var(--color-sheet)"}
        stroke={colour}
        strokeWidth={2}
      />
    </g>
  );
}
