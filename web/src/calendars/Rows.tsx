import { type Calendar, type Problem, WEEKDAYS } from "@busy-harbor/core";
import { Plus, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import { KeptInput } from "../build/fields.tsx";
import { announce } from "../ui/announce.ts";
import { readTime } from "../ui/readTime.ts";
import { wholeUpTo } from "./wholeUpTo.ts";
import { DateField } from "../ui/DateField.tsx";

type Change = (what: string, key: string, recipe: (calendar: Calendar) => void) => void;

interface CellProps {
  readonly label: string;
  readonly value: string;
  readonly bad: boolean;
  readonly width: string;
  onChange(value: string): void;
}

function Cell({ label, value, bad, width, onChange }: CellProps) {
  return (
    <input
      className={`field mono ${width}`}
      aria-label={label}
      aria-invalid={bad}
      value={value}
      spellCheck={false}
      autoComplete="off"
      maxLength={4000}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

/** A time of day, taken over once it is typed. */
const TimeCell = ({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) => (
  <KeptInput
    label={label}
    shown={value}
    read={readTime}
    wanted="A time of day such as 06:30."
    className="w-[76px]"
    placeholder="06:30"
    when="leaving"
    onChange={onChange}
  />
);

function Problems({ of }: { of: readonly Problem[] }): ReactNode {
  return of.map((p) => (
    <p key={p.message} className={`pb-1 text-xs ${p.severity === "warning" ? "text-amber" : "text-buoy-deep"}`}>
      {p.message} <span className="text-ink">{p.hint}</span>
    </p>
  ));
}

const at = (problems: readonly Problem[], prefix: string) =>
  problems.filter((p) => p.field === prefix || p.field?.startsWith(`${prefix}.`));

/** The rows of a week, as they are drawn above. */
export function WeekRows({
  calendar,
  problems,
  selected,
  onSelect,
  onChange,
}: {
  calendar: Calendar;
  problems: readonly Problem[];
  selected: number | undefined;
  onSelect: (row: number) => void;
  onChange: Change;
}) {
  const what = calendar.gives === "rate" ? "Rate" : "Capacity";
  const set = (i: number, field: string, value: unknown) =>
    onChange("Change hours", `rows/${i}/${field}`, (c) => void Object.assign(c.rows[i], { [field]: value }));
  return (
    <div>
      <div className="flex gap-2 pb-0.5 text-xs text-soft">
        {calendar.weeks > 1 && <span className="w-16">Week</span>}
        <span className="w-[252px]">Days</span>
        <span className="w-[76px]">From</span>
        <span className="w-[76px]">To</span>
        <span>{what}</span>
      </div>
      {calendar.rows.map((row, i) => (
        <div key={i} onFocus={() => onSelect(i)} className={`rounded ${selected === i ? "bg-water" : ""}`}>
          <div role="group" aria-label={`Row ${i + 1}`} className="flex items-start gap-2 py-0.5 [&>button]:mt-2">
            {calendar.weeks > 1 && (
              <KeptInput
                label="Week"
                shown={String(row.week)}
                read={(text) => wholeUpTo(calendar.weeks, text)}
                wanted={`A week from 1 to ${calendar.weeks}.`}
                className="w-16"
                onChange={(v) => set(i, "week", Number(v))}
              />
            )}
            <div className="flex w-[252px] gap-0.5">
              {WEEKDAYS.map((name, day) => (
                <button
                  key={name}
                  aria-pressed={row.days.includes(day)}
                  data-tip={name}
                  className={`h-7 w-[34px] rounded border text-xs ${row.days.includes(day) ? "border-action bg-action text-on-action" : "border-line text-soft"}`}
                  onClick={() => {
                    const days = WEEKDAYS.map((_, d) => d).filter((d) =>
                      d === day ? !row.days.includes(d) : row.days.includes(d),
                    );
                    if (days.length > 0) set(i, "days", days);
                    else announce("A row is for one day at least. Delete the row if it is for none.");
                  }}
                >
                  {name.slice(0, 2)}
                  <span className="sr-only">{name.slice(2)}</span>
                </button>
              ))}
            </div>
            <TimeCell label="From" value={row.from} onChange={(v) => set(i, "from", v)} />
            <TimeCell label="To" value={row.to} onChange={(v) => set(i, "to", v)} />
            <Cell
              label={what}
              value={row.value}
              bad={at(problems, `rows.${i}.value`).length > 0}
              width="w-32!"
              onChange={(v) => set(i, "value", v)}
            />
            <button
              className="text-soft"
              aria-label={`Delete row ${i + 1}`}
              onClick={() =>
                onChange("Delete hours", `delete/${i}/${calendar.rows.length}`, (c) => void c.rows.splice(i, 1))
              }
            >
              <Trash2 size={13} />
            </button>
          </div>
          <Problems of={at(problems, `rows.${i}`)} />
        </div>
      ))}
      <button
        className="button mt-1"
        onClick={() =>
          onChange(
            "Add hours",
            `add/${calendar.rows.length}`,
            (c) =>
              void c.rows.push({
                week: 1,
                days: [0, 1, 2, 3, 4],
                from: "08:00",
                to: "16:00",
                value: calendar.gives === "rate" ? "12/h" : "all",
              }),
          )
        }
      >
        <Plus size={14} /> Row
      </button>
    </div>
  );
}

/** The rows of a pattern: durations one after another. */
export function PatternRows({
  calendar,
  problems,
  onChange,
}: {
  calendar: Calendar;
  problems: readonly Problem[];
  onChange: Change;
}) {
  const what = calendar.gives === "rate" ? "Rate" : "Capacity";
  const set = (i: number, field: "duration" | "value", value: string) =>
    onChange("Change the pattern", `pattern/${i}/${field}`, (c) => void (c.pattern[i][field] = value));
  return (
    <div>
      <div className="flex gap-2 pb-0.5 text-xs text-soft">
        <span className="w-32">Duration</span>
        <span>{what}</span>
      </div>
      {calendar.pattern.map((row, i) => (
        <div key={i}>
          <div role="group" aria-label={`Row ${i + 1}`} className="flex items-start gap-2 py-0.5 [&>button]:mt-2">
            <Cell
              label="Duration"
              value={row.duration}
              bad={at(problems, `pattern.${i}.duration`).length > 0}
              width="w-32!"
              onChange={(v) => set(i, "duration", v)}
            />
            <Cell
              label={what}
              value={row.value}
              bad={at(problems, `pattern.${i}.value`).length > 0}
              width="w-32!"
              onChange={(v) => set(i, "value", v)}
            />
            <button
              className="text-soft"
              aria-label={`Delete row ${i + 1}`}
              onClick={() =>
                onChange("Delete a row", `delete/${i}/${calendar.pattern.length}`, (c) => void c.pattern.splice(i, 1))
              }
            >
              <Trash2 size={13} />
            </button>
          </div>
          <Problems of={at(problems, `pattern.${i}`)} />
        </div>
      ))}
      <button
        className="button mt-1"
        onClick={() =>
          onChange(
            "Add a row",
            `add/${calendar.pattern.length}`,
            (c) => void c.pattern.push({ duration: "1 h", value: calendar.gives === "rate" ? "12/h" : "all" }),
          )
        }
      >
        <Plus size={14} /> Row
      </button>
    </div>
  );
}

/** Dates on which other hours hold. */
export function Exceptions({
  calendar,
  problems,
  onChange,
  firstDate,
}: {
  calendar: Calendar;
  problems: readonly Problem[];
  onChange: Change;
  firstDate: string;
}) {
  const what = calendar.gives === "rate" ? "Rate" : "Capacity";
  return (
    <div>
      {calendar.exceptions.map((exception, i) => {
        const set = (field: string, value: unknown) =>
          onChange(
            "Change a date",
            `exceptions/${i}/${field}`,
            (c) => void Object.assign(c.exceptions[i], { [field]: value }),
          );
        const setRow = (k: number, field: string, value: unknown) =>
          onChange(
            "Change a date",
            `exceptions/${i}/${k}/${field}`,
            (c) => void Object.assign(c.exceptions[i].rows[k], { [field]: value }),
          );
        return (
          <div
            key={i}
            role="group"
            aria-label={`Date ${i + 1}`}
            className="mb-1.5 rounded-lg border border-line px-2.5 py-1.5"
          >
            <div className="flex items-center gap-2">
              <DateField label="Date" value={exception.date} onChange={(date) => set("date", date)} />
              <input
                className="field"
                aria-label="What for"
                placeholder="What for, such as harbour day"
                maxLength={200}
                value={exception.note}
                onChange={(event) => set("note", event.target.value)}
              />
              <button
                className="text-soft"
                aria-label={`Delete date ${i + 1}`}
                onClick={() =>
                  onChange("Delete a date", `exceptions/delete/${i}`, (c) => void c.exceptions.splice(i, 1))
                }
              >
                <Trash2 size={13} />
              </button>
            </div>
            {exception.rows.length === 0 && (
              <p className="pt-1 text-soft">{calendar.gives === "rate" ? "Nothing arrives" : "Off"} all day.</p>
            )}
            {exception.rows.map((row, k) => (
              <div key={k} className="flex items-center gap-2 pt-1">
                <TimeCell label="From" value={row.from} onChange={(v) => setRow(k, "from", v)} />
                <TimeCell label="To" value={row.to} onChange={(v) => setRow(k, "to", v)} />
                <Cell
                  label={what}
                  value={row.value}
                  bad={at(problems, `exceptions.${i}.rows.${k}`).length > 0}
                  width="w-32!"
                  onChange={(v) => setRow(k, "value", v)}
                />
                <button
                  className="text-soft"
                  aria-label={`Delete row ${k + 1}`}
                  onClick={() =>
                    onChange(
                      "Delete hours",
                      `exceptions/${i}/delete/${k}`,
                      (c) => void c.exceptions[i].rows.splice(k, 1),
                    )
                  }
                >
                  <Trash2 size={13} />
                </button>
              </div>
            ))}
            <Problems of={at(problems, `exceptions.${i}`)} />
            <button
              className="button mt-1"
              onClick={() =>
                onChange(
                  "Add hours",
                  `exceptions/${i}/add/${exception.rows.length}`,
                  (c) =>
                    void c.exceptions[i].rows.push({
                      from: "08:00",
                      to: "12:00",
                      value: calendar.gives === "rate" ? "12/h" : "all",
                    }),
                )
              }
            >
              <Plus size={14} /> Row
            </button>
          </div>
        );
      })}
      <button
        className="button"
        onClick={() =>
          onChange(
            "Add a date",
            `exceptions/add/${calendar.exceptions.length}`,
            (c) => void c.exceptions.push({ date: firstDate, note: "", rows: [] }),
          )
        }
      >
        <Plus size={14} /> Date
      </button>
    </div>
  );
}
