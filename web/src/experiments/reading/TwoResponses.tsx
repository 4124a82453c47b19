import { formatNumber } from "@busy-harbor/core";
import { efficient } from "@busy-harbor/core/inference";
import { useMemo, useState } from "react";
import { CartesianGrid, ReferenceLine, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import { Choice } from "../../ui/Choice.tsx";
import { titleOf } from "../rows.ts";
import { factorLevels } from "./levels.ts";
import type { ReadingProps } from "./ReadingProps.tsx";

interface Point {
  readonly x: number;
  readonly y: number;
  readonly name: string;
  readonly isEfficient: boolean;
  /** Place on the line that joins the points. */
  readonly order: number;
}

const TICK = { fontSize: 12, fill: "var(--color-soft)" };

/** Two responses against each other, and the scenarios that none beats by both. */
export default function TwoResponses({ study, rows, responses, factors, at }: ReadingProps) {
  const [chosen, setChosen] = useState<string>();
  const [joined, setJoined] = useState("");
  const otherAt = Math.max(
    0,
    responses.findIndex(({ key }) => key === chosen),
  );
  const other = otherAt === at ? (at === 0 ? Math.min(1, responses.length - 1) : 0) : otherAt;
  const usable = useMemo(
    () =>
      rows.filter(
        ({ scenario, intervals }) =>
          !scenario.off && Number.isFinite(intervals[at]?.mean) && Number.isFinite(intervals[other]?.mean),
      ),
    [rows, at, other],
  );
  const numeric = useMemo(
    () => factorLevels(study, factors, usable).filter(({ numbers }) => numbers),
    [study, factors, usable],
  );
  if (responses.length < 2)
    return <p className="text-soft">Choose a second response at the left to see the two against each other.</p>;
  if (usable.length === 0) return <p className="text-soft">No scenario has both of these yet.</p>;
  const [across, up] = [responses[other], responses[at]];
  const by = numeric.find(({ told }) => told.factor.id === joined);
  const means = usable.map(({ intervals }) => [intervals[other]!.mean, intervals[at]!.mean] as const);
  const good = efficient(means, [across.better, up.better]);
  const points = usable.map(({ name }, i): Point => ({
    x: means[i][0],
    y: means[i][1],
    name,
    isEfficient: good[i],
    order: by ? by.of[i] : 0,
  }));
  const front = points.filter((p) => p.isEfficient).sort((a, b) => a.x - b.x);
  const shown = by ? [...points].sort((a, b) => a.order - b.order || a.x - b.x) : front;
  return (
    <figure
      className="panel px-4 py-3"
      aria-label={`${titleOf(up)} against ${titleOf(across)}`}
      data-testid="two-responses"
    >
      <figcaption className="flex flex-wrap items-center gap-3 pb-2">
        <span>
          <b className="font-semibold">{titleOf(up)}</b>
          <span className="text-soft">{up.unit.symbol && `, ${up.unit.symbol}`} against</span>
        </span>
        <span className="w-64">
          <Choice
            label="Against"
            value={across.key}
            options={responses.filter((_, i) => i !== at).map((r) => ({ value: r.key, label: titleOf(r) }))}
            onChange={setChosen}
          />
        </span>
        <span className="text-soft">joined</span>
        <span className="w-52">
          <Choice
            label="Joined"
            value={by ? joined : ""}
            options={[
              { value: "", label: "along the efficient front" },
              ...numeric.map(({ told }) => ({ value: told.factor.id, label: `in the order of ${told.title}` })),
            ]}
            onChange={setJoined}
          />
        </span>
      </figcaption>
      <ResponsiveContainer height={320}>
        <ScatterChart margin={{ top: 12, right: 24, bottom: 4, left: 4 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--color-line)" />
          <XAxis
            type="number"
            dataKey="x"
            domain={["auto", "auto"]}
            padding={{ left: 16, right: 90 }}
            tick={TICK}
            tickFormatter={(v: number) => formatNumber(v, 3)}
            stroke="var(--color-ink)"
            unit={across.unit.symbol && ` ${across.unit.symbol}`}
          />
          <YAxis
            type="number"
            dataKey="y"
            domain={["auto", "auto"]}
            padding={{ top: 12, bottom: 12 }}
            width={56}
            tick={TICK}
            tickFormatter={(v: number) => formatNumber(v, 3)}
            stroke="var(--color-ink)"
          />
          {targetLine(up, "y")}
          {targetLine(across, "x")}
          <Scatter
            data={shown}
            line={{ stroke: "var(--color-action)", strokeWidth: 1.5, strokeDasharray: by ? undefined : "5 3" }}
            lineJointType="linear"
            shape={() => <g />}
            isAnimationActive={false}
          />
          <Scatter data={points} shape={Dot as never} isAnimationActive={false} />
        </ScatterChart>
      </ResponsiveContainer>
      <p className="max-w-3xl pt-1 text-xs text-soft">
        Filled: efficient, that is, no other scenario&apos;s means are as good by both and better by one (
        {titleOf(across)}: {across.better} is better; {titleOf(up)}: {up.better} is better). They go by the means alone:
        what chance may have done is told by The best and All pairs.
      </p>
      <ul className="sr-only">
        {points.map(({ name, x, y, isEfficient }) => (
          <li key={name}>
            {name}: {formatNumber(x)} and {formatNumber(y)}
            {isEfficient && ", efficient"}
          </li>
        ))}
      </ul>
    </figure>
  );
}

const targetLine = (
  {
    target,
    unit,
    key,
  }: { readonly target: number | undefined; readonly unit: { readonly factor: number }; readonly key: string },
  axis: "x" | "y",
) =>
  target !== undefined && (
    <ReferenceLine
      key={`${axis} ${key}`}
      {...{ [axis]: target / unit.factor }}
      stroke="var(--color-buoy)"
      strokeDasharray="2 3"
      ifOverflow="extendDomain"
    />
  );

function Dot({ cx, cy, payload }: { cx: number; cy: number; payload: Point }) {
  const { isEfficient, name } = payload;
  return (
    <g>
      <circle
        cx={cx}
        cy={cy}
        r={5}
        fill={isEfficient ? "var(--color-action)" : "var(--color-sheet)"}
        stroke={isEfficient ? "var(--color-action)" : "var(--color-soft)"}
        strokeWidth={2}
      />
      {isEfficient && (
        <text x={cx + 8} y={cy - 6} fontSize={11} fill="var(--color-ink)">
          {name.length > 30 ? `${name.slice(0, 29)}…` : name}
        </text>
      )}
    </g>
  );
}
