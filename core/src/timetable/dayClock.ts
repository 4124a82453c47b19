import { type Override, Timetable } from "./timetable.ts";

const DAY = 86_400;

/** Between running time, in which a replication is measured, and the hours of days. */
export interface DayClock {
  /** Seconds from midnight of the day of the start at running time `t`. */
  wall(t: number): number;
  /** A timetable by the hours of days, as one by running time. */
  follow(timetable: Timetable): Timetable;
  /** Running time up to a moment given in seconds from the start as the clock on the wall counts them. */
  runningTime(sinceStart: number): number;
}

/** Nights are simulated: the clock on the wall and running time go together. */
export const wholeDays = (startOfDay: number): DayClock => ({
  wall: (t) => startOfDay + t,
  follow: (timetable) => timetable,
  runningTime: (sinceStart) => sinceStart,
});

/** Seconds by which a day counts as over before its time: sums need not be exact. */
const EARLY = 1e-6;

/**
 * Nights are skipped: each day runs from `open` to `close`, in seconds of the day, and the next follows at once. The
 * start lies between them.
 */
export function daysOpen(startOfDay: number, open: number, close: number): DayClock {
  const length = close - open;
  const before = startOfDay - open;
  const wall = (t: number): number => {
    const whole = Math.floor((t + before + EARLY) / length);
    return whole * DAY + open + (t + before - whole * length);
  };
  const since = (t: number): number => wall(t) - startOfDay;
  return {
    wall,
    follow: (timetable) =>
      new SkippedNights(timetable, since, (t) => (Math.floor((t + before + EARLY) / length) + 1) * length - before),
    runningTime(sinceStart) {
      const at = sinceStart + startOfDay;
      const day = Math.floor(at / DAY);
      return day * length - before + Math.max(0, Math.min(length, at - day * DAY - open));
    },
  };
}

/** A timetable of which only the hours of operation are seen, one day after another. */
class SkippedNights extends Timetable {
  constructor(
    private readonly whole: Timetable,
    private readonly since: (t: number) => number,
    private readonly endOfDay: (t: number) => number,
  ) {
    super({ starts: [0], values: [0], length: Infinity, offset: 0 }, [] as Override[]);
  }

  override at(time: number): number {
    return this.whole.at(this.since(time));
  }

  override horizon(time: number): number {
    const now = this.since(time);
    // Running time is never more than that on the wall.
    return time + (this.whole.horizon(now) - now);
  }

  override endOfPiece(time: number): number {
    const now = this.since(time);
    return Math.min(this.endOfDay(time), time + (this.whole.endOfPiece(now) - now));
  }
}
