import { type Calendar, WEEKDAYS } from "@busy-harbor/core";
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import {
  blocksOf,
  DAY_MINUTES,
  type DrawnBlock,
  minutesOf,
  moveRow,
  resizeRow,
  snap,
  SNAP,
  timeText,
} from "./blocks.ts";

interface Props {
  readonly calendar: Calendar;
  readonly week: number;
  readonly selected: number | undefined;
  onSelect(row: number | undefined): void;
  /** Changes rows of a draft; edits with one key are undone together. */
  onChange(what: string, key: string, recipe: (calendar: Calendar) => void): void;
}

/** What the pointer is doing to a row, from where. */
interface Drag {
  readonly id: number;
  readonly row: number;
  readonly does: "draw" | "move" | "from" | "to";
  readonly startMinute: number;
  readonly was: Calendar["rows"][number];
}

/** Pixels at the end of a block that take hold of that end. */
const GRIP = 8;
const HOURS = [0, 3, 6, 9, 12, 15, 18, 21, 24];

let drags = 0;

/** A week as seven lanes of a day: draw a block on a lane, take it by its middle or its ends. */
export function WeekDrawing({ calendar, week, selected, onSelect, onChange }: Props) {
  const drag = useRef<Drag>(undefined);
  const blocks = blocksOf(calendar, week);
  const minuteAt = (event: PointerEvent<HTMLElement>) => {
    const lane = event.currentTarget.closest("[data-lane]")!.getBoundingClientRect();
    return ((event.clientX - lane.left) / lane.width) * DAY_MINUTES;
  };

  const begin = (event: PointerEvent<HTMLElement>, day: number) => {
    if (event.button !== 0) return;
    const minute = Math.min(snap(minuteAt(event)), DAY_MINUTES - SNAP);
    const row = calendar.rows.length;
    const last = calendar.rows.at(-1);
    const fresh = {
      week,
      days: [day],
      from: timeText(minute),
      to: timeText(minute + SNAP),
      value: last?.value ?? (calendar.gives === "rate" ? "12/h" : "all"),
    };
    drag.current = { id: ++drags, row, does: "draw", startMinute: minute, was: fresh };
    event.currentTarget.setPointerCapture(event.pointerId);
    onChange("Draw hours", `drag-${drags}`, (c) => void c.rows.push(fresh));
    onSelect(row);
  };
  const grab = (event: PointerEvent<HTMLElement>, block: DrawnBlock) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const box = event.currentTarget.getBoundingClientRect();
    const [before, after] = [event.clientX - box.left, box.right - event.clientX];
    const does =
      block.begins && before < Math.min(GRIP, box.width / 3)
        ? "from"
        : block.ends && after < Math.min(GRIP, box.width / 3)
          ? "to"
          : "move";
    drag.current = { id: ++drags, row: block.row, does, startMinute: minuteAt(event), was: calendar.rows[block.row] };
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus();
    onSelect(block.row);
  };
  const move = (event: PointerEvent<HTMLElement>) => {
    const held = drag.current;
    if (!held) return;
    const minute = minuteAt(event);
    const next =
      held.does === "move"
        ? moveRow(held.was, Math.round((minute - held.startMinute) / SNAP) * SNAP)
        : held.does === "draw"
          ? drawn(held.startMinute, snap(minute))
          : resizeRow(held.was, held.does, snap(minute));
    const now = calendar.rows[held.row];
    if (!now || (next.from === now.from && next.to === now.to)) return;
    onChange(
      held.does === "draw" ? "Draw hours" : "Change hours",
      `drag-${held.id}`,
      (c) => void Object.assign(c.rows[held.row], next),
    );
  };
  const end = () => (drag.current = undefined);

  const press = (event: KeyboardEvent<HTMLElement>, block: DrawnBlock) => {
    const row = calendar.rows[block.row];
    const by = event.key === "ArrowRight" ? SNAP : event.key === "ArrowLeft" ? -SNAP : 0;
    if (event.key === "Delete" || event.key === "Backspace") {
      event.preventDefault();
      onChange("Delete hours", `delete-${Date.now()}`, (c) => {
        const target = c.rows[block.row];
        if (target.days.length > 1) target.days = target.days.filter((d) => d !== block.day);
        else c.rows.splice(block.row, 1);
      });
      onSelect(undefined);
    } else if (by !== 0) {
      event.preventDefault();
      const next = event.shiftKey
        ? resizeRow(row, "to", minutesOf(row.to) + by)
        : event.altKey
          ? resizeRow(row, "from", minutesOf(row.from) + by)
          : moveRow(row, by);
      onChange("Change hours", `keys-${block.row}`, (c) => void Object.assign(c.rows[block.row], next));
    }
  };

  return (
    <div aria-label="Hours of the week" role="group">
      <div className="relative ml-24 h-5 text-xs text-soft tabular-nums">
        {HOURS.map((h) => (
          <span key={h} className="absolute -translate-x-1/2" style={{ left: `${(h / 24) * 100}%` }}>
            {h}
          </span>
        ))}
      </div>
      {WEEKDAYS.map((name, day) => (
        <div key={name} className="flex items-center">
          <span className="w-24 shrink-0 text-soft">{name}</span>
          <div
            data-lane={day}
            className="relative my-[3px] h-8 grow cursor-crosshair touch-none rounded bg-water"
            style={{
              backgroundImage: "repeating-linear-gradient(to right, var(--color-line) 0 1px, transparent 1px 12.5%)",
            }}
            onPointerDown={(event) => begin(event, day)}
            onPointerMove={move}
            onPointerUp={end}
            onPointerCancel={end}
          >
            {blocks
              .filter((b) => b.lane === day)
              .map((block) => {
                const row = calendar.rows[block.row];
                return (
                  <button
                    key={`${block.row}/${block.day}`}
                    aria-label={`${WEEKDAYS[block.day]} ${row.from} to ${row.to}, ${row.value}`}
                    data-tip={`${row.from} to ${row.to}: ${row.value}. Drag to move it, or an end to change it. Keys: arrows move, Shift changes the end, Alt the start, Delete takes it away.`}
                    data-row={block.row}
                    className={`absolute inset-y-0 cursor-grab touch-none overflow-hidden rounded border text-xs ${selected === block.row ? "border-buoy outline-2 outline-buoy" : "border-action-deep"} ${row.value === "0" ? "bg-sheet text-ink" : "bg-action text-on-action"}`}
                    style={{
                      left: `${(block.from / DAY_MINUTES) * 100}%`,
                      width: `${((block.to - block.from) / DAY_MINUTES) * 100}%`,
                    }}
                    onPointerDown={(event) => grab(event, block)}
                    onPointerMove={(event) => {
                      event.stopPropagation();
                      move(event);
                    }}
                    onPointerUp={end}
                    onPointerCancel={end}
                    onFocus={() => onSelect(block.row)}
                    onKeyDown={(event) => press(event, block)}
                  >
                    <span className="absolute inset-y-0 left-0 w-2 cursor-ew-resize" aria-hidden />
                    <span className="absolute inset-y-0 right-0 w-2 cursor-ew-resize" aria-hidden />
                    <span className="pointer-events-none px-1">{row.value}</span>
                  </button>
                );
              })}
          </div>
        </div>
      ))}
    </div>
  );
}

/** Hours drawn from one minute to another, whichever comes first. */
function drawn(a: number, b: number): { from: string; to: string } {
  const [from, to] = a <= b ? [a, Math.max(b, a + SNAP)] : [b, a];
  return { from: timeText(from), to: timeText(to) };
}
