import { type Calendar, calendarSchema, compile, daysOpen, readCalendar } from "../src/index.ts";
import { measures, study } from "./build.ts";

const HOUR = 3600;
const DAY = 24 * HOUR;
const calendar = (settings: object): Calendar => calendarSchema.parse({ id: "c", name: "Hours", ...settings });
/** 2026-06-01 is a Monday. */
const START = "2026-06-01T00:00";
const read = (settings: object, start = START) => {
  const { timetable, problems } = readCalendar(calendar(settings), start);
  if (!timetable) throw new Error(problems[0].message);
  return timetable;
};
const codes = (settings: object) => readCalendar(calendar(settings), START).problems.map((p) => [p.code, p.severity]);
const hours = (settings: object, from: number, until: number, start?: string) =>
  read(settings, start)
    .pieces(from * HOUR, until * HOUR)
    .map((p) => [p.from / HOUR, p.value]);

test("rows of the week, on the days they name", () => {
  const week = {
    rows: [
      { days: [0, 2], from: "08:00", to: "12:30", value: "2" },
      { days: [0], from: "13:00", to: "17:00" },
    ],
  };
  expect(hours(week, 0, 72)).toEqual([
    [0, 0],
    [8, 2],
    [12.5, 0],
    [13, Infinity],
    [17, 0],
    [56, 2],
    [60.5, 0],
  ]);
  // Again the next week, and from the middle of one.
  expect(read(week).at(7 * DAY + 9 * HOUR)).toBe(2);
  expect(hours(week, 0, 10, "2026-06-03T09:00")).toEqual([
    [0, 2],
    [3.5, 0],
  ]);
  expect(read(week).nextChange(9 * HOUR)).toBe(12.5 * HOUR);
  expect(read(week).nextChange(8 * HOUR)).toBe(12.5 * HOUR);
});

test("a night shift goes on past midnight, on Sunday into Monday too", () => {
  expect(hours({ rows: [{ days: [4], from: "22:00", to: "06:00" }] }, 4 * 24, 6 * 24)).toEqual([
    [96, 0],
    [118, Infinity],
    [126, 0],
  ]);
  expect(hours({ rows: [{ days: [6], from: "22:00", to: "06:00" }] }, 0, 24)).toEqual([
    [0, Infinity],
    [6, 0],
  ]);
  expect(hours({ rows: [{ days: [0, 1, 2, 3, 4, 5, 6], from: "00:00", to: "24:00" }] }, 0, 999)).toEqual([
    [0, Infinity],
  ]);
});

test("rotating weeks, counted from the week of the start or of a date", () => {
  const rotating = {
    weeks: 2,
    rows: [
      { week: 1, days: [0], from: "06:00", to: "14:00" },
      { week: 2, days: [0], from: "14:00", to: "22:00" },
    ],
  };
  const mondays = (settings: object, start?: string) =>
    [0, 1, 2].map((w) => [8, 16].map((h) => read(settings, start).at(w * 7 * DAY + h * HOUR) > 0));
  expect(mondays(rotating)).toEqual([
    [true, false],
    [false, true],
    [true, false],
  ]);
  expect(mondays({ ...rotating, firstWeek: "2026-05-27" })).toEqual([
    [false, true],
    [true, false],
    [false, true],
  ]);
});

test("dates with other hours hold from midnight to midnight", () => {
  const days = [0, 1, 2, 3, 4, 5, 6];
  const settings = {
    rows: [{ days, from: "08:00", to: "16:00" }],
    exceptions: [
      { date: "2026-06-03", rows: [] },
      { date: "2026-06-02", rows: [{ from: "10:00", to: "12:00", value: "1" }] },
    ],
  };
  expect(hours(settings, 24, 96)).toEqual([
    [24, 0],
    [34, 1],
    [36, 0],
    [80, Infinity],
    [88, 0],
  ]);
  expect(hours(settings, 0, 4, "2026-06-02T09:00")).toEqual([
    [0, 0],
    [1, 1],
    [3, 0],
  ]);
});

test("a pattern of durations, and what comes after it", () => {
  const pattern = [
    { duration: "2 h", value: "1" },
    { duration: "1 h", value: "3" },
  ];
  expect(hours({ repeats: "pattern", pattern, fills: "3 h" }, 0, 6)).toEqual([
    [0, 1],
    [2, 3],
    [3, 1],
    [5, 3],
  ]);
  expect(hours({ repeats: "pattern", pattern, fills: "4 h" }, 0, 5)).toEqual([
    [0, 1],
    [2, 3],
    [3, 0],
    [4, 1],
  ]);
  expect(hours({ repeats: "pattern", pattern, fills: "3 h", after: "hold" }, 0, 9)).toEqual([
    [0, 1],
    [2, 3],
  ]);
  expect(hours({ repeats: "pattern", pattern, fills: "3 h", after: "stop" }, 0, 9)).toEqual([
    [0, 1],
    [2, 3],
    [3, 0],
  ]);
  // Durations that are no whole seconds do not drift out of step or stall.
  const thirds = read({
    repeats: "pattern",
    pattern: [
      { duration: "1 h / 3", value: "1" },
      { duration: "2 h / 3", value: "0" },
    ],
    fills: "1 h",
  });
  let t = 0;
  for (let i = 0; i < 2000; i++) t = thirds.nextChange(t);
  expect(t).toBeCloseTo(1000 * HOUR, 3);
});

test("integrals of a rate", () => {
  const rate = read({
    gives: "rate",
    repeats: "pattern",
    pattern: [
      { duration: "1 h", value: "6/h" },
      { duration: "1 h", value: "0/h" },
      { duration: "1 h", value: "30/h" },
    ],
    fills: "3 h",
  });
  expect(rate.integral(0.5 * HOUR, 2.5 * HOUR)).toBeCloseTo(3 + 15, 9);
  expect(rate.whenIntegral(0, 6)).toBeCloseTo(HOUR, 6);
  expect(rate.whenIntegral(0, 21)).toBeCloseTo(2.5 * HOUR, 6);
  expect(rate.whenIntegral(2.5 * HOUR, 18)).toBeCloseTo(3.5 * HOUR, 6);
  expect(
    read({
      gives: "rate",
      repeats: "pattern",
      pattern: [{ duration: "1 h", value: "6/h" }],
      fills: "1 h",
      after: "stop",
    }).whenIntegral(0, 7),
  ).toBe(Infinity);
});

test("what is wrong is said, with its place", () => {
  expect(codes({ rows: [] })).toEqual([["empty-calendar", "error"]]);
  expect(
    codes({
      rows: [
        { days: [0], from: "08:00", to: "12:00" },
        { days: [0], from: "11:00", to: "13:00" },
      ],
    }),
  ).toEqual([["rows-overlap", "error"]]);
  expect(
    codes({
      rows: [
        { days: [0], from: "22:00", to: "06:00" },
        { days: [1], from: "05:00", to: "07:00" },
      ],
    }),
  ).toEqual([["rows-overlap", "error"]]);
  expect(codes({ repeats: "pattern", pattern: [{ duration: "7.5 h" }], fills: "8 h" })).toEqual([
    ["pattern-too-short", "warning"],
  ]);
  expect(codes({ repeats: "pattern", pattern: [{ duration: "8.5 h" }], fills: "8 h" })).toEqual([
    ["pattern-too-long", "error"],
  ]);
  expect(codes({ repeats: "pattern", pattern: [{ duration: "3 m" }], fills: "8 h" }).map(([code]) => code)).toContain(
    "bad-expression",
  );
  expect(codes({ rows: [{ value: "1.5" }] })).toEqual([["bad-value", "error"]]);
  expect(codes({ rows: [{ value: "12/h" }] })).toEqual([["bad-expression", "error"]]);
  expect(codes({ gives: "rate", rows: [{ value: "12" }] })).toEqual([["bad-expression", "error"]]);
  expect(codes({ rows: [{ week: 2 }] })).toEqual([["no-such-week", "error"]]);
  expect(codes({ rows: [{}], exceptions: [{ date: "2026-02-30" }] })).toEqual([["no-such-date", "error"]]);
  expect(codes({ rows: [{}], exceptions: [{ date: "2026-06-05" }, { date: "2026-06-05" }] })).toEqual([
    ["date-twice", "error"],
  ]);
  expect(codes({ rows: [{}], exceptions: [{ date: "2026-06-05", rows: [{ from: "22:00", to: "06:00" }] }] })).toEqual([
    ["past-midnight", "error"],
  ]);
  expect(
    readCalendar(calendar({ repeats: "pattern", pattern: [{ duration: "7.5 h" }], fills: "8 h" }), START).problems[0]
      .message,
  ).toBe("Hours: its rows come to 7.5 h of the 8 h they should fill; the last 30 min are off shift.");
});

describe("nights skipped", () => {
  const open = { nights: "skipped", opens: "06:00", closes: "22:00" };
  test("running time goes from the close of one day to the opening of the next", () => {
    const days = daysOpen(8 * HOUR, 6 * HOUR, 22 * HOUR);
    expect([0, 14, 20, 30, 46].map((h) => days.wall(h * HOUR) / HOUR)).toEqual([
      8,
      30,
      36,
      24 + 6 + 16 + 8,
      24 + 24 + 24 + 6,
    ]);
    // To the end of the second day; a moment at night is the close before it.
    expect(
      [days.runningTime(14 * HOUR), days.runningTime(20 * HOUR), days.runningTime(38 * HOUR)].map((t) => t / HOUR),
    ).toEqual([14, 14, 30]);
  });
  test("shifts, the clock and the end by date follow it", () => {
    const of = measures(
      [
        { id: "in", kind: "arrivals", by: "list", listed: "0 min" },
        { id: "s", kind: "station", time: "20 h", calendar: "c", atBell: "pause at the bell" },
        { id: "out", kind: "departures" },
      ],
      [
        { from: "in", to: "s" },
        { from: "s", to: "out" },
      ],
      { start: "2026-06-01T08:00", ends: "date", endDate: "2026-06-03T22:00", ...open },
      undefined,
      { calendars: [{ id: "c", name: "Hours", rows: [{ days: [0, 1, 2, 3, 4, 5, 6], from: "07:00", to: "17:00" }] }] },
    );
    // 14 + 16 + 16 hours of operation; on shift 9 + 10 + 10 of them, 20 at work: 9, 10, and 1 on the third day.
    expect(of("s/state.offShift")).toBeCloseTo(17 / 46, 12);
    expect(of("s/state.busy")).toBeCloseTo(20 / 46, 12);
    expect(of("t1/timeInSystem.mean")).toBeCloseTo((14 + 16 + 2) * HOUR, 6);
  });
  test("a start outside the hours is said", () => {
    const s = study({
      elements: [
        { id: "in", kind: "arrivals" },
        { id: "out", kind: "departures" },
      ],
      links: [{ from: "in", to: "out" }],
      run: { start: "2026-06-01T05:00", ...open },
    });
    expect(compile(s).problems.map((p) => [p.code, p.field])).toEqual([["closed-at-start", "opens"]]);
  });
});
