import type { StudyOf } from "../../document/study.ts";
import {
  calendarFromTable,
  type DayClock,
  daysOpen,
  isMoment,
  readCalendar,
  secondsOfDay,
  type Timetable,
  wholeDays,
} from "../../timetable/index.ts";
import type { Problems } from "./problems.ts";

export interface Days {
  /** Seconds from midnight to the start. */
  readonly startOfDay: number;
  readonly days: DayClock;
}

/** The hours of days in which time runs. */
export function readDays({ run }: StudyOf, problems: Problems): Days {
  if (!isMoment(run.start))
    problems.add(
      "no-such-date",
      ["run", "start"],
      { field: "start" },
      `There is no ${run.start.replace("T", " ")}: the run cannot start then.`,
      "Choose a date and time that exist.",
    );
  const startOfDay = secondsOfDay(run.start.slice(11));
  const [opens, closes] = [run.opens, run.closes].map(secondsOfDay);
  const isOpen = opens <= startOfDay && startOfDay < closes;
  const skips = run.nights === "skipped";
  if (skips && !isOpen) {
    problems.add(
      "closed-at-start",
      ["run", "opens"],
      { field: "opens" },
      `The run starts at ${run.start.slice(11)}, outside the operating hours from ${run.opens} to ${run.closes}.`,
      "Start it within them, or change them.",
    );
  }
  return { startOfDay, days: skips && isOpen ? daysOpen(startOfDay, opens, closes) : wholeDays(startOfDay) };
}

/** The calendars of a study as timetables of running time, by their ids; one that cannot be read has none. */
export function readCalendars(
  { calendars, run, tables }: StudyOf,
  designId: string,
  { days }: Days,
  problems: Problems,
): ReadonlyMap<string, Timetable> {
  const timetables = new Map<string, Timetable>();
  calendars.forEach((kept, i) => {
    const { calendar, problems: unread } = calendarFromTable(kept, tables);
    for (const { message, hint } of unread)
      problems.add(
        "bad-calendar",
        ["calendars", i, "from"],
        { id: calendar.id, field: "from" },
        `${calendar.name}: ${message}`,
        hint,
      );
    if (unread.length > 0) return;
    const { timetable, problems: found } = readCalendar(calendar, run.start);
    // Durations from the start are running time already.
    if (timetable) timetables.set(calendar.id, calendar.repeats === "pattern" ? timetable : days.follow(timetable));
    if (calendar.from && found.length > 0) {
      // Rows are those of a table, which are too many to be told one by one.
      const [{ path, message, hint, code, severity }] = found;
      const at = path[0] === "pattern" && typeof path[1] === "number" ? ` (row ${path[1] + 1})` : "";
      problems.add(
        code,
        ["calendars", i, "from"],
        { id: calendar.id, field: "from" },
        `${message}${at}`,
        hint,
        severity,
      );
      return;
    }
    for (const { path, ...problem } of found)
      problems.list.push({
        ...problem,
        path: ["calendars", i, ...path],
        designId,
        id: calendar.id,
        field: path.join("."),
      });
  });
  return timetables;
}
