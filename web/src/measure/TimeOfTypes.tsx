import { formatNumber } from "@busy-harbor/core";
import { useMemo, useRef } from "react";
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { below, of, TICK } from "../charts/axes.ts";
import { FigureTools } from "../charts/FigureTools.tsx";
import type { Reading } from "./readings.ts";

/** Parts of the time in system, in the order in which they are drawn, each with its fill. */
const PARTS = [
  ["waiting", "waiting in lines", "var(--color-amber)"],
  ["waitingForVehicle", "waiting for a vehicle", "url(#time-asked)"],
  ["blocked", "blocked", "url(#time-blocked)"],
  ["stood", "standing still", "url(#time-stood)"],
  ["worked", "worked on", "var(--color-busy)"],
  ["moving", "moving", "url(#time-moving)"],
  ["carried", "carried", "url(#time-carried)"],
  ["dwelling", "dwelling", "var(--color-setting)"],
  ["held", "held inside another", "url(#time-held)"],
] as const;
type Part = (typeof PARTS)[number][0];

const ROW = 30;
/** Types and exits drawn: of more nobody reads all. */
const MOST_ROWS = 30;

interface Row {
  readonly name: string;
  readonly key: string;
  readonly mean: number;
  readonly parts: Partial<Record<Part, Reading>>;
}

/** Where the time of entities goes: the mean time in system of each type, and by exit, in its parts. */
export function TimeOfTypes({ readings }: { readings: readonly Reading[] }) {
  const drawn = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => rowsOf(readings), [readings]);
  const unit = readings.find(({ measure }) => measure.measure === "timeInSystem")?.unit ?? "";
  const shown = PARTS.filter(([part]) => rows.some((row) => (row.parts[part]?.interval.mean ?? 0) > 0));
  if (rows.length === 0 || shown.length === 0) return null;
  const data = rows.map((row) => ({
    name: row.name,
    ...Object.fromEntries(shown.map(([part]) => [part, row.parts[part]?.interval.mean ?? 0])),
  }));
  const head = ["", of("In system", unit), ...shown.map(([, words]) => of(words, unit))];
  const longest = Math.max(...rows.map(({ name }) => name.length));
  return (
    <section aria-label="Where the time goes" className="pb-5" data-testid="time-of-types">
      <div className="flex items-center gap-3 pb-1">
        <h2 className="font-semibold">Where the time of entities goes{unit && `, ${unit}`}</h2>
        <span className="grow" />
        <FigureTools
          name="Where the time goes"
          drawn={drawn}
          numbers={() => [
            head,
            ...rows.map((row) => [row.name, row.mean, ...shown.map(([part]) => row.parts[part]?.interval.mean ?? "")]),
          ]}
        />
      </div>
      <p className="flex flex-wrap gap-x-4 text-xs">
        {shown.map(([part, words, fill]) => (
          <span key={part} className="flex items-center gap-1.5">
            <svg width={14} height={14} aria-hidden>
              <rect width={13} height={13} x={0.5} y={0.5} rx={3} fill={fill} stroke="var(--color-ink)" />
            </svg>
            {words}
          </span>
        ))}
      </p>
      <div ref={drawn} role="img" aria-label="Mean time in system in its parts, a bar each type and exit">
        <ResponsiveContainer height={ROW * rows.length + 44}>
          <BarChart
            layout="vertical"
            data={data}
            margin={{ top: 4, right: 16, bottom: 14, left: 0 }}
            accessibilityLayer={false}
          >
            <defs>
              <Hatch id="time-asked" colour="var(--color-amber)" path="M0 6L6 0" />
              <Hatch id="time-carried" colour="var(--color-busy)" path="M0 3h6" />
              <Hatch id="time-blocked" colour="var(--color-blocked)" path="M0 6L6 0" />
              <Hatch id="time-stood" colour="var(--color-off)" path="M3 0v6" />
              <Hatch id="time-moving" colour="var(--color-action)" path="M0 3h6" />
              <Hatch id="time-held" colour="var(--color-soft)" path="M0 6L6 0M0 0L6 6" />
            </defs>
            <CartesianGrid stroke="var(--color-line)" horizontal={false} />
            <XAxis
              type="number"
              tick={TICK}
              tickFormatter={(v: number) => formatNumber(v, 3)}
              stroke="var(--color-ink)"
              label={below(of("Mean time in system", unit))}
            />
            <YAxis
              type="category"
              dataKey="name"
              width={Math.min(280, 7 * longest + 12)}
              tick={{ fontSize: 12, fill: "var(--color-ink)" }}
              tickLine={false}
              interval={0}
              stroke="var(--color-ink)"
            />
            {shown.map(([part, , fill]) => (
              <Bar
                key={part}
                dataKey={part}
                stackId="time"
                fill={fill}
                stroke="var(--color-ink)"
                strokeWidth={0.5}
                barSize={15}
                isAnimationActive={false}
              />
            ))}
          </BarChart>
        </ResponsiveContainer>
      </div>
      <table className="border-separate border-spacing-x-3 text-right tabular-nums">
        <caption className="sr-only">Mean time in system in its parts, with half-widths</caption>
        <thead className="text-xs text-soft">
          <tr>
            {head.map((words, i) => (
              <th key={i} scope="col" className="font-normal">
                {words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.key}>
              <th scope="row" className="text-left font-normal">
                {row.name}
              </th>
              <td>{formatNumber(row.mean)}</td>
              {shown.map(([part]) => {
                const interval = row.parts[part]?.interval;
                return (
                  <td key={part}>
                    {interval && Number.isFinite(interval.mean) && formatNumber(interval.mean)}
                    {interval && interval.halfWidth > 1e-12 * Math.abs(interval.mean) && (
                      <span className="text-xs text-soft"> ± {formatNumber(interval.halfWidth, 2)}</span>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** A row for each type, and below it one for each exit where there are several. */
function rowsOf(readings: readonly Reading[]): Row[] {
  const rows = new Map<string, { name: string; parts: Partial<Record<Part, Reading>> }>();
  const means = new Map<string, number>();
  for (const reading of readings) {
    const { ownerKind, ownerId, owner, measure, part, each, label } = reading.measure;
    if (ownerKind === "entity type" && measure === "timeInSystem" && part === "mean")
      means.set(ownerId, reading.interval.mean);
    if (ownerKind === "departures" && measure === "timeInSystem" && part === "mean" && each !== undefined)
      means.set(`${each} ${ownerId}`, reading.interval.mean);
    const of = PARTS.find(([name]) => name === measure);
    if (ownerKind !== "entity type" || !of) continue;
    const key = each === undefined ? ownerId : `${ownerId} ${each}`;
    const exit = each === undefined ? "" : ` by ${label.slice(0, label.lastIndexOf(": "))}`;
    const row = rows.get(key) ?? { name: owner + exit, parts: {} };
    row.parts[of[0]] = reading;
    rows.set(key, row);
  }
  return (
    [...rows]
      .map(([key, row]): Row => {
        const sum = PARTS.reduce((s, [part]) => s + (row.parts[part]?.interval.mean ?? 0), 0);
        return { ...row, key, mean: means.get(key) ?? sum };
      })
      // Who never leaves by an exit has no time there.
      .filter(({ mean }) => Number.isFinite(mean))
      .slice(0, MOST_ROWS)
  );
}

function Hatch({ id, colour, path }: { id: string; colour: string; path: string }) {
  return (
    <pattern id={id} width={6} height={6} patternUnits="userSpaceOnUse">
      <rect width={6} height={6} fill={colour} opacity={0.25} />
      <path d={path} stroke={colour} strokeWidth={1.3} />
    </pattern>
  );
}
