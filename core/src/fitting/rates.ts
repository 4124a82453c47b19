import { gammaAbove, gammaBelow } from "../numeric/incompleteGamma.ts";
import { dayNumber, isDate, weekdayOf } from "../timetable/index.ts";

const DAY = 86_400;
const STAMP = /^(\d{4}-\d{2}-\d{2})(?:[T ](\d{1,2}):([0-5]\d)(?::([0-5]\d(?:\.\d+)?))?)?$/;

/** Days of the week that are taken for alike, Monday being 0: each apart, working days and the weekend, or all. */
export const DAYS_ALIKE = {
  apart: [[0], [1], [2], [3], [4], [5], [6]],
  work: [
    [0, 1, 2, 3, 4],
    [5, 6],
  ],
  all: [[0, 1, 2, 3, 4, 5, 6]],
} as const;
export type DaysAlike = keyof typeof DAYS_ALIKE;

/** The rate at which something came in one interval of some days. Times are seconds from midnight, rates a second. */
export interface IntervalRate {
  readonly days: readonly number[];
  readonly from: number;
  readonly to: number;
  /** How many came, on how many days that were looked at. */
  readonly count: number;
  readonly observed: number;
  readonly rate: number;
  /** Its exact interval, where arrivals are a Poisson process (Garwood 1936). */
  readonly low: number;
  readonly high: number;
}

export interface RatesFound {
  readonly intervals: readonly IntervalRate[];
  /** Day numbers of the first and the last day. */
  readonly firstDay: number;
  readonly lastDay: number;
  /**
   * Variance of counts of one interval on different days over their mean, of all intervals together, 1 for a Poisson
   * process (Fisher 1950); NaN where no interval was looked at twice. `chance` is that of one as large or larger.
   */
  readonly dispersion: number;
  readonly chance: number;
}

/** A date and time of day in seconds since 1970, by the clock on the wall; undefined where a text is none. */
export function readStamp(text: string): number | undefined {
  const [, date, hours = "0", minutes = "0", seconds = "0"] = STAMP.exec(text.trim()) ?? [];
  if (date === undefined || !isDate(date) || Number(hours) > 23) return undefined;
  return dayNumber(date) * DAY + Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds);
}

/**
 * Rates of arrivals by intervals of a day, from the instants at which they came: counts over the days that were looked
 * at, which are all from the first instant's day to the last's. `width` in seconds divides a day; `level` is that of
 * the intervals. Throws a `RangeError` where there is no instant.
 */
export function ratesOf(
  stamps: readonly number[],
  { width, alike, level }: { readonly width: number; readonly alike: DaysAlike; readonly level: number },
): RatesFound {
  if (stamps.length === 0) throw new RangeError("There is no instant.");
  const perDay = Math.round(DAY / width);
  const days = stamps.map((stamp) => Math.floor(stamp / DAY));
  const firstDay = days.reduce((a, b) => Math.min(a, b));
  const lastDay = days.reduce((a, b) => Math.max(a, b));
  // Counts by day and interval.
  const counts = new Float64Array((lastDay - firstDay + 1) * perDay);
  stamps.forEach((stamp, i) => {
    const interval = Math.min(perDay - 1, Math.floor((stamp - days[i] * DAY) / width));
    counts[(days[i] - firstDay) * perDay + interval] += 1;
  });
  const intervals: IntervalRate[] = [];
  let [squares, freedom] = [0, 0];
  const known = new Map<number, readonly [number, number]>();
  for (const group of DAYS_ALIKE[alike]) {
    const observed: number[] = [];
    for (let day = firstDay; day <= lastDay; day++)
      if ((group as readonly number[]).includes(weekdayOf(day))) observed.push(day - firstDay);
    if (observed.length === 0) continue;
    for (let interval = 0; interval < perDay; interval++) {
      const each = observed.map((day) => counts[day * perDay + interval]);
      const count = each.reduce((sum, n) => sum + n, 0);
      const mean = count / observed.length;
      if (count > 0) {
        squares += each.reduce((sum, n) => sum + (n - mean) ** 2, 0) / mean;
        freedom += observed.length - 1;
      }
      const time = observed.length * width;
      const [low, high] = known.get(count) ?? poissonInterval(count, level);
      known.set(count, [low, high]);
      intervals.push({
        days: group,
        from: interval * width,
        to: (interval + 1) * width,
        count,
        observed: observed.length,
        rate: count / time,
        low: low / time,
        high: high / time,
      });
    }
  }
  return {
    intervals,
    firstDay,
    lastDay,
    dispersion: freedom > 0 ? squares / freedom : Number.NaN,
    chance: freedom > 0 ? gammaAbove(squares / 2, freedom / 2) : Number.NaN,
  };
}

/** The exact interval of the mean of a Poisson variable of which one value was seen (Garwood 1936). */
export function poissonInterval(count: number, level: number): readonly [low: number, high: number] {
  const half = (1 - level) / 2;
  const low = count === 0 ? 0 : where((x) => gammaBelow(x, count) < half, count);
  return [low, where((x) => gammaAbove(x, count + 1) > half, count + 1)];
}

/** Where a condition ceases to hold that holds below and not above, near a number. */
function where(holds: (x: number) => boolean, near: number): number {
  let [low, high] = [0, near + 1];
  while (holds(high)) high *= 2;
  for (let i = 0; i < 200 && high - low > 1e-13 * high; i++) {
    const middle = (low + high) / 2;
    if (holds(middle)) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
