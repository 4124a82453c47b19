import {
  type Design,
  type Element,
  type Frame,
  kindOf,
  looksOf,
  type LineCurve,
  type Model,
  PHASE,
  UNIT,
  UNIT_WORDS,
} from "@busy-harbor/core";
import { useMemo } from "react";
import { LineSample, StepChart } from "../charts/StepChart.tsx";
import { StateMark } from "./StateMark.tsx";
import { STATE_ORDER } from "./states.ts";
import { unitsOf } from "../state/edits.ts";
import { legendOf } from "./entityColours.ts";

const WIDTH = 298;
const HEIGHT = 110;

interface Props {
  readonly frame: Frame | undefined;
  readonly design: Design;
  readonly model: Model;
  /** Curves of the lines where most have stood. */
  readonly lines: readonly LineCurve[];
}

/** What the watched replication shows: lines over time, what stations do now, and the legend. */
export function Instruments({ frame, design, model, lines }: Props) {
  const rows = useMemo(
    () => design.elements.flatMap((e, i) => (kindOf(e).units === undefined ? [] : [{ element: e, index: i }])),
    [design],
  );
  const looks = useMemo(() => looksOf(design), [design]);
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
      {lines.length === 0 ? (
        <p className="py-2 text-soft">No one has waited yet.</p>
      ) : (
        <LineCurves lines={lines} until={frame?.time ?? 0} design={design} wall={model.days.wall} />
      )}
      {rows.length > 0 && (
        <>
          <h2 className="pt-2 font-semibold">What stations and resources are doing</h2>
          <table className="w-full">
            <thead className="text-left text-xs text-soft">
              <tr>
                <th className="font-normal">
                  <span className="sr-only">Element</span>
                </th>
                {columns.map((state) => (
                  <th key={state} className="text-right font-normal" data-tip={UNIT_WORDS[state]}>
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
        </>
      )}
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
      {looks.length > 0 && (
        <ul aria-label="Colours that steps give" className="flex flex-wrap gap-x-3 pt-1">
          {looks.map(({ colour, shape, means }) => (
            <li key={`${colour}${shape}${means}`} className="flex items-center gap-1 text-xs text-soft">
              <span className="h-2.5 w-2.5 rounded-full border border-ink" style={{ background: colour }} />
              {means || "coloured by a step"}
              {shape === "own" ? "" : ` (${shape})`}
            </li>
          ))}
        </ul>
      )}
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

/** Those that are somewhere by themselves, and those that are carried. */
const countType = ({ type: types, carriers }: Frame, type: number) =>
  types.reduce((n, t) => n + (t === type ? 1 : 0), 0) + carriers.load.reduce((n, t) => n + (t === type ? 1 : 0), 0);

/** How many stood in line over the run, at the places where most did. */
function LineCurves({
  lines,
  until,
  design,
  wall,
}: {
  lines: readonly LineCurve[];
  until: number;
  design: Design;
  wall: (time: number) => number;
}) {
  const series = useMemo(
    () => lines.map(({ element, times, values }) => ({ name: design.elements[element].name, times, values })),
    [lines, design],
  );
  return (
    <>
      <div role="img" aria-label={series.map((s) => `${s.name}: ${s.values.at(-1)} in line`).join(", ")}>
        <StepChart series={series} since={0} until={until} wall={wall} width={WIDTH} height={HEIGHT} />
      </div>
      <ul className="flex flex-wrap gap-x-4">
        {series.map((s, i) => (
          <li key={s.name} className="flex items-center gap-1.5 tabular-nums">
            <LineSample at={i} />
            {s.name} {s.values.at(-1)}
          </li>
        ))}
      </ul>
    </>
  );
}
