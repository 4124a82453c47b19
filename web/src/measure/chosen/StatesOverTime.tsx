import { formatDuration, formatNumber, UNIT_KEYS, UNIT_WORDS } from "@busy-harbor/core";
import { useMemo, useRef, useState } from "react";
import { Area, AreaChart, CartesianGrid, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../api/client.ts";
import { below, beside, roundTicks, TICK, timeUnit } from "../../charts/axes.ts";
import { FigureTools } from "../../charts/FigureTools.tsx";
import { STATE_FILLS, StatePatterns } from "../../charts/statePatterns.tsx";
import { StateMark } from "../../watch/StateMark.tsx";
import { STATE_ORDER } from "../../watch/states.ts";
import { type ChosenProps, versionOf } from "./ChosenProps.ts";
import { Fetching } from "./Fetching.tsx";
import { NumberBox } from "../../ui/NumberBox.tsx";
import { NumbersTable } from "./NumbersTable.tsx";
import { useReading } from "./useReading.ts";

/** Shares of time in every state, piece by piece of the time of a replication, one on the other. */
export default function StatesOverTime({ run, kept, source, reading }: ChosenProps) {
  const [pieces, setPieces] = useState(48);
  const states = useMemo(
    () =>
      STATE_ORDER.flatMap((state) => {
        const at = kept.sources.findIndex((s) => s.id === kept.sources[source].id && s.part === UNIT_KEYS[state]);
        return at < 0 ? [] : [{ state, at }];
      }),
    [kept, source],
  );
  const fetched = useReading(`${versionOf(run)} ${states.map(({ at }) => at).join()} ${pieces}`, async () =>
    Promise.all(states.map(async ({ state, at }) => ({ state, over: await api.overTime(run.id, at, { pieces }) }))),
  );
  return (
    <>
      <div className="pb-2">
        <NumberBox label="Pieces of time" value={pieces} least={2} most={500} whole onChange={setPieces} />
      </div>
      <Fetching of={fetched}>{(found) => <Drawn found={found} owner={reading.measure.owner} />}</Fetching>
    </>
  );
}

function Drawn({
  found,
  owner,
}: {
  found: readonly {
    readonly state: (typeof STATE_ORDER)[number];
    readonly over: Awaited<ReturnType<typeof api.overTime>>;
  }[];
  owner: string;
}) {
  const drawn = useRef<HTMLDivElement>(null);
  const { from, width, pieces } = found[0].over;
  const end = from + width * pieces.mean.length;
  const time = timeUnit(end);
  // What it was never in is not drawn.
  const shown = found.filter(({ over }) => over.pieces.mean.some((v) => v !== null && v > 0));
  const rows = pieces.mean.map((_, i) => ({
    at: (from + i * width) / time.factor,
    ...Object.fromEntries(shown.map(({ state, over }) => [UNIT_KEYS[state], 100 * (over.pieces.mean[i] ?? 0)])),
  })) as Record<string, number>[];
  const steps = [...rows, { ...rows[rows.length - 1], at: end / time.factor }];
  const head = [`From, ${time.symbol}`, ...shown.map(({ state }) => `${UNIT_WORDS[state]}, %`)];
  const cells = rows.map((row) => [row.at, ...shown.map(({ state }) => row[UNIT_KEYS[state]])]);
  return (
    <>
      <div className="flex flex-wrap items-center gap-4 pb-1 text-xs">
        {shown.map(({ state }) => (
          <span key={state} className="flex items-center gap-1.5">
            <StateMark state={state} /> {UNIT_WORDS[state]}
          </span>
        ))}
        <span className="grow" />
        <FigureTools name={`${owner}, states over time`} drawn={drawn} numbers={() => [head, ...cells]} />
      </div>
      <div ref={drawn} className="h-60" role="img" aria-label={`${owner}: shares of time in states, over time`}>
        <ResponsiveContainer>
          <AreaChart data={steps} margin={{ top: 8, right: 14, bottom: 20, left: 6 }} accessibilityLayer={false}>
            <StatePatterns />
            <CartesianGrid stroke="var(--color-line)" vertical={false} />
            <XAxis
              type="number"
              dataKey="at"
              domain={[from / time.factor, end / time.factor]}
              ticks={roundTicks(from / time.factor, end / time.factor)}
              tick={TICK}
              tickFormatter={(v: number) => formatNumber(v)}
              stroke="var(--color-ink)"
              label={below(`Time since the start, ${time.symbol}`)}
            />
            <YAxis
              width={52}
              domain={[0, 100]}
              allowDataOverflow
              ticks={[0, 25, 50, 75, 100]}
              tick={TICK}
              axisLine={false}
              tickLine={false}
              label={beside("Time, %")}
            />
            {shown.map(({ state }) => (
              <Area
                key={state}
                dataKey={UNIT_KEYS[state]}
                stackId="states"
                type="stepAfter"
                fill={STATE_FILLS[state]}
                fillOpacity={1}
                stroke="var(--color-ink)"
                strokeWidth={0.5}
                activeDot={false}
                isAnimationActive={false}
              />
            ))}
          </AreaChart>
        </ResponsiveContainer>
      </div>
      <p className="pt-1 text-xs text-soft">
        Means over {Math.max(...pieces.n)} replications in pieces of {formatDuration(width)}.
      </p>
      <NumbersTable
        label={`Shares of time of ${owner}, over time`}
        head={head}
        rows={cells.map((row) => row.map((v) => formatNumber(v, 4)))}
      />
    </>
  );
}
