import { type Calendar, calendarSchema, formatNumber, type Study, type Table } from "@busy-harbor/core";
import type { IntervalRate } from "@busy-harbor/core/fitting";

/** The tables that have a column of dates, which may be instants at which something came. */
export const tablesWithStamps = (study: Pick<Study, "tables">): Table[] =>
  study.tables.filter(({ columns, rows }) => rows.length > 0 && columns.some((c) => c.holds === "date"));

export const hasStamps = (study: Pick<Study, "tables">): boolean => tablesWithStamps(study).length > 0;

const two = (n: number) => String(n).padStart(2, "0");

/** A time of day of seconds from midnight: 06:30, and 24:00 at its end. */
export const timeOf = (seconds: number): string => `${two(Math.floor(seconds / 3600))}:${two((seconds % 3600) / 60)}`;

const NAMES = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** Days in words: Mon, Mon to Fri. */
export const sayDays = (days: readonly number[]): string =>
  days.length === 1 ? NAMES[days[0]] : `${NAMES[days[0]]} to ${NAMES[days[days.length - 1]]}`;

/** A rate a second as it is shown, an hour. */
export const perHour = (rate: number, digits = 3): string => formatNumber(rate * 3600, digits);

/** The rows of a demand profile that has the rates found; where nothing came there is none. */
export const rowsOf = (intervals: readonly IntervalRate[]): Calendar["rows"] =>
  intervals
    .filter(({ count }) => count > 0)
    .map(
      ({ days, from, to, rate }) =>
        calendarSchema.parse({
          id: "x",
          name: "x",
          rows: [
            {
              days: [...days],
              from: timeOf(from),
              to: timeOf(to),
              value: `${Number((rate * 3600).toPrecision(6))} / h`,
            },
          ],
        }).rows[0],
    );
