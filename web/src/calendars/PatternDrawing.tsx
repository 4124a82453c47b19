import { type Calendar, fixedTime } from "@busy-harbor/core";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { durationText } from "./blocks.ts";

interface Props {
  readonly calendar: Calendar;
  /** Without, it is only looked at. */
  onChange?(what: string, key: string, recipe: (calendar: Calendar) => void): void;
}

let drags = 0;

/**
 * The rows of a pattern one after another against what they should fill; drag the end of a row to change how long it
 * is.
 */
export function PatternDrawing({ calendar, onChange }: Props) {
  const strip = useRef<HTMLDivElement>(null);
  const drag = useRef<{ id: number; row: number }>(undefined);
  const fills = fixedTime(calendar.fills) ?? 86_400;
  const durations = calendar.pattern.map((row) => fixedTime(row.duration) ?? 0);
  const ends: number[] = [];
  for (const duration of durations) ends.push((ends.at(-1) ?? 0) + duration);
  const sum = ends.at(-1) ?? 0;
  const whole = Math.max(fills, sum) * (sum > fills ? 1.02 : 1);
  const step = fills <= 4 * 3600 ? 300 : 900;
  const percent = (seconds: number) => `${(seconds / whole) * 100}%`;

  const setDuration = (row: number, seconds: number, key: string) => {
    const text = durationText(Math.max(step, Math.round(seconds)));
    if (calendar.pattern[row].duration !== text)
      onChange?.("Change a duration", key, (c) => void (c.pattern[row].duration = text));
  };
  const move = (event: PointerEvent<HTMLElement>) => {
    const held = drag.current;
    const box = strip.current?.getBoundingClientRect();
    if (!held || !box) return;
    const at = ((event.clientX - box.left) / box.width) * whole;
    const before = held.row === 0 ? 0 : ends[held.row - 1];
    // Near the end of what is to be filled, the end is meant.
    const wanted = Math.abs(at - fills) < step ? fills : Math.round(at / step) * step;
    setDuration(held.row, wanted - before, `drag-${held.id}`);
  };
  const press = (event: KeyboardEvent, row: number) => {
    const by = event.key === "ArrowRight" ? step : event.key === "ArrowLeft" ? -step : 0;
    if (by === 0) return;
    event.preventDefault();
    setDuration(row, durations[row] + by, `keys-${row}`);
  };

  return (
    <div aria-label="The pattern" role="group">
      <div ref={strip} className="relative h-12 touch-none rounded bg-water">
        {calendar.pattern.map((row, i) => (
          <div
            key={i}
            className={`absolute inset-y-0 overflow-hidden border-r border-sheet px-1.5 py-1 text-xs ${row.value === "0" ? "bg-water text-soft" : "bg-action text-on-action"}`}
            style={{ left: percent(ends[i] - durations[i]), width: percent(durations[i]) }}
          >
            <span className="block truncate font-medium">{row.value}</span>
            <span className="block truncate">{row.duration}</span>
          </div>
        ))}
        {sum < fills && (
          <div
            className="absolute inset-y-0 flex items-center justify-center overflow-hidden rounded-r border-2 border-dashed border-buoy text-xs text-buoy-deep"
            style={{ left: percent(sum), width: percent(fills - sum) }}
          >
            <span className="truncate px-1">{durationText(fills - sum)} open</span>
          </div>
        )}
        {sum > fills && (
          <div
            className="absolute -inset-y-1 w-0.5 bg-buoy"
            style={{ left: percent(fills) }}
            data-tip={`What they should fill: ${calendar.fills}`}
          />
        )}
        {(onChange ? calendar.pattern : []).map((row, i) => (
          <button
            key={i}
            role="slider"
            aria-label={`End of row ${i + 1}`}
            aria-valuenow={ends[i] / 3600}
            aria-valuemin={(ends[i] - durations[i]) / 3600}
            aria-valuemax={fills / 3600}
            aria-valuetext={`${row.value} for ${row.duration}`}
            data-tip="Drag, or use the arrow keys, to change how long this row is."
            className="absolute inset-y-0 w-3 -translate-x-1/2 cursor-ew-resize touch-none rounded hover:bg-buoy/40"
            style={{ left: percent(ends[i]) }}
            onPointerDown={(event) => {
              drag.current = { id: ++drags, row: i };
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={move}
            onPointerUp={() => (drag.current = undefined)}
            onPointerCancel={() => (drag.current = undefined)}
            onKeyDown={(event) => press(event, i)}
          />
        ))}
      </div>
      <div className="relative h-5 text-xs text-soft tabular-nums">
        <span className="absolute left-0">0</span>
        <span className="absolute -translate-x-full pr-1 whitespace-nowrap" style={{ left: percent(fills) }}>
          {calendar.fills}
        </span>
      </div>
    </div>
  );
}
