import { formatNumber } from "@busy-harbor/core";
import { memo, useMemo } from "react";
import { CartesianGrid, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import { below, beside, TICK } from "../../../charts/axes.ts";

interface Place {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly isEfficient: boolean;
}

/** Places of a search by two of its measures; the efficient ones are filled, and joined. */
export const FrontChart = memo(function FrontChart({
  places,
  across,
  up,
}: {
  places: readonly Place[];
  across: string;
  up: string;
}) {
  const shown = useMemo(() => places.filter(({ x, y }) => Number.isFinite(x) && Number.isFinite(y)), [places]);
  const front = useMemo(() => shown.filter((p) => p.isEfficient).sort((a, b) => a.x - b.x), [shown]);
  if (shown.length < 2) return null;
  const number = (v: number) => formatNumber(v, 3);
  return (
    <figure aria-label={`${up} against ${across}`} data-testid="front">
      <ResponsiveContainer height={240}>
        <ScatterChart margin={{ top: 8, right: 16, bottom: 20, left: 6 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--color-line)" />
          <XAxis
            type="number"
            dataKey="x"
            domain={["auto", "auto"]}
            tick={TICK}
            tickFormatter={number}
            stroke="var(--color-ink)"
            label={below(across)}
          />
          <YAxis
            type="number"
            dataKey="y"
            domain={["auto", "auto"]}
            width={60}
            tick={TICK}
            tickFormatter={number}
            stroke="var(--color-ink)"
            label={beside(up)}
          />
          <Scatter
            data={front}
            line={{ stroke: "var(--color-action)", strokeWidth: 1.5, strokeDasharray: "5 3" }}
            lineJointType="linear"
            shape={() => <g />}
            isAnimationActive={false}
          />
          <Scatter data={shown} shape={Dot as never} isAnimationActive={false} />
        </ScatterChart>
      </ResponsiveContainer>
    </figure>
  );
});

const Dot = ({ cx, cy, payload }: { cx: number; cy: number; payload: Place }) => (
  <circle
    cx={cx}
    cy={cy}
    r={4}
    fill={payload.isEfficient ? "var(--color-action)" : "var(--color-sheet)"}
    stroke={payload.isEfficient ? "var(--color-action)" : "var(--color-soft)"}
    strokeWidth={1.5}
  >
    <title>{payload.name}</title>
  </circle>
);
