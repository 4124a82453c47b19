import { type Display, type DisplayModel, formatClock, formatNumber, type Model, type Study } from "@busy-harbor/core";
import { lazy, Suspense } from "react";
import { People } from "./People.tsx";
import { Picture } from "./Picture.tsx";
import type { Reading } from "./reading.ts";
import { PICTURE_FACE } from "./size.ts";
import { factorOf, wordsOf } from "./words.ts";

interface Props {
  readonly shown: DisplayModel;
  readonly model: Model;
  readonly units: Study["units"];
  readonly reading: Reading;
}

/** Charts are fetched where there are any. */
const ChartFace = lazy(() => import("./ChartFace.tsx"));

/** The face of a display. */
export function DisplayFace({ shown, model, units, reading }: Props) {
  const { display, values } = shown;
  const at = (i: number) => reading.values[reading.first + i] ?? Number.NaN;
  const words = (i: number) => wordsOf(at(i), values[i], units);
  const title = display.title && <p className="truncate text-xs text-soft">{display.title}</p>;
  switch (display.kind) {
    case "clock":
      return (
        <>
          {title}
          <p className="text-lg leading-tight font-semibold tabular-nums">
            {formatClock(model.days.wall(reading.time ?? 0))}
          </p>
        </>
      );
    case "text":
      return (
        <>
          {title}
          <p className="max-w-64 whitespace-pre-wrap">{display.text || "…"}</p>
        </>
      );
    case "number":
      return (
        <>
          {title}
          <p className="text-lg leading-tight font-semibold tabular-nums">{words(0)}</p>
        </>
      );
    case "gauge":
      return (
        <>
          {title}
          <Gauge display={display} value={at(0) / factorOf(values[0], units)} words={words(0)} />
        </>
      );
    case "bar":
      return (
        <>
          {title}
          <Bar display={display} value={at(0) / factorOf(values[0], units)} words={words(0)} />
        </>
      );
    case "people":
      return (
        <>
          {title}
          <People display={display} value={at(0)} words={words(0)} />
        </>
      );
    case "table":
      return (
        <>
          {title}
          <table className="tabular-nums">
            <tbody>
              {display.rows.map((row, i) => (
                <tr key={i}>
                  <th scope="row" className="pr-3 text-left font-normal text-soft">
                    {row.label || row.value}
                  </th>
                  <td className="text-right">{words(i)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      );
    case "chart":
      return (
        <>
          {title}
          {/* As large as the chart will be. */}
          <Suspense fallback={<div className="h-28 w-[220px]" />}>
            <ChartFace display={display} shown={shown} reading={reading} units={units} wall={model.days.wall} />
          </Suspense>
        </>
      );
    case "picture":
      return (
        <>
          {title}
          <Picture file={display.file} format={display.format} width={PICTURE_FACE} title={display.title} />
        </>
      );
  }
}

type Scaled = Extract<Display, { kind: "gauge" | "bar" }>;

/** Share of the scale that a value fills, from 0 to 1. */
const filled = ({ least, most }: Scaled, value: number) =>
  Number.isFinite(value) && most > least ? Math.min(1, Math.max(0, (value - least) / (most - least))) : 0;

function Gauge({ display, value, words }: { display: Scaled; value: number; words: string }) {
  const angle = Math.PI * (1 - filled(display, value));
  const on = (radius: number, a: number) =>
    `${(60 + radius * Math.cos(a)).toFixed(1)} ${(56 - radius * Math.sin(a)).toFixed(1)}`;
  const ticks = Array.from({ length: 11 }, (_, i) => (Math.PI * i) / 10);
  return (
    <svg viewBox="0 0 120 78" className="w-[120px]" role="img" aria-label={words}>
      <path
        d={`M${on(46, Math.PI)} A46 46 0 0 1 ${on(46, 0)}`}
        fill="none"
        stroke="var(--color-line)"
        strokeWidth={7}
      />
      {Number.isFinite(value) && (
        <path
          d={`M${on(46, Math.PI)} A46 46 0 0 1 ${on(46, angle)}`}
          fill="none"
          stroke="var(--color-action)"
          strokeWidth={7}
        />
      )}
      {ticks.map((a) => (
        <path key={a} d={`M${on(51, a)} L${on(54, a)}`} stroke="var(--color-soft)" />
      ))}
      {Number.isFinite(value) && <path d={`M60 56 L${on(38, angle)}`} stroke="var(--color-ink)" strokeWidth={2} />}
      <circle cx={60} cy={56} r={3} fill="var(--color-ink)" />
      <text x={12} y={70} fontSize={10} fill="var(--color-soft)" textAnchor="middle">
        {formatNumber(display.least, 3)}
      </text>
      <text x={108} y={70} fontSize={10} fill="var(--color-soft)" textAnchor="middle">
        {formatNumber(display.most, 3)}
      </text>
      <text x={60} y={74} fontSize={13} fontWeight={600} fill="var(--color-ink)" textAnchor="middle">
        {words}
      </text>
    </svg>
  );
}

function Bar({ display, value, words }: { display: Scaled; value: number; words: string }) {
  return (
    <div className="w-[140px]" role="img" aria-label={words}>
      <div className="flex justify-between">
        <span className="font-semibold tabular-nums">{words}</span>
        <span className="text-xs text-soft tabular-nums">
          {formatNumber(display.least, 3)} to {formatNumber(display.most, 3)}
        </span>
      </div>
      <div className="h-2.5 overflow-hidden rounded-full bg-line">
        <div className="h-full bg-action" style={{ width: `${100 * filled(display, value)}%` }} />
      </div>
    </div>
  );
}
