import type { Calendar } from "../document/calendar.ts";
import type { Column, Table } from "../document/table.ts";
import { checkExpression, makeScope, numberOf } from "../expression/index.ts";
import { TIME } from "../quantity/index.ts";
import { DAY, fixedTime } from "./readCalendar.ts";

/** What keeps a table from being read as a calendar. */
export interface FromTableProblem {
  readonly message: string;
  readonly hint: string;
}

const PLAIN_NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

/** A cell with the unit of its column, where it is written without one. */
function written(text: string, { unit, holds }: Column): string {
  const of = unit.trim() === "" && holds === "duration" ? "min" : unit.trim();
  const hours = /^(\d+):([0-5]\d)$/.exec(text);
  if (hours) return `${hours[1]} h + ${hours[2]} min`;
  return PLAIN_NUMBER.test(text) && of !== "" ? `${text} ${of}` : text;
}

/**
 * A calendar whose pattern is the rows of a table: a duration and what holds for so long, or a time from the start and
 * what holds from then on. Counts become rates by the duration of their row. Any other calendar stays as it is.
 */
export function calendarFromTable(
  calendar: Calendar,
  tables: readonly Table[],
): { readonly calendar: Calendar; readonly problems: readonly FromTableProblem[] } {
  const { from } = calendar;
  if (!from) return { calendar, problems: [] };
  const table = tables.find(({ id }) => id === from.table);
  const [values, times] = [from.values, from.times].map((id) => table?.columns.findIndex((c) => c.id === id) ?? -1);
  const refused = (message: string, hint: string) => ({
    calendar: { ...calendar, repeats: "pattern" as const, pattern: [] },
    problems: [{ message, hint }],
  });
  if (!table) return refused("the table of its rows does not exist.", "Choose another.");
  if (values < 0 || times < 0)
    return refused(`a column of ${table.name} is not chosen, or is gone.`, "Choose the columns of times and values.");
  const cellOf = (row: readonly string[], at: number): string => {
    const column = table.columns[at];
    return written((row[at] || column.default).trim(), column);
  };
  const rows = table.rows.map((row) => ({ time: cellOf(row, times), value: cellOf(row, values) }));
  const day = from.by === "hours";
  const pattern = from.by === "durations" ? byDurations(rows) : byTimes(rows, day ? "24 h" : calendar.fills);
  if (!pattern)
    return refused(
      `the times in ${table.name} do not rise from row to row, or are no fixed times.`,
      "Write times from the start, each later than the one before.",
    );
  const isCount = calendar.gives === "rate" && from.counts;
  const valueOf = ({ duration, value }: Calendar["pattern"][number]): string =>
    value === NOTHING
      ? zero(calendar)
      : isCount
        ? `${PLAIN_NUMBER.test(value) ? value : `(${value || "0"})`} / (${duration})`
        : value;
  const pieces = pattern.map((piece) => ({ duration: piece.duration, value: valueOf(piece) }));
  if (day)
    return {
      calendar: { ...calendar, repeats: "weeks", weeks: 1, exceptions: [], rows: eachDay(pieces) },
      problems: [],
    };
  return {
    calendar: {
      ...calendar,
      repeats: "pattern",
      pattern: pieces,
    },
    problems: [],
  };
}

/** Stands for what holds before the first time. */
const NOTHING = "nothing";
const zero = ({ gives }: Calendar): string => (gives === "rate" ? "0/h" : "0");

interface Line {
  readonly time: string;
  readonly value: string;
}

const byDurations = (rows: readonly Line[]): Calendar["pattern"] =>
  rows.map(({ time, value }) => ({ duration: time, value }));

/** A time in the largest unit of which it is a whole number. */
const inWords = (seconds: number): string =>
  seconds % 3600 === 0 ? `${seconds / 3600} h` : seconds % 60 === 0 ? `${seconds / 60} min` : `${seconds} s`;

const clock = (seconds: number): string =>
  `${String(Math.floor(seconds / 3600)).padStart(2, "0")}:${String(Math.round((seconds % 3600) / 60)).padStart(2, "0")}`;

/** Pieces of a day, from midnight on, as rows of every day of the week; by whole minutes. */
function eachDay(pieces: Calendar["pattern"]): Calendar["rows"] {
  let reached = 0;
  return pieces.flatMap(({ duration, value }) => {
    const [from, to] = [reached, reached + fixedTime(duration)!];
    reached = to;
    return from < DAY
      ? [{ week: 1, days: [0, 1, 2, 3, 4, 5, 6], from: clock(from), to: clock(Math.min(to, DAY)), value }]
      : [];
  });
}

const NO_NAMES = makeScope(new Map(), () => 0);

/** A fixed time of 0 or more, in seconds. */
function timeFromStart(text: string): number | undefined {
  const result = checkExpression(text, NO_NAMES, numberOf(TIME));
  const constant = result.ok ? result.checked.constant : undefined;
  return constant !== undefined && constant >= 0 ? constant : undefined;
}

/** Pieces from each time to the next; before the first there is nothing, and the last fills what is left. */
function byTimes(rows: readonly Line[], fills: string): Calendar["pattern"] | undefined {
  const times = rows.map(({ time }) => timeFromStart(time));
  const end = fixedTime(fills);
  if (end === undefined || times.some((t, i) => t === undefined || (i > 0 && t <= times[i - 1]!))) return undefined;
  const pieces: Calendar["pattern"] = [];
  if (times.length > 0 && times[0]! > 0) pieces.push({ duration: inWords(times[0]!), value: NOTHING });
  rows.forEach(({ value }, i) => {
    const until = times[i + 1] ?? Math.max(end, times[i]!);
    if (until > times[i]!) pieces.push({ duration: inWords(until - times[i]!), value });
  });
  return pieces;
}
