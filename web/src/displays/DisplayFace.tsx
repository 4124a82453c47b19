import {
  type Display,
  type DisplayModel,
  displayUnit,
  formatClock,
  formatNumber,
  formatQuantity,
  type Model,
  type Study,
} from "@busy-harbor/core";
import type { ShownHistory } from "./history.ts";
import { Picture } from "./Picture.tsx";

/** What a display says at one moment: NaN where nothing is known, as while the design is built. */
export interface Reading {
  readonly time: number | undefined;
  readonly values: ArrayLike<number>;
  readonly history?: ShownHistory;
  /** Position of the display's first value among all. */
  readonly first: number;
}

interface Props {
  readonly shown: DisplayModel;
  readonly model: Model;
  readonly units: Study["units"];
  readonly reading: Reading;
  /** Pixels a metre, for what has a size on the floor. */
  readonly scale: number;
}

type Checked = DisplayModel["values"][number];

const wordsOf = (value: number, checked: Checked, units: Study["units"]): string => {
  if (!checked || !Number.isFinite(value)) return "–";
  if (checked.type.kind === "yesNo") return value !== 0 ? "yes" : "no";
  return checked.type.kind === "number" ? formatQuantity(value, checked.type.dimension, units, 3) : "–";
};

/** Factor from SI to the unit that a value is shown in. */
const factorOf = (checked: Checked, units: Study["units"]) =>
  checked?.type.kind === "number" ? displayUnit(checked.type.dimension, units).factor : 1;

/** The face of a display. */
export function DisplayFace({ shown, model, units, reading, scale }: Props) {
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
          <Chart display={display} shown={shown} reading={reading} units={units} wall={model.days.wall} />
        </>
      );
    case "picture":
      return (
        <>
          {title}
          <Picture file={display.file} format={display.format} width={display.width * scale} title={display.title} />
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

const [WIDTH, HEIGHT] = [220, 96];
const SERIES = ["var(--color-action)", "var(--color-buoy)", "var(--color-ink)", "var(--color-soft)"];
const DASHES = [undefined, "5 3", "1.5 2.5", "8 2 2 2"];

/** The recent past of the rows, one line each. */
function Chart({
  display,
  shown,
  reading,
  units,
  wall,
}: {
  display: Extract<Display, { kind: "chart" }>;
  shown: DisplayModel;
  reading: Reading;
  units: Study["units"];
  wall: (time: number) => number;
}) {
  const { history, first } = reading;
  const span = shown.span && shown.span > 0 ? shown.span : 3600;
  const until = Math.max(reading.time ?? 0, span);
  const since = until - span;
  const series = display.rows.map((_, i) =>
    (history?.values[first + i] ?? []).map((v) => v / factorOf(shown.values[i], units)),
  );
  const finite = series.flat().filter(Number.isFinite);
  const top = Math.max(1, ...finite);
  const bottom = Math.min(0, ...finite);
  const x = (time: number) => 28 + (Math.max(0, time - since) / span) * (WIDTH - 34);
  const y = (value: number) => HEIGHT - 18 - ((value - bottom) / (top - bottom)) * (HEIGHT - 26);
  return (
    <div style={{ width: WIDTH }}>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={display.rows
          .map((row, i) => `${row.label || row.value}: ${wordsOf(reading.values[first + i], shown.values[i], units)}`)
          .join(", ")}
      >
        {[bottom, top].map((v) => (
          <g key={v}>
            <line x1={28} x2={WIDTH - 6} y1={y(v)} y2={y(v)} stroke="var(--color-line)" />
            <text x={24} y={y(v) + 3} fontSize={10} textAnchor="end" fill="var(--color-soft)">
              {formatNumber(v, 3)}
            </text>
          </g>
        ))}
        <text x={28} y={HEIGHT - 4} fontSize={10} fill="var(--color-soft)">
          {formatClock(wall(since))}
        </text>
        <text x={WIDTH - 6} y={HEIGHT - 4} fontSize={10} textAnchor="end" fill="var(--color-soft)">
          {formatClock(wall(until))}
        </text>
        {series.map((values, i) => (
          <path
            key={i}
            d={stepsOf(history?.times ?? [], values, x, y)}
            fill="none"
            stroke={SERIES[i % 4]}
            strokeWidth={1.5}
            strokeDasharray={DASHES[i % 4]}
          />
        ))}
      </svg>
      <ul className="flex flex-wrap gap-x-3 text-xs">
        {display.rows.map((row, i) => (
          <li key={i} className="flex items-center gap-1">
            <svg width={18} height={6} aria-hidden>
              <line
                x1={0}
                x2={18}
                y1={3}
                y2={3}
                stroke={SERIES[i % 4]}
                strokeWidth={2}
                strokeDasharray={DASHES[i % 4]}
              />
            </svg>
            {row.label || row.value}{" "}
            <span className="tabular-nums">{wordsOf(reading.values[first + i], shown.values[i], units)}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** A value holds until it changes. */
function stepsOf(
  times: readonly number[],
  values: readonly number[],
  x: (t: number) => number,
  y: (v: number) => number,
): string {
  let path = "";
  let drawing = false;
  values.forEach((value, i) => {
    if (!Number.isFinite(value)) drawing = false;
    else {
      path += drawing
        ? `H${x(times[i]).toFixed(1)}V${y(value).toFixed(1)}`
        : `M${x(times[i]).toFixed(1)} ${y(value).toFixed(1)}`;
      drawing = true;
    }
  });
  return path;
}
