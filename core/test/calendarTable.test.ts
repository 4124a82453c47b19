import {
  calendarFromTable,
  calendarSchema,
  compile,
  fingerprint,
  run,
  type Study,
  tableSchema,
  measuresOf,
} from "../src/index.ts";
import { chain, study } from "./study.ts";

const demand = (rows: string[][], more: object = {}) => ({
  id: "demand",
  name: "Demand",
  columns: [
    { id: "lasts", name: "Lasts", holds: "duration", unit: "min" },
    { id: "at", name: "From", holds: "duration", unit: "h" },
    { id: "rate", name: "Rate", unit: "/h" },
    { id: "came", name: "Came" },
  ],
  rows,
  ...more,
});
const ROWS = [
  ["30", "0", "12", "6"],
  ["90 min", "0:30", "4/h", "6"],
  ["1:00", "2", "0", "0"],
];
const profile = (from: object, more: object = {}) => ({
  id: "p",
  name: "Day",
  gives: "rate",
  repeats: "pattern",
  fills: "3 h",
  from: { table: "demand", times: "lasts", values: "rate", ...from },
  ...more,
});
const read = (calendar: object, rows = ROWS) =>
  calendarFromTable(calendarSchema.parse(calendar), [tableSchema.parse(demand(rows))]);

describe("the pattern of a calendar from the rows of a table", () => {
  test("durations and rates, with the units of their columns where none is written", () => {
    expect(read(profile({})).calendar.pattern).toEqual([
      { duration: "30 min", value: "12 /h" },
      { duration: "90 min", value: "4/h" },
      { duration: "1 h + 00 min", value: "0 /h" },
    ]);
  });

  test("times from the start: each holds to the next, the last to what is filled; nothing before the first", () => {
    const { calendar } = read(profile({ times: "at", by: "times" }));
    expect(calendar.pattern.map(({ duration }) => duration)).toEqual(["30 min", "90 min", "1 h"]);
    const later = read(profile({ times: "at", by: "times" }), [["", "1", "12", ""]]);
    expect(later.calendar.pattern).toEqual([
      { duration: "1 h", value: "0/h" },
      { duration: "2 h", value: "12 /h" },
    ]);
  });

  test("hours of the day, the same every day: nothing before the first, the last to midnight", () => {
    const { calendar } = read(profile({ times: "at", values: "came", by: "hours", counts: true }), [
      ["", "6:30", "", "4"],
      ["", "8", "", "30"],
    ]);
    expect(calendar.repeats).toBe("weeks");
    expect(calendar.rows.map(({ from, to, value }) => [from, to, value])).toEqual([
      ["00:00", "06:30", "0/h"],
      ["06:30", "08:00", "4 / (90 min)"],
      ["08:00", "24:00", "30 / (16 h)"],
    ]);
    expect(calendar.rows[0].days).toEqual([0, 1, 2, 3, 4, 5, 6]);
  });

  test("what cannot be read says what to do", () => {
    const told = (from: object, rows = ROWS) => read(profile(from), rows).problems[0]?.message ?? "";
    expect(told({ table: "gone" })).toContain("the table of its rows does not exist");
    expect(told({ values: "" })).toContain("a column of Demand is not chosen");
    expect(
      told({ times: "at", by: "times" }, [
        ["", "2", "1", ""],
        ["", "1", "1", ""],
      ]),
    ).toContain("do not rise");
    expect(read({ ...profile({}), from: undefined }).problems).toEqual([]);
  });
});

/** Arrivals by a profile, evenly spaced or at random, for three hours. */
const harbour = (calendar: object, spacing = "even"): Study =>
  study({
    run: { length: "3 h" },
    elements: [
      { id: "in", kind: "arrivals", by: "profile", profile: "p", spacing },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "out"),
    more: { tables: [demand(ROWS)], calendars: [calendar] },
  });
const arrived = (s: Study, replication = 1): number => {
  const { program, problems } = compile(s);
  if (!program) throw new Error(JSON.stringify(problems));
  const { values, failure } = run(program, { seed: 5, replication })!;
  if (failure) throw new Error(failure.message);
  return values[measuresOf(program).findIndex(({ key }) => key === "in/created")];
};

test("rates, counts, and the pattern written out by hand give the same arrivals, bit by bit", () => {
  const byHand = {
    id: "p",
    name: "Day",
    gives: "rate",
    repeats: "pattern",
    fills: "3 h",
    pattern: [
      { duration: "30 min", value: "12/h" },
      { duration: "90 min", value: "4/h" },
      { duration: "1 h", value: "0/h" },
    ],
  };
  for (const spacing of ["even", "random"]) {
    const counts = profile({ values: "came", counts: true });
    const found = [byHand, profile({}), counts, profile({ times: "at", by: "times" })].map((calendar) =>
      [1, 2, 3].map((replication) => arrived(harbour(calendar, spacing), replication)),
    );
    for (const other of found.slice(1)) expect(other).toEqual(found[0]);
    expect(found[0][0]).toBeGreaterThan(3);
  }
});

test("a slip in a cell is told once, at the calendar, with its row", () => {
  const s = harbour(profile({}));
  const slip = { ...s, tables: s.tables.map((t) => ({ ...t, rows: [...t.rows, ["20 kg", "", "1", ""]] })) };
  const found = compile(slip).problems.filter(({ path }) => path[0] === "calendars");
  expect(found).toHaveLength(1);
  expect(found[0]).toMatchObject({ id: "p", field: "from", path: ["calendars", 0, "from"] });
  expect(found[0].message).toContain("(row 4)");
});

test("a run is out of date once the table of its calendar has changed", () => {
  const s = harbour(profile({}));
  const print = (of: Study) => fingerprint(of.designs[0], of.run, of);
  const other = { ...s, tables: s.tables.map((t) => ({ ...t, rows: [["30", "0", "13", "6"], ...t.rows.slice(1)] })) };
  expect(print(other)).not.toBe(print(s));
  expect(print({ ...s })).toBe(print(s));
});
