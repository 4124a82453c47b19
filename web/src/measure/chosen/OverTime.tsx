import { dimensionSymbol, formatDuration, formatNumber, intervalOf } from "@busy-harbor/core";
import type { OverTimeReading } from "@busy-harbor/core/contract";
import { welchAverage } from "@busy-harbor/core/inference";
import { X } from "lucide-react";
import { memo, useMemo, useRef, useState } from "react";
import { Area, CartesianGrid, ComposedChart, Line, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../api/client.ts";
import { below, beside, of, roundTicks, TICK, timeUnit } from "../../charts/axes.ts";
import { FigureTools } from "../../charts/FigureTools.tsx";
import { DASHES, LineSample, SERIES } from "../../charts/StepChart.tsx";
import { Checkbox } from "../../ui/Checkbox.tsx";
import { Choice } from "../../ui/Choice.tsx";
import type { Reading } from "../readings.ts";
import { type ChosenProps, nameOf, titleOf, versionOf } from "./ChosenProps.ts";
import { Fetching } from "./Fetching.tsx";
import { NumberBox } from "../../ui/NumberBox.tsx";
import { NumbersTable } from "./NumbersTable.tsx";
import { type Followed, followedIn } from "./sources.ts";
import { useReading } from "./useReading.ts";

/** Lines on the same axes. */
const MOST_LINES = 4;

type Shown = { readonly asItWas: boolean; readonly smooth: boolean; readonly band: boolean };

interface Drawable {
  readonly reading: Reading;
  readonly over: OverTimeReading;
}

/** What was kept over the time of a replication: as it was in one, its moving average, mean and band over all. */
export default function OverTime(props: ChosenProps) {
  const { run, kept, source, reading, readings, level } = props;
  const [pieces, setPieces] = useState(100);
  const [replication, setReplication] = useState(kept.replications[0] ?? 1);
  const [window, setWindow] = useState(5);
  const [shown, setShown] = useState<Shown>({ asItWas: false, smooth: true, band: true });
  const [others, setOthers] = useState<readonly number[]>([]);
  const all = useMemo(() => followedIn(readings, kept), [readings, kept]);
  // Only what is told in the same unit fits the same axis.
  const fitting = all.filter(
    ({ reading: other, source: of }) =>
      of !== source && dimensionSymbol(other.measure.dimension) === dimensionSymbol(reading.measure.dimension),
  );
  const added = others.flatMap((of): Followed[] => fitting.filter((one) => one.source === of));
  const drawn: readonly Followed[] = [{ source, reading }, ...added];
  const fetched = useReading(
    `${versionOf(run)} ${drawn.map((d) => d.source).join()} ${pieces} ${replication}`,
    async (): Promise<Drawable[]> =>
      Promise.all(
        drawn.map(async (one) => ({
          reading: one.reading,
          over: await api.overTime(run.id, one.source, { pieces, replication }),
        })),
      ),
  );
  const set = (change: Partial<Shown>) => setShown((before) => ({ ...before, ...change }));
  return (
    <>
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2 pb-2">
        <NumberBox label="Pieces of time" value={pieces} least={2} most={2000} whole onChange={setPieces} />
        <NumberBox label="Smoothed over ±" value={window} least={0} most={500} whole onChange={setWindow} />
        <NumberBox
          label="Replication"
          value={replication}
          least={1}
          most={kept.replications.at(-1) ?? 1}
          whole
          onChange={setReplication}
        />
        <span className="flex flex-wrap gap-x-3 pb-1.5">
          <Checkbox checked={shown.smooth} onChange={(smooth) => set({ smooth })} className="flex items-center gap-1.5">
            Moving average
          </Checkbox>
          <Checkbox checked={shown.band} onChange={(band) => set({ band })} className="flex items-center gap-1.5">
            Mean and band
          </Checkbox>
          <Checkbox
            checked={shown.asItWas}
            onChange={(asItWas) => set({ asItWas })}
            className="flex items-center gap-1.5"
          >
            As it was in replication {replication}
          </Checkbox>
        </span>
      </div>
      {fitting.length > 0 && (
        <div className="flex flex-wrap items-center gap-2 pb-2">
          {added.map(({ source: of, reading: other }) => (
            <span key={of} className="flex items-center gap-1 rounded-full border border-line px-2.5">
              {titleOf(other.measure)}
              <button
                aria-label={`Take ${titleOf(other.measure)} off the chart`}
                onClick={() => setOthers(others.filter((o) => o !== of))}
              >
                <X size={13} />
              </button>
            </span>
          ))}
          {added.length + 1 < MOST_LINES && fitting.length > added.length && (
            <Choice
              label="Add a measure to the same axes"
              className="w-64!"
              value=""
              placeholder="Add another measure"
              options={fitting
                .filter(({ source: of }) => !others.includes(of))
                .map(({ source: of, reading: other }) => ({ value: String(of), label: titleOf(other.measure) }))}
              onChange={(of) => setOthers([...others, Number(of)])}
            />
          )}
        </div>
      )}
      <Fetching of={fetched}>
        {(found) => <Drawn found={found} shown={shown} window={window} replication={replication} level={level} />}
      </Fetching>
    </>
  );
}

/** Means of a reading by piece, in the unit shown, with what is drawn of them. */
function pointsOf({ reading: { factor }, over }: Drawable, window: number, level: number, perTime: number) {
  const { from, width, pieces, one } = over;
  const at = (i: number) => (from + (i + 0.5) * width) / perTime;
  const inUnit = (value: number | null) => (value === null ? null : value / factor);
  const means = pieces.mean.map(inUnit);
  // A piece in which nothing was observed has no mean: it is passed over.
  const present = means.flatMap((mean, i) => (mean === null ? [] : [[i, mean] as const]));
  const smooth = new Map(welchAverage([present.map(([, mean]) => mean)], window).map((v, i) => [present[i][0], v]));
  return means.map((mean, i) => {
    const n = pieces.n[i];
    const sd = pieces.deviation[i];
    const halfWidth =
      sd === null || n < 2
        ? null
        : intervalOf({ n, mean: 0, squares: (sd / factor) ** 2 * (n - 1), min: 0, max: 0, errors: 0 }, level).halfWidth;
    return {
      at: at(i),
      mean,
      n,
      halfWidth,
      band: mean === null || halfWidth === null ? null : [mean - halfWidth, mean + halfWidth],
      smooth: smooth.get(i) ?? null,
      one: inUnit(one[i] ?? null),
    };
  });
}

function Drawn({
  found,
  shown,
  window,
  replication,
  level,
}: {
  found: readonly Drawable[];
  shown: Shown;
  window: number;
  replication: number;
  level: number;
}) {
  const ref = useRef<HTMLDivElement>(null);
  const [first] = found;
  const { from, width, pieces } = first.over;
  const end = from + width * pieces.mean.length;
  const time = timeUnit(end);
  const lines = useMemo(
    () => found.map((one) => pointsOf(one, window, level, time.factor)),
    [found, window, level, time.factor],
  );
  const { unit, measure, factor } = first.reading;
  const asItWas = useMemo(
    () =>
      shown.asItWas
        ? first.over.times.map((t, i) => ({ at: t / time.factor, was: first.over.values[i] / factor }))
        : [],
    [shown.asItWas, first, time.factor, factor],
  );
  const names = found.map(({ reading }) => titleOf(reading.measure));
  const head = [
    `Time, ${time.symbol}`,
    ...names.flatMap((name) => [name, "± half-width", "Replications", `In replication ${replication}`]),
  ];
  const rows = lines[0].map((point, i) => [
    point.at,
    ...lines.flatMap((line) => [line[i].mean, line[i].halfWidth, line[i].n, line[i].one]),
  ]);
  return (
    <>
      <div className="flex flex-wrap items-center gap-4 pb-1 text-xs">
        {names.map((name, i) => (
          <span key={name} className="flex items-center gap-1.5">
            <LineSample at={i} /> {name}
          </span>
        ))}
        <span className="grow" />
        <FigureTools
          name={`${names[0]}, over time`}
          drawn={ref}
          numbers={() => [head, ...rows.map((row) => row.map((cell) => cell ?? ""))]}
        />
      </div>
      <div ref={ref} className="h-60" role="img" aria-label={`${names.join(", ")}: over time`}>
        <Lines
          lines={lines}
          asItWas={asItWas}
          shown={shown}
          from={from / time.factor}
          to={end / time.factor}
          timeSymbol={time.symbol}
          label={of(found.length === 1 ? nameOf(measure) : "Value", unit)}
        />
      </div>
      <p className="pt-1 text-xs text-soft">
        {`Means of pieces of ${formatDuration(width)}, over ${Math.max(...pieces.n)} replications. `}
        {shown.smooth && `Thick: moving average over ${window} pieces on either side (Welch 1983). `}
        {shown.band && `Thin: mean, with its Student t interval at ${formatNumber(100 * level)} %, piece by piece. `}
        {shown.asItWas &&
          `Grey: replication ${replication} as it was${found.length > 1 ? ", of the first measure" : ""}.`}
      </p>
      <NumbersTable
        label={`Numbers over time of ${names.join(", ")}`}
        head={head}
        rows={rows.map((row) => row.map((cell) => (cell === null ? "" : formatNumber(Number(cell), 5))))}
      />
    </>
  );
}

type Point = ReturnType<typeof pointsOf>[number];

const Lines = memo(function Lines({
  lines,
  asItWas,
  shown,
  from,
  to,
  timeSymbol,
  label,
}: {
  lines: readonly (readonly Point[])[];
  asItWas: readonly { readonly at: number; readonly was: number }[];
  shown: Shown;
  from: number;
  to: number;
  timeSymbol: string;
  label: string;
}) {
  return (
    <ResponsiveContainer>
      <ComposedChart margin={{ top: 8, right: 14, bottom: 20, left: 6 }} accessibilityLayer={false}>
        <CartesianGrid stroke="var(--color-line)" vertical={false} />
        <XAxis
          type="number"
          dataKey="at"
          domain={[from, to]}
          ticks={roundTicks(from, to)}
          tick={TICK}
          tickFormatter={(v: number) => formatNumber(v)}
          stroke="var(--color-ink)"
          label={below(`Time since the start, ${timeSymbol}`)}
        />
        <YAxis
          width={56}
          domain={["auto", "auto"]}
          tick={TICK}
          tickFormatter={(v: number) => formatNumber(v, 4)}
          axisLine={false}
          tickLine={false}
          label={beside(label)}
        />
        {asItWas.length > 0 && (
          <Line
            data={[...asItWas]}
            dataKey="was"
            type="stepAfter"
            stroke="var(--color-soft)"
            strokeOpacity={0.55}
            strokeWidth={1}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        )}
        {lines.map((points, i) => [
          shown.band && (
            <Area
              key={`band-${i}`}
              data={[...points]}
              dataKey="band"
              fill={SERIES[i]}
              fillOpacity={0.16}
              stroke="none"
              activeDot={false}
              isAnimationActive={false}
            />
          ),
          shown.band && (
            <Line
              key={`mean-${i}`}
              data={[...points]}
              dataKey="mean"
              connectNulls
              stroke={SERIES[i]}
              strokeDasharray={DASHES[i]}
              strokeWidth={1}
              dot={false}
              activeDot={false}
              isAnimationActive={false}
            />
          ),
          shown.smooth && (
            <Line
              key={`smooth-${i}`}
              data={[...points]}
              dataKey="smooth"
              connectNulls
              stroke={SERIES[i]}
              strokeDasharray={DASHES[i]}
              strokeWidth={2.4}
              dot={false}
              activeDot={false}
              isAnimationActive={false}
            />
          ),
        ])}
      </ComposedChart>
    </ResponsiveContainer>
  );
});
