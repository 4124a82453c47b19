import { formatNumber, intervalOf } from "@busy-harbor/core";
import { useMemo, useRef } from "react";
import { Bar, CartesianGrid, ComposedChart, ErrorBar, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { api } from "../../api/client.ts";
import { below, beside, of, TICK } from "../../charts/axes.ts";
import { FigureTools } from "../../charts/FigureTools.tsx";
import { type ChosenProps, nameOf, titleOf, versionOf } from "./ChosenProps.ts";
import { Fetching } from "./Fetching.tsx";
import { NumbersTable } from "./NumbersTable.tsx";
import { useReading } from "./useReading.ts";

/** What was kept by the hour of the day by the clock on the wall: mean over replications with its interval. */
export default function ByHour({ run, source, reading, level }: ChosenProps) {
  const fetched = useReading(`${versionOf(run)} ${source}`, () => api.overTime(run.id, source, {}));
  return <Fetching of={fetched}>{({ hours }) => <Drawn hours={hours} reading={reading} level={level} />}</Fetching>;
}

function Drawn({
  hours: { n, mean, deviation },
  reading: { measure, factor, unit },
  level,
}: {
  hours: { readonly n: number[]; readonly mean: (number | null)[]; readonly deviation: (number | null)[] };
  reading: ChosenProps["reading"];
  level: number;
}) {
  const drawn = useRef<HTMLDivElement>(null);
  const name = titleOf(measure);
  const rows = useMemo(
    () =>
      mean.map((value, hour) => {
        const sd = deviation[hour];
        const moments = {
          n: n[hour],
          mean: 0,
          squares: ((sd ?? 0) / factor) ** 2 * (n[hour] - 1),
          min: 0,
          max: 0,
          errors: 0,
        };
        const halfWidth = sd === null ? null : intervalOf(moments, level).halfWidth;
        return { hour, mean: value === null ? null : value / factor, halfWidth, n: n[hour] };
      }),
    [n, mean, deviation, factor, level],
  );
  const unitWords = unit === "" ? "" : `, ${unit}`;
  const head = ["Hour from", `Mean${unitWords}`, "± half-width", "Replications"];
  const present = rows.filter((row) => row.mean !== null);
  // Hours in which nothing ever happens, before all others and after them, are not drawn.
  const drawnRows = rows.slice(present[0]?.hour ?? 0, (present.at(-1)?.hour ?? 23) + 1);
  return (
    <>
      <div className="flex pb-2">
        <span className="grow" />
        <FigureTools
          name={`${name}, by hour of the day`}
          drawn={drawn}
          numbers={() => [head, ...present.map((r) => [r.hour, r.mean ?? "", r.halfWidth ?? "", r.n])]}
        />
      </div>
      <div ref={drawn} className="h-60" role="img" aria-label={`${name}: by hour of the day`}>
        <ResponsiveContainer>
          <ComposedChart
            data={drawnRows.map((r) => ({ ...r, halfWidth: r.halfWidth ?? 0 }))}
            margin={{ top: 8, right: 14, bottom: 20, left: 6 }}
            accessibilityLayer={false}
          >
            <CartesianGrid stroke="var(--color-line)" vertical={false} />
            <XAxis
              dataKey="hour"
              tick={TICK}
              stroke="var(--color-ink)"
              interval={drawnRows.length > 12 ? 1 : 0}
              label={below("Hour of the day")}
            />
            <YAxis
              width={56}
              tick={TICK}
              tickFormatter={(v: number) => formatNumber(v, 4)}
              axisLine={false}
              tickLine={false}
              label={beside(of(nameOf(measure), unit))}
            />
            <Bar
              dataKey="mean"
              fill="var(--color-action)"
              fillOpacity={0.35}
              stroke="var(--color-action)"
              isAnimationActive={false}
            >
              <ErrorBar dataKey="halfWidth" stroke="var(--color-ink)" strokeWidth={1.2} width={5} />
            </Bar>
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <p className="pt-1 text-xs text-soft">
        Mean over replications of what was observed in each hour by the clock on the wall, with its Student t interval
        at {formatNumber(100 * level)} %.
      </p>
      <NumbersTable
        label={`Numbers by hour of ${name}`}
        head={head}
        rows={present.map((r) => [
          `${String(r.hour).padStart(2, "0")}:00`,
          formatNumber(r.mean ?? Number.NaN, 5),
          r.halfWidth === null ? "" : formatNumber(r.halfWidth, 2),
          String(r.n),
        ])}
      />
    </>
  );
}
