import type { Problem } from "../document/problem.ts";
import type { Calendar } from "../document/calendar.ts";
import { checkExpression, makeScope, numberOf, PLAIN } from "../expression/index.ts";
import { RATE, TIME } from "../quantity/index.ts";
import { type Cycle, type Override, Timetable } from "./timetable.ts";

export const DAY = 86_400;
export const WEEK = 7 * DAY;

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"] as const;

export interface CalendarReading {
  /** Absent where an error keeps it from being read. The value "all" is Infinity. */
  readonly timetable?: Timetable;
  /** Paths begin inside the calendar. */
  readonly problems: readonly CalendarProblem[];
}

export type CalendarProblem = Pick<Problem, "code" | "severity" | "message" | "hint" | "path" | "start" | "end">;

/** Days from 1970-01-01, a Thursday, to a date; times of the year do not change the clock here. */
export const dayNumber = (date: string): number =>
  Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8, 10))) / 86_400_000;

/** Day of the week of a day number, Monday being 0. */
export const weekdayOf = (day: number): number => (((day + 3) % 7) + 7) % 7;

/** Whether a text is a date that exists, such as 2026-06-24. */
export function isDate(text: string): boolean {
  const found = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!found) return false;
  const date = new Date(dayNumber(text) * 86_400_000);
  return (
    date.getUTCFullYear() === Number(found[1]) &&
    date.getUTCMonth() + 1 === Number(found[2]) &&
    date.getUTCDate() === Number(found[3])
  );
}

/** Whether a text is a date and a time of day that exist, such as 2026-06-24T08:00. */
export const isMoment = (text: string): boolean =>
  isDate(text.slice(0, 10)) && /^T([01]\d|2[0-3]):[0-5]\d$/.test(text.slice(10));

/** Seconds from midnight of a time of day such as 06:30. */
export const secondsOfDay = (text: string): number => Number(text.slice(0, 2)) * 3600 + Number(text.slice(3, 5)) * 60;

/** A date with a time of day, `2026-06-05T14:00`, in seconds from 1970 on as the clock on the wall has them. */
export const secondsOfMoment = (text: string): number =>
  dayNumber(text.slice(0, 10)) * 86_400 + secondsOfDay(text.slice(11));

const noNames = makeScope(new Map(), () => 0);

/** A fixed time above 0, such as 7.5 h, in seconds; undefined where the text is none. */
export function fixedTime(text: string): number | undefined {
  const result = checkExpression(text, noNames, numberOf(TIME));
  const time = result.ok ? result.checked.constant : undefined;
  return time !== undefined && time > 0 && time < Infinity ? time : undefined;
}

/** A fixed rate, such as 12/h, per second; undefined where the text is none. */
export function fixedRate(text: string): number | undefined {
  const result = checkExpression(text, noNames, numberOf(RATE));
  return result.ok ? result.checked.constant : undefined;
}

interface Block {
  from: number;
  until: number;
  value: number;
  path: readonly (string | number)[];
  words: string;
}

/** Reads a calendar for a run that starts at a date and time (`2026-06-01T08:00`). */
export function readCalendar(calendar: Calendar, start: string): CalendarReading {
  return new CalendarReader(calendar, start).read();
}

type Path = readonly (string | number)[];

/** One calendar as it is read, with what is wrong with it. */
class CalendarReader {
  private readonly problems: CalendarProblem[] = [];
  private readonly startDay: number;
  private readonly startOfDay: number;

  constructor(
    private readonly calendar: Calendar,
    start: string,
  ) {
    this.startDay = dayNumber(start.slice(0, 10));
    this.startOfDay = secondsOfDay(start.slice(11));
  }

  read(): CalendarReading {
    const { problems } = this;
    const timetable =
      this.calendar.repeats === "pattern"
        ? new Timetable(this.patternCycle())
        : new Timetable(this.weeksCycle(), this.exceptions());
    return problems.some((p) => p.severity === "error") ? { problems } : { timetable, problems };
  }

  private report(
    code: string,
    path: Path,
    message: string,
    hint: string,
    severity: Problem["severity"] = "error",
    at?: { start: number; end: number },
  ): void {
    this.problems.push({
      code,
      severity,
      message: `${this.calendar.name}: ${message}`,
      hint,
      path: [...path],
      ...at,
    });
  }

  valueOf = (text: string, path: readonly (string | number)[]): number => {
    if (this.calendar.gives === "capacity" && text.trim().toLowerCase() === "all") return Infinity;
    const result = checkExpression(text, noNames, this.calendar.gives === "rate" ? numberOf(RATE) : PLAIN);
    if (!result.ok) {
      const [{ message, hint, start: from, end }] = result.problems;
      this.report(
        "bad-expression",
        path,
        message,
        hint ?? (this.calendar.gives === "rate" ? "Write a rate, such as 12/h." : "Write all, or a whole number."),
        "error",
        { start: from, end },
      );
      return 0;
    }
    const { constant } = result.checked;
    const good =
      constant !== undefined &&
      constant >= 0 &&
      constant < Infinity &&
      (this.calendar.gives === "rate" || Number.isInteger(constant));
    if (!good)
      this.report(
        "bad-value",
        path,
        this.calendar.gives === "rate"
          ? "a fixed rate of 0 or more is wanted."
          : "a whole number of 0 or more is wanted, or all.",
        "Write it as a plain value.",
        "error",
        { start: 0, end: text.length },
      );
    return good ? constant : 0;
  };

  durationOf = (text: string, path: readonly (string | number)[]): number => {
    const time = fixedTime(text);
    if (time !== undefined) return time;
    const result = checkExpression(text, noNames, numberOf(TIME));
    this.report(
      "bad-expression",
      path,
      result.ok ? "a fixed time above 0 is wanted." : result.problems[0].message,
      "Write a time, such as 7.5 h.",
      "error",
      { start: 0, end: text.length },
    );
    return 0;
  };

  private patternCycle(): Cycle {
    const rows = this.calendar.pattern.map(({ duration, value }, i) => ({
      duration: this.durationOf(duration, ["pattern", i, "duration"]),
      value: this.valueOf(value, ["pattern", i, "value"]),
    }));
    const fills = this.durationOf(this.calendar.fills, ["fills"]);
    const sum = rows.reduce((s, r) => s + r.duration, 0);
    if (rows.length === 0)
      this.report(
        "empty-calendar",
        ["pattern"],
        "its pattern has no rows.",
        "Add a row: a duration and what holds for so long.",
      );
    else if (sum > fills + 1e-6)
      this.report(
        "pattern-too-long",
        ["pattern"],
        `its rows come to ${hours(sum)}, ${hours(sum - fills)} more than the ${hours(fills)} they should fill.`,
        "Shorten a row, or change what they should fill.",
      );
    else if (sum < fills - 1e-6)
      this.report(
        "pattern-too-short",
        ["pattern"],
        `its rows come to ${hours(sum)} of the ${hours(fills)} they should fill; the last ${hours(fills - sum)} are ${this.calendar.gives === "rate" ? "without arrivals" : "off shift"}.`,
        "Lengthen a row, add one, or change what they should fill.",
        "warning",
      );
    const starts = [0];
    const values: number[] = [];
    for (const row of rows) {
      values.push(row.value);
      starts.push(starts[starts.length - 1] + row.duration);
    }
    const last = values[values.length - 1] ?? 0;
    if (this.calendar.after === "repeat" && sum < fills - 1e-6) values.push(0);
    else if (this.calendar.after === "repeat") starts.pop();
    else values.push(this.calendar.after === "hold" ? last : 0);
    return {
      starts,
      values,
      length: this.calendar.after === "repeat" ? Math.max(fills, sum) || DAY : Infinity,
      offset: 0,
    };
  }

  private weeksCycle(): Cycle {
    const length = this.calendar.weeks * WEEK;
    const blocks: Block[] = [];
    if (this.calendar.rows.length === 0)
      this.report("empty-calendar", ["rows"], "it has no rows.", "Draw a block on the week, or add a row.");
    this.calendar.rows.forEach((row, i) => {
      const value = this.valueOf(row.value, ["rows", i, "value"]);
      if (row.week > this.calendar.weeks) {
        this.report(
          "no-such-week",
          ["rows", i, "week"],
          `a row is for week ${row.week}, but there are ${this.calendar.weeks}.`,
          "Change its week, or the number of weeks.",
        );
        return;
      }
      if (new Set(row.days).size !== row.days.length)
        this.report("day-twice", ["rows", i, "days"], "a row names a day twice.", "Name each day once.");
      for (const day of row.days) {
        const midnight = (row.week - 1) * WEEK + day * DAY;
        const from = midnight + secondsOfDay(row.from);
        const end = secondsOfDay(row.to);
        const until = midnight + (end > secondsOfDay(row.from) ? end : end + DAY);
        const words = `${this.calendar.weeks > 1 ? `week ${row.week}, ` : ""}${WEEKDAYS[day]} ${row.from} to ${row.to}`;
        if (until <= length) blocks.push({ from, until, value, path: ["rows", i], words });
        else
          blocks.push(
            { from, until: length, value, path: ["rows", i], words },
            { from: 0, until: until - length, value, path: ["rows", i], words },
          );
      }
    });
    const { starts, values } = this.laidOut(blocks, 0, length);
    if (this.calendar.firstWeek && !isDate(this.calendar.firstWeek))
      this.report(
        "no-such-date",
        ["firstWeek"],
        `there is no ${this.calendar.firstWeek}.`,
        "Write a date that exists.",
      );
    const first =
      this.calendar.firstWeek && isDate(this.calendar.firstWeek) ? dayNumber(this.calendar.firstWeek) : this.startDay;
    const monday = first - weekdayOf(first);
    const since = (this.startDay - monday) * DAY + this.startOfDay;
    return { starts, values, length, offset: ((since % length) + length) % length };
  }

  private exceptions(): Override[] {
    const seen = new Set<string>();
    return this.calendar.exceptions
      .flatMap((exception, i) => {
        if (!isDate(exception.date) || seen.has(exception.date)) {
          this.report(
            isDate(exception.date) ? "date-twice" : "no-such-date",
            ["exceptions", i, "date"],
            isDate(exception.date) ? `${exception.date} has rows twice.` : `there is no ${exception.date}.`,
            "Change the date.",
          );
          return [];
        }
        seen.add(exception.date);
        const midnight = (dayNumber(exception.date) - this.startDay) * DAY - this.startOfDay;
        const blocks = exception.rows.flatMap((row, k): Block[] => {
          const [from, until] = [secondsOfDay(row.from), secondsOfDay(row.to)];
          const value = this.valueOf(row.value, ["exceptions", i, "rows", k, "value"]);
          if (until > from)
            return [
              {
                from: midnight + from,
                until: midnight + until,
                value,
                path: ["exceptions", i, "rows", k],
                words: `${exception.date} ${row.from} to ${row.to}`,
              },
            ];
          this.report(
            "past-midnight",
            ["exceptions", i, "rows", k, "to"],
            `on ${exception.date} a row ends at ${row.to}, not after its start at ${row.from}.`,
            "End it by 24:00; give the next day a date of its own.",
          );
          return [];
        });
        return [{ from: midnight, until: midnight + DAY, ...this.laidOut(blocks, midnight, midnight + DAY) }];
      })
      .sort((a, b) => a.from - b.from);
  }

  /** Blocks one after another with 0 between; says which overlap. */
  private laidOut(blocks: Block[], begin: number, end: number): { starts: number[]; values: number[] } {
    blocks.sort((a, b) => a.from - b.from);
    const starts: number[] = [];
    const values: number[] = [];
    let reached = begin;
    let before: Block | undefined;
    for (const block of blocks) {
      if (before && block.from < reached) {
        this.report(
          "rows-overlap",
          block.path,
          `${block.words} overlaps ${before.words}.`,
          "Move one of them, so that only one holds at a time.",
        );
        continue;
      }
      if (block.from > reached) {
        starts.push(reached);
        values.push(0);
      }
      starts.push(block.from);
      values.push(block.value);
      reached = block.until;
      before = block;
    }
    if (reached < end || starts.length === 0) {
      starts.push(reached);
      values.push(0);
    }
    return { starts, values };
  }
}

/** A duration in hours for messages: "7.5 h". */
const hours = (seconds: number): string =>
  seconds < 3600 ? `${Number((seconds / 60).toPrecision(6))} min` : `${Number((seconds / 3600).toPrecision(6))} h`;
