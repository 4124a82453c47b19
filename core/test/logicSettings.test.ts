import { compile, measuresOf, run, writtenTables } from "../src/index.ts";
import { logicStudy, problemsOf, ran, set, values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

const once = (first: string, ...steps: Loose[]) => ({ of: "system", event: "once", first, steps });
const N = [{ id: "n", name: "N", value: "0" }];
const count = { id: "m", name: "M", kind: "average", value: "N" };

/** Three come at once to a station of three places, ten minutes each; then nobody. */
const shop = (station: Loose, rules: Loose[], more: Loose = {}) => ({
  elements: [
    { id: "in", kind: "arrivals", between: "1000 min", first: "0 min", group: "6" },
    { id: "s", kind: "station", time: "10 min", capacity: "3", ...station },
    { id: "out", kind: "departures" },
  ],
  links: chain("in", "s", "out"),
  variables: N,
  measures: [count],
  rules,
  run: { length: "100 min" },
  ...more,
});

describe("capacity that steps set", () => {
  test("lets work in progress end, and gives no more than so many places out", () => {
    const value = values(shop({}, [once("5 min", set(["s.capacity", "1"]))]));
    // Three until 10 min, then one after another: 20, 30, 40 min.
    expect(value("t1/timeInSystem.mean")).toBe((60 * (10 * 3 + 20 + 30 + 40)) / 6);
    expect(value("s/state.busy")).toBeCloseTo(60 / 300, 12);
    // Two of the three places are gone from 10 min on.
    expect(value("s/state.offShift")).toBeCloseTo((2 * 90) / 300, 12);
    expect(value("s/utilization")).toBeCloseTo(60 / (300 - 180), 12);
  });

  test("comes back, and is read and followed as it is", () => {
    const value = values(
      shop({}, [
        once("1 min", set(["s.capacity", "1"])),
        once("25 min", set(["s.capacity", "3"])),
        { of: "system", event: "changes", value: "s.capacity", steps: [set(["N", "N * 10 + s.capacity"])] },
      ]),
    );
    expect(value("m/end")).toBe(13);
    // The rule acts when the three have begun: they end at 10 min, one at 20 min, and two begin at 25 min.
    expect(value("t1/timeInSystem.mean")).toBe((60 * (10 * 3 + 20 + 30 + 35)) / 6);
  });

  test("pauses work at the bell where the station does so", () => {
    const value = values(
      shop({ atBell: "pause at the bell", setup: "0 min" }, [
        once("5 min", set(["s.capacity", "0"])),
        once("15 min", set(["s.capacity", "3"])),
      ]),
    );
    expect(value("t1/timeInSystem.mean")).toBe((60 * (20 * 3 + 30 * 3)) / 6);
  });

  test.each([
    ["4", 4],
    ["-1", -1],
    ["1.5", 1.5],
  ])("is a whole number up to what the card says: not %s", (to, given) => {
    const { failure } = ran(shop({}, [once("5 min", set(["s.capacity", to]))])).result;
    expect(failure).toMatchObject({ code: "invalid-count", id: "s", field: "capacity", value: given, time: 300 });
    expect(failure!.message).toContain("from 0 to 3");
  });

  test("begins each replication as the card says", () => {
    const program = compile(logicStudy(shop({}, [once("5 min", set(["s.capacity", "1"]))]))).program!;
    const first = run(program, { seed: 1, replication: 1 })!;
    run(program, { seed: 1, replication: 2 });
    expect(run(program, { seed: 1, replication: 1 })!.values).toEqual(first.values);
  });
});

describe("hours that steps keep or not", () => {
  const calendars = [{ id: "c", name: "Day", rows: [{ from: "00:00", to: "00:30", value: "3" }] }];
  const day = { calendars, run: { length: "100 min", start: "2026-03-02T00:00" } };
  const on = { calendar: "c", atBell: "finish, keep the timetable" };

  test("are the calendar's until they are not kept, and again when they are", () => {
    const all = (rules: Loose[]) => values(shop({ ...on, time: "20 min" }, rules, day));
    // Three until 20 min, three more by 40 min; with the hours kept, all is off from 40 min on.
    const kept = all([]);
    expect(kept("s/state.offShift")).toBeCloseTo(60 / 100, 12);
    const notKept = all([once("35 min", set(["s.keepsHours", "no"]))]);
    expect(notKept("s/state.offShift")).toBe(0);
    const again = all([once("35 min", set(["s.keepsHours", "no"])), once("70 min", set(["s.keepsHours", "yes"]))]);
    expect(again("s/state.offShift")).toBeCloseTo(30 / 100, 12);
  });

  test("tell rules when more or less is there", () => {
    const rules = [
      { of: "element", at: "s", event: "goes off shift", steps: [set(["N", "N + 1"])] },
      { of: "element", at: "s", event: "comes on shift", steps: [set(["N", "N + 100"])] },
      once("50 min", set(["s.keepsHours", "no"])),
    ];
    expect(values(shop(on, rules, day))("m/end")).toBe(101);
  });

  test("can be set only where there are some", () => {
    const problems = problemsOf(shop({}, [once("5 min", set(["s.keepsHours", "no"]))]));
    expect(problems.map(({ code, field }) => `${code} ${field}`)).toEqual(["bad-target s1.values.v0.what"]);
  });
});

describe("room that steps set", () => {
  test.each([
    ["a queue", (room: string) => ({ id: "q", kind: "queue", room }), "q.room", 3],
    ["a station's own line", (room: string) => ({ id: "q", kind: "station", time: "10 min", room }), "q.queue.room", 2],
  ])("of %s lets more in, and fewer once there is room again", (_, make, room, more) => {
    const model = (rules: Loose[]) => ({
      elements: [
        { id: "in", kind: "arrivals", between: "1 min", first: "1 min", limit: "20" },
        { ...make("2"), whenFull: "lose" },
        { id: "s", kind: "station", time: "1000 min", room: "0" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "q", "s", "out"),
      variables: N,
      measures: [{ ...count, value: room }],
      rules,
      run: { length: "50 min" },
    });
    const lost = (rules: Loose[]) => values(model(rules))("q/lost");
    const base = lost([]);
    expect(lost([once("0.5 min", set([room, "5"]))])).toBe(base - 3);
    expect(lost([once("0.5 min", set([room, "0"]))])).toBe(base + more);
    expect(values(model([once("0.5 min", set([room, "5"]))]))("m/end")).toBe(5);
    expect(ran(model([once("0.5 min", set([room, "-1"]))])).result.failure).toMatchObject({
      code: "invalid-count",
      field: "room",
    });
  });
});

describe("resources", () => {
  const crewed = (rules: Loose[], crew: Loose = {}) => ({
    elements: [
      { id: "in", kind: "arrivals", between: "1000 min", first: "0 min", group: "4" },
      { id: "s", kind: "station", time: "10 min", capacity: "4", needs: [{ id: "n1", anyOf: ["c"], count: "1" }] },
      { id: "out", kind: "departures" },
      { id: "c", kind: "crew", count: "4", ...crew },
    ],
    links: chain("in", "s", "out"),
    variables: N,
    measures: [count],
    rules,
    run: { length: "100 min" },
  });

  test("have as many units as steps say", () => {
    const value = values(
      crewed([once("0 min", set(["c.count", "2"]))].map((r) => ({ ...r, event: "start", first: "" }))),
    );
    expect(value("t1/timeInSystem.mean")).toBe((60 * (10 * 2 + 20 * 2)) / 4);
    expect(value("c/utilization")).toBeCloseTo(40 / 200, 12);
  });

  test("tell rules of each unit that is claimed and freed", () => {
    const on = (event: string, by: string) => ({ of: "element", at: "c", event, steps: [set(["N", `N + ${by}`])] });
    expect(values(crewed([on("is claimed", "1"), on("is freed", "100")]))("m/end")).toBe(404);
  });
});

describe("units that are reserved", () => {
  const store = (rules: Loose[], more: Loose = {}) => ({
    elements: [
      { id: "in", kind: "arrivals", between: "1000 min", first: "10 min", group: "2" },
      { id: "j", kind: "junction" },
      { id: "out", kind: "departures" },
      { id: "rope", kind: "stock", onHand: "5", policy: "none" },
    ],
    links: chain("in", "j", "out"),
    variables: N,
    measures: [count],
    rules,
    run: { length: "100 min" },
    ...more,
  });
  const at = (steps: Loose[]) => ({ of: "element", at: "j", event: "comes in", steps });
  const reserve = (amount: string) => ({ do: "reserve", stock: "rope", amount });
  const take = (amount: string, more: Loose = {}) => ({ do: "take from stock", stock: "rope", amount, ...more });

  test("are kept for who has them, on hand until they are taken", () => {
    const steps = [
      reserve("3"),
      { do: "else", steps: [set(["N", "N + 1"]), { do: "end" }] },
      { do: "wait", time: "20 min" },
      take("3"),
    ];
    const value = values(store([at(steps)]));
    // The second finds two that are free, which is too few.
    expect(value("m/end")).toBe(1);
    expect(value("rope/onHand.end")).toBe(2);
    expect(value("rope/reserved.mean")).toBeCloseTo((3 * 20) / 100, 12);
    expect(value("rope/fillRate")).toBe(1);
  });

  test("are not given to others, who wait until they are released", () => {
    const rules = [
      {
        of: "system",
        event: "start",
        steps: [reserve("4"), { do: "wait", time: "30 min" }, { do: "release", stock: "rope" }],
      },
      at([take("2"), set(["N", "N + clock / 1 min"])]),
    ];
    // Both wait from 10 to 30 min: one unit is free, and two each are wanted.
    expect(values(store(rules))("m/end")).toBe(60);
  });

  test("can be had again when who has them ends, or has taken fewer", () => {
    const ends = [
      { of: "system", event: "start", steps: [reserve("5"), { do: "wait", time: "40 min" }] },
      at([take("2"), set(["N", "N + clock / 1 min"])]),
    ];
    expect(values(store(ends))("m/end")).toBe(80);
    const fewer = [
      { of: "system", event: "start", steps: [reserve("5"), take("3"), { do: "wait", time: "40 min" }] },
      at([take("1"), set(["N", "N + clock / 1 min"])]),
    ];
    expect(values(store(fewer))("m/end")).toBe(80);
  });
});

describe("measures of what is recorded", () => {
  const recorded = (measure: Loose, value: string) => ({
    elements: [
      { id: "in", kind: "arrivals", between: "10 min", first: "10 min" },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "out"),
    variables: N,
    measures: [{ id: "r", name: "R", kind: "recorded", ...measure }],
    rules: [
      {
        of: "element",
        at: "out",
        event: "comes in",
        steps: [set(["N", "N + 1"]), { do: "record", measure: "r", value }],
      },
    ],
    run: { length: "100 min" },
  });

  test("have shares of observations in ranges, the lower bound in, the upper out", () => {
    const value = values(recorded({ bounds: ["3 min", "7 min"] }, "N * 1 min"));
    // 1 … 10.
    expect([0, 1, 2].map((i) => value(`r/recordedRange.${i}`))).toEqual([2 / 10, 4 / 10, 4 / 10]);
    expect(value("r/recorded.mean")).toBe(5.5 * 60);
  });

  test("have shares of the time of a level in ranges", () => {
    const value = values(recorded({ as: "level", bounds: ["3", "7"] }, "N"));
    // k from 10 k min on, 0 before.
    expect(value("r/recordedRange.0")).toBeCloseTo(30 / 100, 12);
    expect(value("r/recordedRange.1")).toBeCloseTo(40 / 100, 12);
    expect(value("r/recordedRange.2")).toBeCloseTo(30 / 100, 12);
  });

  test("have shares of time in states, and in none of them", () => {
    const states = { as: "state", states: ["low", "high"] };
    const value = values(recorded(states, 'if(N < 4, "low", if(N < 9, "high", "over"))'));
    expect(value("r/inState.0")).toBeCloseTo(30 / 100, 12);
    expect(value("r/inState.1")).toBeCloseTo(50 / 100, 12);
    expect(value("r/inState.none")).toBeCloseTo((10 + 10) / 100, 12);
  });

  test("say where a bound has another unit, a state is no text, or none is named", () => {
    const codes = (measure: Loose, value: string) =>
      problemsOf(recorded(measure, value)).map(({ code, id, field }) => `${code} ${id} ${field}`);
    expect(codes({ bounds: ["3 kg"] }, "N * 1 min")).toEqual(["unit-mismatch r bounds.0"]);
    expect(codes({ bounds: ["5", "3"] }, "N")).toEqual(["bounds-not-rising r bounds.1"]);
    expect(codes({ as: "state", states: ["low"] }, "N")).toEqual(["unit-mismatch r1 s2.value"]);
    expect(codes({ as: "state" }, '"low"')).toEqual(["bad-states r states"]);
    expect(codes({}, '"low"')).toEqual(["unit-mismatch r1 s2.value"]);
  });
});

describe("rows that steps write", () => {
  const model = (values: Loose[], more: Loose = {}) => ({
    elements: [
      { id: "in", kind: "arrivals", between: "10 min", first: "10 min" },
      { id: "j", kind: "junction", name: "Yard" },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "j", "out"),
    types: [{ id: "t1", name: "Crate", attributes: [{ name: "weight", value: "2.5 kg" }] }],
    rules: [{ of: "element", at: "j", event: "comes in", steps: [{ do: "write", table: "Trips", values }] }],
    run: { length: "35 min" },
    ...more,
  });
  const columns = [
    { id: "a", column: "weight", to: "entity.weight" },
    { id: "b", column: "rush", to: "clock > 15 min" },
    { id: "c", column: "of", to: "entity.type" },
    { id: "d", column: "to", to: "Yard" },
    { id: "e", column: "words", to: '"as told"' },
  ];

  test("are told with when, and read as tables with units", () => {
    const { program } = compile(logicStudy(model(columns)));
    const [table, ...others] = writtenTables(program!.model);
    const rows: unknown[] = [];
    run(program!, { seed: 1, replication: 1, wrote: (of, at, cells) => void rows.push([of, ...table.row(at, cells)]) });
    expect(others).toEqual([]);
    expect([table.name, ...table.head]).toEqual([
      "Trips",
      "Written at (s)",
      "weight (kg)",
      "rush",
      "of",
      "to",
      "words",
    ]);
    expect(rows).toEqual([
      [0, 600, 2.5, "no", "Crate", "Yard", "as told"],
      [0, 1200, 2.5, "yes", "Crate", "Yard", "as told"],
      [0, 1800, 2.5, "yes", "Crate", "Yard", "as told"],
    ]);
  });

  test("leave the warm-up out, and change no number", () => {
    const draw = [{ id: "a", column: "x", to: "uniform(0, 1)" }];
    const study = logicStudy(model(draw, { run: { length: "35 min", warmUp: "15 min" } }));
    const { program } = compile(study);
    let told = 0;
    const watched = run(program!, { seed: 1, replication: 1, wrote: () => void (told += 1) })!;
    expect(told).toBe(2);
    expect(run(program!, { seed: 1, replication: 1 })!.values).toEqual(watched.values);
    expect(measuresOf(program!).length).toBeGreaterThan(0);
  });

  test("have the same columns wherever they are written, each with a name", () => {
    const codes = (steps: Loose[]) =>
      problemsOf(model([], { rules: [{ of: "element", at: "j", event: "comes in", steps }] })).map(
        ({ code, field }) => `${code} ${field}`,
      );
    const write = (...values: Loose[]) => ({ do: "write", table: "Trips", values });
    const [a, b] = columns;
    expect(codes([write(a), write(a)])).toEqual([]);
    expect(codes([write(a), write(b)])).toEqual(["other-columns s2.values"]);
    expect(codes([write(a, { ...b, column: "Weight" })])).toEqual(["duplicate-name s1.values"]);
    expect(codes([write()])).toEqual(["empty-setting s1.values"]);
  });
});

test("how many still wait for what came no more is told of each step that waits", () => {
  const value = values({
    elements: [
      { id: "in", kind: "arrivals", between: "10 min", first: "10 min" },
      { id: "j", kind: "junction" },
      { id: "k", kind: "junction" },
      { id: "out", kind: "departures" },
    ].map((e) => ({ ...e, ...(e.kind === "junction" ? { group: "Yard" } : {}) })),
    links: chain("in", "j", "k", "out"),
    variables: N,
    rules: [
      { of: "group", at: "Yard", event: "comes in", steps: [{ do: "wait until", condition: "N > 5" }] },
      { of: "element", at: "k", event: "comes in", steps: [{ do: "wait for", signal: "tide" }, set(["N", "0"])] },
      once("35 min", set(["N", "9"])),
      { of: "system", event: "every", every: "60 min", first: "65 min", steps: [{ do: "signal", signal: "tide" }] },
    ],
    run: { length: "105 min" },
  });
  // Those of 10, 20 and 30 min go on at 35 min, and those of 40 to 60 at once; all wait for the tide, which comes at
  // 65 min and makes N 0 again; four come later.
  expect([value("run/stillWaiting.r1.s1"), value("run/stillWaiting.r2.s1"), value("t1/departed")]).toEqual([4, 0, 6]);
  expect(value("run/stillWaiting.r2.s1")).toBe(0);
  expect(value("t1/departed")).toBe(6);
});
