import { type Calendar, secondsOfDay } from "@busy-harbor/core";

/** Minutes to which a drag keeps. */
export const SNAP = 15;
export const DAY_MINUTES = 1440;

type Row = Calendar["rows"][number];

/** A row of a calendar as it is drawn on one day; a row past midnight is drawn on two. */
export interface DrawnBlock {
  readonly row: number;
  /** The day of the row that this belongs to, and the day it is drawn on. */
  readonly day: number;
  readonly lane: number;
  /** Minutes of the lane. */
  readonly from: number;
  readonly to: number;
  /** Whether its beginning and its end are here, and not on the day before or after. */
  readonly begins: boolean;
  readonly ends: boolean;
}

export const minutesOf = (time: string): number => secondsOfDay(time) / 60;

/** Minutes of a day as text: 06:30; the end of the day is 24:00. */
export function timeText(minutes: number): string {
  const whole = Math.max(0, Math.min(DAY_MINUTES, Math.round(minutes)));
  return `${String(Math.floor(whole / 60)).padStart(2, "0")}:${String(whole % 60).padStart(2, "0")}`;
}

export const snap = (minutes: number): number => Math.max(0, Math.min(DAY_MINUTES, Math.round(minutes / SNAP) * SNAP));

/**
 * What is drawn of one week of a calendar, counted from 1. What runs past the last Sunday is drawn on the Monday of
 * the same view.
 */
export function blocksOf({ rows, weeks }: Calendar, week: number): DrawnBlock[] {
  return rows.flatMap((row, i) =>
    row.days.flatMap((day): DrawnBlock[] => {
      const [from, to] = [minutesOf(row.from), minutesOf(row.to)];
      const here = row.week === week;
      if (to > from) return here ? [{ row: i, day, lane: day, from, to, begins: true, ends: true }] : [];
      const spill = day === 6 ? (row.week % weeks) + 1 === week : here;
      return [
        ...(here ? [{ row: i, day, lane: day, from, to: DAY_MINUTES, begins: true, ends: to === 0 }] : []),
        ...(spill && to > 0 ? [{ row: i, day, lane: (day + 1) % 7, from: 0, to, begins: false, ends: true }] : []),
      ];
    }),
  );
}

/** Moves a row by minutes, as far as its day allows; one past midnight keeps its length round the clock. */
export function moveRow(row: Row, change: number): Pick<Row, "from" | "to"> {
  const [from, to] = [minutesOf(row.from), minutesOf(row.to)];
  if (to > from) {
    const by = Math.max(-from, Math.min(DAY_MINUTES - to, change));
    return { from: timeText(from + by), to: timeText(to + by) };
  }
  const round = (minutes: number) => ((minutes % DAY_MINUTES) + DAY_MINUTES) % DAY_MINUTES;
  return { from: timeText(round(from + change)), to: timeText(round(to + change)) };
}

/** Moves one end of a row to a minute of its lane, at least a snap from the other end. */
export function resizeRow(row: Row, end: "from" | "to", minute: number): Pick<Row, "from" | "to"> {
  const [from, to] = [minutesOf(row.from), minutesOf(row.to)];
  const past = to <= from;
  if (end === "from")
    return { from: timeText(past ? Math.min(minute, DAY_MINUTES - SNAP) : Math.min(minute, to - SNAP)), to: row.to };
  return { from: row.from, to: timeText(past ? Math.max(0, Math.min(minute, from)) : Math.max(minute, from + SNAP)) };
}

/** A duration as a person writes it: 7.5 h, 45 min. */
export const durationText = (seconds: number): string =>
  seconds % 60 !== 0
    ? `${seconds} s`
    : seconds < 3600 || seconds % 360 !== 0
      ? `${seconds / 60} min`
      : `${seconds / 3600} h`;
