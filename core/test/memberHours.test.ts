import fc from "fast-check";
import { compile, measuresOf, run, type Study } from "../src/index.ts";
import { timeline } from "./build.ts";
import { ended, N, set } from "./logicModel.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

const MIN = 60;
/** Starts at midnight on a Monday: minutes of the day are minutes of the run. */
const RUN = { length: "3 h", start: "2026-06-01T00:00" };
const EVERY_DAY = [0, 1, 2, 3, 4, 5, 6];
const hours = (id: string, name: string, ...parts: (readonly [from: string, to: string])[]) => ({
  id,
  name,
  rows: parts.map(([from, to]) => ({ days: EVERY_DAY, from, to })),
});
const CALENDARS = [
  hours("early", "Early", ["00:00", "01:00"], ["01:30", "02:30"]),
  hours("late", "Late", ["01:00", "24:00"]),
];
/** Ann is there from 0 to 60 and from 90 to 150 minutes, Bo from 60 to 180. */
const PEOPLE = {
  id: "t",
  name: "People",
  key: "name",
  columns: [
    { id: "name", name: "name", holds: "text" },
    { id: "hours", name: "hours", holds: "calendar" },
    { id: "pace", name: "pace", holds: "number" },
  ],
  rows: [
    ["Ann", "Early", "1"],
    ["Bo", "late", "0.5"],
  ],
};

/** Jobs come at listed times to a desk with room for all, and each needs one of a crew. */
const desk = (
  jobs: string,
  crew: Loose = {},
  {
    needs = {},
    station = {},
    arrivals = {},
    table = PEOPLE as Loose,
    calendars = CALENDARS as Loose[],
    design = {},
    more = {},
  } = {},
): Study =>
  study({
    elements: [
      { id: "a", kind: "arrivals", by: "list", listed: jobs, ...arrivals },
      {
        ...{ id: "s", kind: "station", time: "50 min", capacity: "9", at: [60, 0] },
        needs: [{ id: "n", anyOf: ["c"], ...needs }],
        ...station,
      },
      { id: "d", kind: "departures" },
      { id: "c", kind: "crew", name: "Clerks", at: [0, 0], table: "t", hoursAt: "row.hours", ...crew },
    ],
    links: [
      { from: "a", to: "s" },
      { from: "s", to: "d" },
    ],
    run: RUN,
    design,
    more: { tables: [table], calendars, ...more },
  });

const minutesOut = (of: Study) => departuresOf(of).map((t) => t / MIN);
const minutes = (found: [number, string][]) => found.map(([t, state]) => [t / MIN, state]);

describe("members with hours of their own, by hand", () => {
  test("each is there by the calendar that its row names", () => {
    const of = desk("5 min, 6 min, 155 min, 156 min", {}, { station: { time: "10 min" } });
    // Ann does two in turn; when Ann is off Bo does one and then the other.
    expect(minutesOut(of)).toEqual([15, 25, 165, 175]);
    expect(minutes(timeline(of, "c", 0))).toEqual([
      [0, "idle"],
      [5, "busy"],
      [25, "idle"],
      [60, "off shift"],
      [90, "idle"],
      [150, "off shift"],
    ]);
    expect(minutes(timeline(of, "c", 1))).toEqual([
      [0, "off shift"],
      [60, "idle"],
      [155, "busy"],
      [175, "idle"],
    ]);
    const values = valuesOf(of);
    expect(values.get("c/state.offShift")).toBeCloseTo((60 + 60) / 360, 12);
    expect(values.get("c/utilization")).toBeCloseTo(40 / 240, 12);
    expect(values.get("c/use.1")).toBeCloseTo(20 / 180, 12);
    expect(values.get("c/use.2")).toBeCloseTo(20 / 180, 12);
  });

  test("who is there does it, at a pace of its own", () => {
    const paced = { needs: { times: "1 / who.pace" }, station: { time: "10 min" } };
    expect(minutesOut(desk("5 min, 70 min, 100 min", {}, paced))).toEqual([15, 90, 110]);
  });

  test.each([
    ["finish, keep the timetable", [70, 120, 140], ["busy", 20, "off shift", 70, "busy", 90, "idle", 140]],
    ["finish, then full break", [70, 120, 150], ["busy", 20, "off shift", 70, "busy", 100]],
    ["pause at the bell", [100, 120, 150], ["busy", 20, "off shift", 60, "busy", 90]],
  ] as const)("%s: work of 50 min that the end of one's own shift meets", (atBell, left, ann) => {
    // The first is with Ann from 20; the second comes at 70 and goes to Bo, the third waits for Ann to be back.
    const of = desk("20 min, 70 min, 71 min", { atBell });
    expect(minutesOut(of)).toEqual(left);
    const states = minutes(timeline(of, "c", 0));
    expect(states.slice(1).flatMap(([t, state]) => [state, t])).toEqual([...ann, "off shift", 150]);
  });

  test("rules hear that one goes and another comes, at the very instant too", () => {
    const add = (event: string, text: string) => ({
      id: event.replaceAll(" ", "-"),
      of: "element",
      at: "c",
      event,
      steps: [{ id: "s1", ...set(["N", `N + ${text}`]) }],
    });
    const of = desk(
      "999 min",
      {},
      {
        design: {
          rules: [add("comes on shift", "1"), add("goes off shift", "100")],
          measures: [ended("m", "N")],
        },
        more: { variables: N },
      },
    );
    // 60: Ann goes and Bo comes. 90: Ann comes. 150: Ann goes.
    expect(valuesOf(of).get("m/end")).toBe(202);
  });

  test("steps have fewer of them there at most, and have their hours not kept", () => {
    const at = (first: string, ...pairs: [string, string][]) => ({
      id: first.replaceAll(" ", "-"),
      ...{ of: "system", event: "once", first },
      steps: [{ id: "s1", ...set(...pairs) }],
    });
    const of = desk(
      "0 min, 1 min, 2 min",
      {},
      {
        station: { time: "5 min" },
        design: { rules: [at("3 min", ["Clerks.keepsHours", "no"]), at("7 min", ["Clerks.count", "1"])] },
      },
    );
    // Ann from 0 to 5; Bo, whose hours are kept no longer, from 3 to 8; then there is one at most.
    expect(minutesOut(of)).toEqual([5, 8, 10]);
    expect(minutes(timeline(of, "c", 1)).slice(0, 4)).toEqual([
      [0, "off shift"],
      [3, "busy"],
      [8, "off shift"],
    ]);
  });

  test("a row that names no calendar, or nothing, is told where it stands", () => {
    const named = (cell: string) => ({
      ...PEOPLE,
      rows: [
        ["Ann", "Early", "1"],
        ["Bo", cell, "1"],
      ],
    });
    expect(compile(desk("0 min", {}, { table: named("Night") }), "d1").problems).toContainEqual(
      expect.objectContaining({ message: expect.stringContaining("no calendar is called so") }),
    );
    const text = {
      ...named("Night"),
      columns: PEOPLE.columns.map((c) => (c.id === "hours" ? { ...c, holds: "text" } : c)),
    };
    expect(run(compiled(desk("0 min", {}, { table: text })), { seed: 1, replication: 1 })!.failure).toMatchObject({
      id: "c",
      field: "hoursAt",
      message: 'Clerks: "Hours of each" says of number 2 no shift calendar.',
    });
    expect(run(compiled(desk("0 min", {}, { table: named("") })), { seed: 1, replication: 1 })!.failure).toMatchObject({
      message: 'Clerks: "Hours of each" reads a table. Row "Bo" of People has no hours.',
    });
  });

  test("the crew's own calendar is not asked where each has hours of its own", () => {
    const of = desk("70 min", { calendar: "early" }, { station: { time: "10 min" } });
    expect(minutesOut(of)).toEqual([80]);
    // Without a table of members what was said of each waits, and the crew's calendar holds.
    expect(minutesOut(desk("70 min", { calendar: "early", table: "" }, { station: { time: "10 min" } }))).toEqual([
      100,
    ]);
    expect(minutesOut(desk("70 min", { calendar: "early", hoursAt: "" }, { station: { time: "10 min" } }))).toEqual([
      100,
    ]);
  });
});

test("vehicles keep hours of their own too: who is under way when they end finishes the trip", () => {
  const fleet = (vehicle: Loose) =>
    study({
      elements: [
        { id: "a", kind: "arrivals", by: "list", listed: "5 min, 56 min, 58 min, 61 min", at: [0, 0] },
        { id: "d", kind: "departures", at: [600, 0] },
        {
          ...{ id: "c", kind: "vehicle", name: "Carts", at: [0, 0], table: "t", answers: "fixed order" },
          ...{ speed: "1 m/s", speedLoaded: "1 m/s", load: "0 s", unload: "0 s", idle: "home", ...vehicle },
        },
      ],
      links: [{ from: "a", to: "d", kind: "carried", by: "c" }],
      run: RUN,
      more: { tables: [PEOPLE], calendars: CALENDARS },
    });
  const of = fleet({ hoursAt: "row.hours" });
  // The first cart is there till 60, is back at 76, and off until 90; the second comes at 60, and is back at 80.
  expect(minutesOut(of)).toEqual([15, 66, 70, 90]);
  const values = valuesOf(of);
  expect(values.get("c/trips")).toBe(4);
  expect(values.get("c/doing.offShift")).toBeCloseTo((60 + (90 - 76) + 30) / 360, 12);
  // With hours for all both are there until 60, and again from 90.
  expect(minutesOut(fleet({ calendar: "early" }))).toEqual([15, 66, 68, 100]);
});

describe("who walks goes home when the shift ends, by hand", () => {
  /** One clerk, at home at 0 m, walks at 1 m/s to a desk at 60 m; there from 0 to 5 and from 60 to 180 minutes. */
  const walker = (jobs: string, crew: Loose = {}) =>
    desk(
      jobs,
      { table: "", hoursAt: "", calendar: "c", walks: "straight", speed: "1 m/s", idle: "home", ...crew },
      {
        calendars: [...CALENDARS, hours("c", "Hours", ["00:00", "00:05"], ["01:00", "24:00"])],
        station: { time: "10 min" },
      },
    );
  const states = (of: Study) => minutes(timeline(of, "c"));

  test("after the work that it finishes, and is off when it is there", () => {
    const of = walker("0 min, 10 min");
    expect(states(of)).toEqual([
      [0, "walking to work"],
      [1, "busy"],
      [11, "walking home"],
      [12, "off shift"],
      [60, "walking to work"],
      [61, "busy"],
      [71, "walking home"],
      [72, "idle"],
    ]);
    expect(valuesOf(of).get("c/distance")).toBe(240);
  });

  test("a break that keeps its length begins at home", () => {
    expect(states(walker("0 min, 10 min", { atBell: "finish, then full break" })).slice(3, 5)).toEqual([
      [12, "off shift"],
      [67, "walking to work"],
    ]);
  });

  test("from its post too; whom the bell stops, or who stays, is where the work was", () => {
    const post = walker("0 min, 10 min", { idle: "post", post: "a" });
    expect(states(post).slice(2, 4)).toEqual([
      [11, "walking home"],
      [12, "off shift"],
    ]);
    expect(states(walker("0 min, 10 min", { idle: "stay" })).slice(2)).toEqual([
      [11, "off shift"],
      [60, "busy"],
      [70, "idle"],
    ]);
    expect(states(walker("0 min", { atBell: "pause at the bell" })).slice(1)).toEqual([
      [1, "busy"],
      [5, "off shift"],
      [60, "busy"],
      [66, "walking home"],
      [67, "idle"],
    ]);
  });

  test("who is on the way to the work when the bell rings does it first", () => {
    expect(states(walker("4.5 min"))).toEqual([
      [0, "idle"],
      [4.5, "walking to work"],
      [5.5, "busy"],
      [15.5, "walking home"],
      [16.5, "off shift"],
      [60, "idle"],
    ]);
  });
});

test("hours of each that are all the same give the bits of a calendar for all", () => {
  const all = hours("all", "All", ["00:00", "00:40"], ["00:55", "01:40"], ["02:00", "03:00"]);
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 4 }),
      fc.constantFrom("finish, then full break", "finish, keep the timetable", "pause at the bell"),
      fc.constantFrom("no", "straight"),
      fc.constantFrom("stay", "home"),
      fc.integer({ min: 1, max: 1000 }),
      (members, atBell, walks, idle, seed) => {
        const table = { ...PEOPLE, rows: Array.from({ length: members }, (_, i) => [`M${i}`, "All", "1"]) };
        const numbers = (crew: Loose) => {
          const of = desk(
            "",
            { atBell, walks, idle, speed: "1 m/s", ...crew },
            {
              table,
              calendars: [all],
              arrivals: { by: "time between", between: "exponential(4 min)" },
              station: { time: "exponential(6 min)" },
            },
          );
          const program = compiled(of);
          const { values, failure } = run(program, { seed, replication: 1 })!;
          expect(failure).toBeUndefined();
          return measuresOf(program).map(({ key }, i) => [key, values[i]]);
        };
        const each = numbers({});
        expect(each).toEqual(numbers({ hoursAt: "", calendar: "all" }));
        expect(each.find(([key]) => key === "s/timeInSystem.count" || key === "d/left")?.[1]).not.toBe(0);
      },
    ),
    { numRuns: 40, seed: 7 },
  );
});
