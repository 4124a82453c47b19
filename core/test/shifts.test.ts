import { chain, measures, study, timeline } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };

/** Starts at midnight on a Monday: minutes of the day are minutes of the run. */
const RUN = { length: "3 h", start: "2026-06-01T00:00" };
const MIN = 60;
const calendar = (...rows: Loose[]) => ({ calendars: [{ id: "c", name: "Hours", rows }] });
/** On shift 00:00 to 01:00 and from 01:30: a pause of 30 min at 60 min. */
const pauseAt60 = calendar({ days: [0], from: "00:00", to: "01:00" }, { days: [0], from: "01:30", to: "24:00" });

/** One slot, work of 50 min, entities at 0 and 1 min. */
const elements = (station: Loose) => [
  { id: "in", kind: "arrivals", by: "list", listed: "0 min, 1 min" },
  { id: "s", kind: "station", time: "50 min", calendar: "c", ...station },
  out,
];
const minutes = (found: [number, string][]) => found.map(([t, state]) => [t / MIN, state]);
const states = (station: Loose, more: Loose = pauseAt60) =>
  minutes(timeline(study({ elements: elements(station), links: chain("in", "s", "out"), run: RUN, more }), "s"));

describe("work in progress when the shift ends: jobs of 50 min from 0, a pause from 60 to 90", () => {
  test("finish, keep the timetable: the pause is what is left of it", () => {
    expect(states({ atBell: "finish, keep the timetable" })).toEqual([
      [0, "busy"],
      [100, "idle"],
    ]);
  });

  test("finish, keep the timetable, when the work ends within the pause", () => {
    expect(states({ time: "40 min", atBell: "finish, keep the timetable" })).toEqual([
      [0, "busy"],
      [80, "off shift"],
      [90, "idle"],
    ]);
  });

  test("finish, then full break: the pause begins when the work ends and keeps its length", () => {
    expect(states({ atBell: "finish, then full break" })).toEqual([
      [0, "busy"],
      [100, "off shift"],
      [130, "idle"],
    ]);
  });

  test("pause at the bell: the work goes on with what is left", () => {
    expect(states({ atBell: "pause at the bell" })).toEqual([
      [0, "busy"],
      [60, "off shift"],
      [90, "busy"],
      [130, "idle"],
    ]);
  });

  test.each(["finish, then full break", "finish, keep the timetable", "pause at the bell"])(
    "%s: work that ends at the bell is done, and the pause is on time",
    (atBell) => {
      expect(states({ time: "30 min", atBell })).toEqual([
        [0, "busy"],
        [60, "off shift"],
        [90, "idle"],
      ]);
    },
  );

  test.each(["finish, then full break", "finish, keep the timetable", "pause at the bell"])(
    "%s: nothing starts off shift",
    (atBell) => {
      const found = minutes(
        timeline(
          study({
            elements: [{ id: "in", kind: "arrivals", by: "list", listed: "70 min" }, ...elements({ atBell }).slice(1)],
            links: chain("in", "s", "out"),
            run: RUN,
            more: pauseAt60,
          }),
          "s",
        ),
      );
      expect(found).toEqual([
        [0, "idle"],
        [60, "off shift"],
        [90, "busy"],
        [140, "idle"],
      ]);
    },
  );
});

describe("an overlapping breakdown, from 70 to 100 min", () => {
  const breakdowns = [{ id: "b", clock: "clock time", every: "70 min", repair: "30 min" }];

  test("pause at the bell: off shift, then down, then the 40 min that are left", () => {
    // Work 0-50 and 50-60; off 60-90, down on until 100, the rest of 40 min to 140, as the next breakdown is at 170.
    expect(states({ atBell: "pause at the bell", breakdowns })).toEqual([
      [0, "busy"],
      [60, "off shift"],
      [90, "down"],
      [100, "busy"],
      [140, "idle"],
      [170, "down"],
    ]);
  });

  test("finish, keep the timetable: the overrun meets the breakdown", () => {
    // Work 50-70, down 70-100, 30 min left to 130; the pause is over by then.
    expect(states({ atBell: "finish, keep the timetable", breakdowns })).toEqual([
      [0, "busy"],
      [70, "down"],
      [100, "busy"],
      [130, "idle"],
      [170, "down"],
    ]);
  });

  test("finish, then full break: the whole pause comes after the delayed work", () => {
    expect(states({ atBell: "finish, then full break", breakdowns })).toEqual([
      [0, "busy"],
      [70, "down"],
      [100, "busy"],
      [130, "off shift"],
      [160, "idle"],
      [170, "down"],
    ]);
  });

  test("start over: all 50 min are done again", () => {
    expect(states({ atBell: "finish, keep the timetable", breakdowns, onBreakdown: "start over" })).toEqual([
      [0, "busy"],
      [70, "down"],
      [100, "busy"],
      [150, "idle"],
      [170, "down"],
    ]);
  });

  test("scrap: the work is lost, and its entity leaves", () => {
    const of = measures(
      elements({ breakdowns, onBreakdown: "scrap" }),
      chain("in", "s", "out"),
      RUN,
      undefined,
      pauseAt60,
    );
    expect([of("s/scrapped"), of("t1/departed"), of("t1/lost"), of("s/breakdowns")]).toEqual([1, 1, 1, 2]);
    // Worked 0-50 and 50-70.
    expect(of("s/state.busy")).toBeCloseTo(70 / 180, 12);
  });
});

test("shares of time in all states by hand, and both utilizations", () => {
  const breakdowns = [{ id: "b", clock: "clock time", every: "70 min", repair: "30 min" }];
  const of = measures(
    elements({
      atBell: "pause at the bell",
      breakdowns,
      costBusy: "60 money/h",
      costOpen: "6 money/h",
      costEach: "1 money",
    }),
    chain("in", "s", "out"),
    RUN,
    undefined,
    pauseAt60,
  );
  expect(
    ["busy", "offShift", "down", "idle", "settingUp", "needing", "blocked"].map(
      (state) => of(`s/state.${state}`) * 180,
    ),
  ).toEqual([100, 30, 20, 30, 0, 0, 0].map((v) => expect.closeTo(v, 9)));
  expect(of("s/utilization")).toBeCloseTo(100 / 150, 12);
  expect(of("s/utilization.average")).toBeCloseTo(100 / 130, 12);
  // 100 min at work, 150 min on shift, two entities.
  expect(of("s/cost")).toBeCloseTo(100 + 15 + 2, 9);
});

test("each slot has its own part of the timetable", () => {
  // Two slots to 60 min, one to 90, two again.
  const hours = calendar(
    { days: [0], from: "00:00", to: "01:00", value: "2" },
    { days: [0], from: "01:00", to: "01:30", value: "1" },
    { days: [0], from: "01:30", to: "24:00" },
  );
  const both = study({
    elements: elements({ capacity: "2", time: "70 min", atBell: "pause at the bell" }),
    links: chain("in", "s", "out"),
    run: RUN,
    more: hours,
  });
  expect(minutes(timeline(both, "s", 0))).toEqual([
    [0, "busy"],
    [70, "idle"],
  ]);
  // From 1 to 60 min, then from 90 for the 11 min that are left.
  expect(minutes(timeline(both, "s", 1))).toEqual([
    [0, "idle"],
    [1, "busy"],
    [60, "off shift"],
    [90, "busy"],
    [101, "idle"],
  ]);
});

describe("breakdowns by other clocks", () => {
  test("by time at work: the clock stands while it is idle", () => {
    const found = states(
      { time: "10 min", calendar: "", breakdowns: [{ id: "b", clock: "busy time", every: "15 min", repair: "5 min" }] },
      {},
    );
    expect(found).toEqual([
      [0, "busy"],
      [15, "down"],
      [20, "busy"],
      [25, "idle"],
    ]);
  });

  test("by jobs: after the second one, before a third begins", () => {
    const list = [
      { id: "in", kind: "arrivals", by: "list", listed: "0 min\n1 min\n2 min" },
      ...elements({
        time: "10 min",
        calendar: "",
        breakdowns: [{ id: "b", clock: "jobs", jobs: "2", repair: "5 min" }],
      }).slice(1),
    ];
    expect(minutes(timeline(study({ elements: list, links: chain("in", "s", "out"), run: RUN }), "s"))).toEqual([
      [0, "busy"],
      [20, "down"],
      [25, "busy"],
      [35, "idle"],
    ]);
  });

  test("several at once: down until the last is repaired", () => {
    const breakdowns = [
      { id: "a", every: "10 min", repair: "20 min" },
      { id: "b", every: "15 min", repair: "25 min" },
    ];
    // a is down 10-30, 40-60, 70-90 …; b 15-40, 55-80, 95-120: together 10-90, and again from 95.
    expect(states({ calendar: "", breakdowns }, {}).slice(0, 4)).toEqual([
      [0, "busy"],
      [10, "down"],
      [90, "busy"],
      [95, "down"],
    ]);
  });
});
