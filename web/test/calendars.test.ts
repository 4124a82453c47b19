import { calendarSchema, studySchema } from "@busy-harbor/core";
import fc from "fast-check";
import { blocksOf, durationText, minutesOf, moveRow, resizeRow, SNAP, timeText } from "../src/calendars/blocks.ts";
import { addCalendar, keepersOf } from "../src/calendars/edits.ts";
import { readTime } from "../src/ui/readTime.ts";
import { addElement, emptyStudy } from "../src/state/edits.ts";

const calendar = (rows: object[], weeks = 1) => calendarSchema.parse({ id: "c", name: "Hours", rows, weeks });
const [row] = calendar([{}]).rows;
const spans = (rows: object[], week = 1, weeks = 1) =>
  blocksOf(calendar(rows, weeks), week).map((b) => [b.lane, timeText(b.from), timeText(b.to)]);

test("rows are drawn on their days, and past midnight on the next, round the end of the weeks", () => {
  expect(spans([{ days: [0, 2], from: "08:00", to: "12:00" }])).toEqual([
    [0, "08:00", "12:00"],
    [2, "08:00", "12:00"],
  ]);
  expect(spans([{ days: [4], from: "22:00", to: "06:00" }])).toEqual([
    [4, "22:00", "24:00"],
    [5, "00:00", "06:00"],
  ]);
  expect(spans([{ days: [6], from: "22:00", to: "06:00" }])).toEqual([
    [6, "22:00", "24:00"],
    [0, "00:00", "06:00"],
  ]);
  expect(spans([{ days: [0], from: "22:00", to: "00:00" }])).toEqual([[0, "22:00", "24:00"]]);
  const rotating = [
    { week: 1, days: [6], from: "22:00", to: "06:00" },
    { week: 2, days: [0], from: "07:00", to: "08:00" },
  ];
  expect(spans(rotating, 1, 2)).toEqual([[6, "22:00", "24:00"]]);
  expect(spans(rotating, 2, 2)).toEqual([
    [0, "00:00", "06:00"],
    [0, "07:00", "08:00"],
  ]);
});

test("a moved row keeps its length and its day; a resized one keeps its other end and some length", () => {
  const time = fc.integer({ min: 0, max: 96 }).map((n) => timeText(n * SNAP));
  fc.assert(
    fc.property(
      time,
      time,
      fc.integer({ min: -2000, max: 2000 }),
      fc.integer({ min: 0, max: 96 }),
      (from, to, by, at) => {
        fc.pre(from !== "24:00" && from !== to);
        const length = (a: string, b: string) =>
          minutesOf(b) > minutesOf(a) ? minutesOf(b) - minutesOf(a) : minutesOf(b) + 1440 - minutesOf(a);
        const moved = moveRow({ ...row, from, to }, by);
        expect(length(moved.from, moved.to)).toBe(length(from, to));
        if (minutesOf(to) > minutesOf(from)) expect(minutesOf(moved.to)).toBeGreaterThan(minutesOf(moved.from));
        const [a, b] = [
          resizeRow({ ...row, from, to }, "from", at * SNAP),
          resizeRow({ ...row, from, to }, "to", at * SNAP),
        ];
        expect([a.to, b.from]).toEqual([to, from]);
        if (minutesOf(to) > minutesOf(from))
          for (const r of [a, b]) expect(minutesOf(r.to) - minutesOf(r.from)).toBeGreaterThanOrEqual(SNAP);
        // Whatever a drag gives can be read back.
        expect(() => calendar([{ ...a }, { ...b }, { ...moved }])).not.toThrow();
      },
    ),
    { numRuns: 500, seed: 9 },
  );
  expect(moveRow({ ...row, from: "20:00", to: "23:00" }, 120)).toEqual({ from: "21:00", to: "24:00" });
  expect(moveRow({ ...row, from: "22:00", to: "06:00" }, 180)).toEqual({ from: "01:00", to: "09:00" });
});

test.each([
  ["6", "06:00"],
  ["6:30", "06:30"],
  ["0630", "06:30"],
  ["24:00", "24:00"],
  ["7h15", "07:15"],
  ["6.30 pm", "18:30"],
  ["12 am", "00:00"],
  ["12:05 p.m.", "12:05"],
  ["13 pm", undefined],
  ["25", undefined],
  ["12:75", undefined],
  ["24:30", undefined],
  ["noon", undefined],
])("the time %p is %p", (text, time) => {
  expect(readTime(text)).toBe(time);
});

test.each([
  [27_000, "7.5 h"],
  [1800, "30 min"],
  [3600, "1 h"],
  [5400, "1.5 h"],
  [3660, "61 min"],
  [90, "90 s"],
])("a duration of %d s is written %p", (seconds, text) => {
  expect(durationText(seconds)).toBe(text);
});

test("a new calendar has a free name and can be read; those who keep it are told", () => {
  const study = studySchema.parse(emptyStudy("Hours"));
  const [a, b] = [addCalendar(study, "capacity"), addCalendar(study, "capacity")];
  addCalendar(study, "rate");
  expect(study.calendars.map((c) => c.name)).toEqual(["Shift calendar", "Shift calendar 2", "Demand profile"]);
  expect(studySchema.safeParse(study).success).toBe(true);
  const station = addElement(study.designs[0], "station", [0, 0]);
  if (station.kind === "station") station.calendar = a;
  expect([keepersOf(study, a), keepersOf(study, b)]).toEqual([["Station"], []]);
  // A table of members names it in other letters; a text that is called so does not keep it.
  const column = { unit: "", of: "", default: "", required: false, unique: false, least: "", most: "" };
  const cells = [`${study.calendars[0].name.toUpperCase()}`];
  const table = { note: "", matrix: false, route: false, key: "", rows: [cells] };
  study.tables.push(
    { ...table, id: "t", name: "Members", columns: [{ ...column, id: "h", name: "hours", holds: "calendar" }] },
    { ...table, id: "u", name: "Words", columns: [{ ...column, id: "h", name: "hours", holds: "text" }] },
  );
  expect(keepersOf(study, a)).toEqual(["Station", "Members"]);
});
