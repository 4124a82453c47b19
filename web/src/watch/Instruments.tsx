import { type Design, formatClock, type Frame, type Model, PHASE } from "@busy-harbor/core";
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
  const shown = [...traces].filter((t) => t.values.some((v) => v > 0)).sort((a, b) => Math.max(...b.values) - Math.max(...a.values)).slice(0, 4);
  const stations = design.elements.flatMap((e, i) => (e.kind === "station" ? [{ element: e, index: i }] : []));
  const inPhase = (index: number, phase: number) => {
    let n = 0;
    if (frame) for (let i = 0; i < frame.count; i++) if (frame.place[i] === index && frame.phase[i] === phase) n += 1;
    return n;
  };
  return (
    <section aria-label="Instruments" className="panel float max-h-[calc(100vh-240px)] overflow-y-auto px-4 py-3">
      <h2 className="font-semibold">In line, by place</h2>
      {shown.length === 0 ? <p className="py-2 text-soft">No one has waited yet.</p> : <LevelChart traces={shown} until={frame?.time ?? 0} startOfDay={model.startOfDay} />}
      <h2 className="pt-2 font-semibold">What the stations are doing</h2>
      <table className="w-full">
        <thead className="text-left text-xs text-soft">
          <tr><th className="font-normal">Station</th><th className="text-right font-normal">busy</th><th className="text-right font-normal">blocked</th><th className="text-right font-normal">idle</th></tr>
        </thead>
        <tbody>
          {stations.map(({ element, index }) => {
            const [busy, blocked] = [inPhase(index, PHASE.working), inPhase(index, PHASE.blocked)];
            const capacity = Number(element.capacity) || 1;
            return (
              <tr key={element.id} className="tabular-nums">
                <td className="max-w-36 truncate">{element.name}</td>
                <td className="text-right">{busy}</td>
                <td className="text-right">{blocked}</td>
                <td className="text-right">{capacity - busy - blocked}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <h2 className="pt-2 font-semibold">In the system</h2>
      <ul className="flex flex-wrap gap-x-4 gap-y-1">
        {model.types.map((t) => (
          <li key={t.type.id} className="flex flex-wrap items-baseline gap-1.5 tabular-nums">
            {legendOf(t).length === 0 && <span className="h-2.5 w-4 rounded-full border border-ink" style={{ background: t.type.colour }} />}
            {t.type.name} {frame ? countType(frame, t.index) : 0}
            {legendOf(t).length > 0 && (
              <ul aria-label={`Colours of ${t.type.name}`} className="flex flex-wrap gap-x-3">
                {legendOf(t).map(([words, colour]) => (
                  <li key={words} className="flex items-center gap-1 text-xs text-soft"><span className="h-2.5 w-2.5 rounded-full border border-ink" style={{ background: colour }} />{words}</li>
                ))}
              </ul>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const countType = (frame: Frame, type: number) => frame.type.reduce((n, t) => n + (t === type ? 1 : 0), 0);

function LevelChart({ traces, until, startOfDay }: { traces: readonly LevelTrace[]; until: number; startOfDay: number }) {
  const most = Math.max(4, ...traces.flatMap((t) => t.values));
  const step = niceStep(most / 3);
  const top = Math.ceil(most / step) * step;
  const x = (time: number) => 26 + (until > 0 ? (time / until) * (WIDTH - 30) : 0);
  const y = (value: number) => HEIGHT - 20 - (value / top) * (HEIGHT - 28);
  const rules = Array.from({ length: Math.round(top / step) + 1 }, (_, i) => i * step);
  return (
    <>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={traces.map((t) => `${t.name}: ${t.values.at(-1)} in line`).join(", ")}>
        {rules.map((v) => (
          <g key={v}>
            <line x1={26} x2={WIDTH - 4} y1={y(v)} y2={y(v)} stroke={v === 0 ? "var(--color-ink)" : "var(--color-line)"} />
            <text x={20} y={y(v) + 4} textAnchor="end" fontSize={11} fill="var(--color-soft)">{v}</text>
          </g>
        ))}
        <text x={26} y={HEIGHT - 4} fontSize={11} fill="var(--color-soft)">{formatClock(0, startOfDay)}</text>
        <text x={WIDTH - 4} y={HEIGHT - 4} textAnchor="end" fontSize={11} fill="var(--color-soft)">{formatClock(until, startOfDay)}</text>
        {traces.map((t, s) => (
          <path key={t.name} d={t.times.map((time, i) => `${i === 0 ? "M" : "L"}${x(time).toFixed(1)} ${y(t.values[i]).toFixed(1)}`).join("")} fill="none" stroke={SERIES[s]} strokeWidth={1.6} strokeDasharray={DASHES[s]} />
        ))}
      </svg>
      <ul className="flex flex-wrap gap-x-4">
        {traces.map((t, s) => (
          <li key={t.name} className="flex items-center gap-1.5 tabular-nums">
            <svg width={22} height={8} aria-hidden><line x1={0} x2={22} y1={4} y2={4} stroke={SERIES[s]} strokeWidth={2} strokeDasharray={DASHES[s]} /></svg>
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
