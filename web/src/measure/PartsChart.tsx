import { formatNumber } from "@busy-harbor/core";
import { type ReactNode, useRef } from "react";
import { Bar, BarChart, CartesianGrid, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { below, of, TICK } from "../charts/axes.ts";
import { FigureTools } from "../charts/FigureTools.tsx";
import type { Reading } from "./readings.ts";

/** A part: the measure or the part of one that it is, how it is called, and its fill. */
export type Part = readonly [key: string, words: string, fill: string];

/** A bar: what it is of, its whole, and its parts. */
export interface PartsRow {
  readonly name: string;
  readonly key: string;
  readonly mean: number;
  readonly parts: Readonly<Partial<Record<string, Reading>>>;
}

const ROW = 30;

/** What a mean is made of, as bars of parts that stand one on the other, with the numbers below. */
export function PartsChart({
  title,
  rows,
  parts,
  unit,
  whole,
  testId,
  patterns,
  scale = 1,
}: {
  title: string;
  rows: readonly PartsRow[];
  parts: readonly Part[];
  unit: string;
  /** What a bar as a whole is. */
  whole: string;
  testId: string;
  /** Definitions that the fills name. */
  patterns: ReactNode;
  /** What readings are multiplied by, such as 100 for shares told in %. */
  scale?: number;
}) {
  const drawn = useRef<HTMLDivElement>(null);
  const shown = parts.filter(([part]) => rows.some((row) => (row.parts[part]?.interval.mean ?? 0) > 0));
  if (rows.length === 0 || shown.length === 0) return null;
  const data = rows.map((row) => ({
    name: row.name,
    ...Object.fromEntries(shown.map(([part]) => [part, scale * (row.parts[part]?.interval.mean ?? 0)])),
  }));
  const head = ["", of(whole, unit), ...shown.map(([, words]) => of(words, unit))];
  const valueOf = (row: PartsRow, part: string) => {
    const mean = row.parts[part]?.interval.mean;
    return mean === undefined ? undefined : scale * mean;
  };
  const longest = Math.max(...rows.map(({ name }) => name.length));
  return (
    <section aria-label={title} className="pb-5" data-testid={testId}>
      <div className="flex items-center gap-3 pb-1">
        <h2 className="font-semibold">{of(title, unit)}</h2>
        <span className="grow" />
        <FigureTools
          name={title}
          drawn={drawn}
          numbers={() => [
            head,
            ...rows.map((row) => [row.name, scale * row.mean, ...shown.map(([part]) => valueOf(row, part) ?? "")]),
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
      <div ref={drawn} role="img" aria-label={`${title}: ${shown.map(([, words]) => words).join(", ")}`}>
        <ResponsiveContainer height={ROW * rows.length + 44}>
          <BarChart
            layout="vertical"
            data={data}
            margin={{ top: 4, right: 16, bottom: 14, left: 0 }}
            accessibilityLayer={false}
          >
            {patterns}
            <CartesianGrid stroke="var(--color-line)" horizontal={false} />
            <XAxis
              type="number"
              tick={TICK}
              tickFormatter={(v: number) => formatNumber(v, 3)}
              stroke="var(--color-ink)"
              label={below(of(whole, unit))}
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
      <table className="mt-3 border-separate border-spacing-x-3 text-right tabular-nums">
        <caption className="sr-only">{title}, with half-widths</caption>
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
              <td>{formatNumber(scale * row.mean)}</td>
              {shown.map(([part]) => {
                const interval = row.parts[part]?.interval;
                return (
                  <td key={part}>
                    {interval && Number.isFinite(interval.mean) && formatNumber(scale * interval.mean)}
                    {interval && interval.halfWidth > 1e-12 * Math.abs(interval.mean) && (
                      <span className="text-xs text-soft"> ± {formatNumber(scale * interval.halfWidth, 2)}</span>
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

/** A pattern of lines on a pale ground. */
export function Hatch({ id, colour, path }: { id: string; colour: string; path: string }) {
  return (
    <pattern id={id} width={6} height={6} patternUnits="userSpaceOnUse">
      <rect width={6} height={6} fill={colour} opacity={0.25} />
      <path d={path} stroke={colour} strokeWidth={1.3} />
    </pattern>
  );
}
