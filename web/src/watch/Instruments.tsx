import {
  type Design,
  type Element,
  formatClock,
  type Frame,
  kindOf,
  type Model,
  PHASE,
  UNIT,
  UNIT_WORDS,
} from "@busy-harbor/core";
import { useMemo } from "react";
import { StateMark } from "./StateMark.tsx";
import { STATE_ORDER } from "./states.ts";
import { unitsOf } from "../state/edits.ts";
import { legendOf } from "./entityColours.ts";
import type { LevelTrace } from "./levels.ts";

const SERIES = ["var(--color-action)", "var(--color-buoy)", "var(--color-blocked)", "var(--color-amber)"];
const DASHES = ["", "5 3", "2 2", "8 3 2 3"];
const WIDTH = 298;
const HEIGHT = 110;

interface Props {
  readonly frame: Frame | undefined;
  readonly design: Design;
  readonly model: Model;
  readonly traces: readonly LevelTrace[];
}

/** What the watched replication shows: lines over time, what stations do now, and the legend. */
export function Instruments({ frame, design, model, traces }: Props) {
  const shown = [...traces]
    .filter((t) => t.values.some((v) => v > 0))
    .sort((a, b) => Math.max(...b.values) - Math.max(...a.values))
    .slice(0, 4);
  const rows = useMemo(
    () => design.elements.flatMap((e, i) => (kindOf(e).units === undefined ? [] : [{ element: e, index: i }])),
    [design],
  );
  const counts = rows.map(({ element, index }) => statesNow(element, index, frame));
  // Only states that something can be in have a column.
  const columns = STATE_ORDER.filter(
    (state) =>
      state === UNIT.idle ||
      state === UNIT.busy ||
      counts.some((c) => c[state] > 0) ||
      rows.some(({ element }) =>
        kindOf(element)
          .states?.(element)
          .some((may) => may === state),
      ),
  );
  return (
    <section aria-label="Instruments" className="panel float max-h-[calc(100vh-240px)] overflow-y-auto px-4 py-3">
      <h2 className="font-semibold">In line, by place</h2>
      {shown.length === 0 ? (
        <p className="py-2 text-soft">No one has waited yet.</p>
      ) : (
        <LevelChart traces={shown} until={frame?.time ?? 0} wall={model.days.wall} />
      )}
      <h2 className="pt-2 font-semibold">What stations and resources are doing</h2>
      <table className="w-full">
        <thead className="text-left text-xs text-soft">
          <tr>
            <th className="font-normal">
              <span className="sr-only">Element</span>
            </th>
            {columns.map((state) => (
              <th key={state} className="text-right font-normal" title={UNIT_WORDS[state]}>
                <StateMark state={state} />
                <span className="sr-only">{UNIT_WORDS[state]}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ element }, i) => (
            <tr key={element.id} className="tabular-nums">
              <td className="max-w-36 truncate">{element.name}</td>
              {columns.map((state) => (
                <td key={state} className={`text-right ${counts[i][state] === 0 ? "text-soft" : ""}`}>
                  {counts[i][state]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <ul aria-label="States" className="flex flex-wrap gap-x-3 gap-y-0.5 pt-1 text-xs text-soft">
        {columns.map((state) => (
          <li key={state} className="flex items-center gap-1">
            <StateMark state={state} /> {UNIT_WORDS[state]}
          </li>
        ))}
      </ul>
      <h2 className="pt-2 font-semibold">In the system</h2>
      <ul className="flex flex-wrap gap-x-4 gap-y-1">
        {model.types.map((t) => (
          <li key={t.type.id} className="flex flex-wrap items-baseline gap-1.5 tabular-nums">
            {legendOf(t).length === 0 && (
              <span className="h-2.5 w-4 rounded-full border border-ink" style={{ background: t.type.colour }} />
            )}
            {t.type.name} {frame ? countType(frame, t.index) : 0}
            {legendOf(t).length > 0 && (
              <ul aria-label={`Colours of ${t.type.name}`} className="flex flex-wrap gap-x-3">
                {legendOf(t).map(([words, colour]) => (
                  <li key={words} className="flex items-center gap-1 text-xs text-soft">
                    <span className="h-2.5 w-2.5 rounded-full border border-ink" style={{ background: colour }} />
                    {words}
                  </li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How many slots or units of an element are in each state. */
function statesNow(element: Element, index: number, frame: Frame | undefined): number[] {
  const counts = STATE_ORDER.map(() => 0);
  const units = frame?.units[index];
  if (units) for (const state of units) counts[state] += 1;
  else {
    const capacity = unitsOf(element) || 1;
    if (frame) {
      for (let i = 0; i < frame.count; i++) {
        if (frame.place[i] !== index) continue;
        if (frame.phase[i] === PHASE.working) counts[UNIT.busy] += 1;
        else if (frame.phase[i] === PHASE.blocked) counts[UNIT.blocked] += 1;
      }
    }
    counts[UNIT.idle] = capacity - counts[UNIT.busy] - counts[UNIT.blocked];
  }
  return counts;
}

const countType = (frame: Frame, type: number) => frame.type.reduce((n, t) => n + (t === type ? 1 : 0), 0);

function LevelChart({
  traces,
  until,
  wall,
}: {
  traces: readonly LevelTrace[];
  until: number;
  wall: (time: number) => number;
}) {
  const most = Math.max(4, ...traces.flatMap((t) => t.values));
  const step = niceStep(most / 3);
  const top = Math.ceil(most / step) * step;
  const x = (time: number) => 26 + (until > 0 ? (time / until) * (WIDTH - 30) : 0);
  const y = (value: number) => HEIGHT - 20 - (value / top) * (HEIGHT - 28);
  const rules = Array.from({ length: Math.round(top / step) + 1 }, (_, i) => i * step);
  return (
    <>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={traces.map((t) => `${t.name}: ${t.values.at(-1)} in line`).join(", ")}
      >
        {rules.map((v) => (
          <g key={v}>
            <line
              x1={26}
              x2={WIDTH - 4}
              y1={y(v)}
              y2={y(v)}
              stroke={v === 0 ? "var(--color-ink)" : "var(--color-line)"}
            />
            <text x={20} y={y(v) + 4} textAnchor="end" fontSize={11} fill="var(--color-soft)">
              {v}
            </text>
          </g>
        ))}
        <text x={26} y={HEIGHT - 4} fontSize={11} fill="var(--color-soft)">
          {formatClock(wall(0))}
        </text>
        <text x={WIDTH - 4} y={HEIGHT - 4} textAnchor="end" fontSize={11} fill="var(--color-soft)">
          {formatClock(wall(until))}
        </text>
        {traces.map((t, s) => (
          <path
            key={t.name}
            d={t.times
              .map((time, i) => `${i === 0 ? "M" : "L"}${x(time).toFixed(1)} ${y(t.values[i]).toFixed(1)}`)
              .join("")}
            fill="none"
            stroke={SERIES[s]}
            strokeWidth={1.6}
            strokeDasharray={DASHES[s]}
          />
        ))}
      </svg>
      <ul className="flex flex-wrap gap-x-4">
        {traces.map((t, s) => (
          <li key={t.name} className="flex items-center gap-1.5 tabular-nums">
            <svg width={22} height={8} aria-hidden>
              <line x1={0} x2={22} y1={4} y2={4} stroke={SERIES[s]} strokeWidth={2} strokeDasharray={DASHES[s]} />
            </svg>
            {t.name} {t.values.at(-1)}
          </li>
        ))}
      </ul>
    </>
  );
}

function niceStep(rough: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(rough, 1)));
  return [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough) ?? 10 * power;
}
