import { compile, run } from "../src/index.ts";
import { chain, measures, program, study, timeline } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };
const MIN = 60;
const RUN = { length: "3 h", start: "2026-06-01T00:00" };
const need = (anyOf: string[], more: Loose = {}) => ({ id: `n-${anyOf.join("-")}`, anyOf, ...more });
const minutes = (found: [number, string][]) => found.map(([t, state]) => [t / MIN, state]);

/** Two stations with arrivals of their own, each with the settings given, and what else stands on the floor. */
function two(a: Loose, b: Loose, others: Loose[], at: { a: string; b: string }, more: Loose = {}) {
  const elements = [
    { id: "ina", kind: "arrivals", by: "list", listed: at.a },
    { id: "a", kind: "station", time: "10 min", ...a },
    { id: "inb", kind: "arrivals", by: "list", listed: at.b },
    { id: "b", kind: "station", time: "10 min", ...b },
    ...others,
    out,
  ];
  const links = [...chain("ina", "a", "out"), ...chain("inb", "b", "out")];
  return {
    of: measures(elements, links, RUN, undefined, more),
    states: (id: string, unit = 0) => minutes(timeline(study({ elements, links, run: RUN, more }), id, unit)),
  };
}

const helper = { id: "h", kind: "crew", count: "1" };

test("one helper for two stations: the second waits for it, and its wait is told", () => {
  const { of, states } = two({ needs: [need(["h"])] }, { needs: [need(["h"])] }, [helper], { a: "0 min", b: "4 min" });
  expect(states("a")).toEqual([
    [0, "busy"],
    [10, "idle"],
  ]);
  expect(states("b")).toEqual([
    [0, "idle"],
    [4, "waiting for a resource"],
    [10, "busy"],
    [20, "idle"],
  ]);
  expect(states("h")).toEqual([
    [0, "busy"],
    [20, "idle"],
  ]);
  expect([of("h/taken"), of("h/wait.mean"), of("h/waited.mean"), of("b/state.needing") * 180]).toEqual(
    [2, 3 * MIN, 6 * MIN, 6].map((v) => expect.closeTo(v, 9)),
  );
  // Waiting for the helper is waiting, for the entity as well.
  expect(of("t1/waiting.mean")).toBeCloseTo(3 * MIN, 9);
});

test("all or none: who lacks one of two holds neither", () => {
  // A has the helper to 10. B wants helper and kit at 1; C, at b's other slot, wants the kit alone at 2 and has it at
  // once.
  const elements = [
    { id: "ina", kind: "arrivals", by: "list", listed: "0 min" },
    { id: "a", kind: "station", time: "10 min", needs: [need(["h"])] },
    { id: "inb", kind: "arrivals", by: "list", listed: "1 min" },
    { id: "b", kind: "station", time: "10 min", needs: [need(["h"]), need(["k"])] },
    { id: "inc", kind: "arrivals", by: "list", listed: "2 min" },
    { id: "c", kind: "station", time: "5 min", needs: [need(["k"])] },
    helper,
    { id: "k", kind: "equipment", count: "1" },
    out,
  ];
  const s = study({
    elements,
    links: [...chain("ina", "a", "out"), ...chain("inb", "b", "out"), ...chain("inc", "c", "out")],
    run: RUN,
  });
  expect(minutes(timeline(s, "c"))).toEqual([
    [0, "idle"],
    [2, "busy"],
    [7, "idle"],
  ]);
  expect(minutes(timeline(s, "b"))).toEqual([
    [0, "idle"],
    [1, "waiting for a resource"],
    [10, "busy"],
    [20, "idle"],
  ]);
  expect(minutes(timeline(s, "k"))).toEqual([
    [0, "idle"],
    [2, "busy"],
    [7, "idle"],
    [10, "busy"],
    [20, "idle"],
  ]);
});

test("alternatives: the preferred when it is free, else the other", () => {
  const { states } = two(
    { needs: [need(["h", "g"])] },
    { needs: [need(["h", "g"])] },
    [helper, { id: "g", kind: "crew", count: "1" }],
    { a: "0 min", b: "3 min" },
  );
  expect(states("h")).toEqual([
    [0, "busy"],
    [10, "idle"],
  ]);
  expect(states("g")).toEqual([
    [0, "idle"],
    [3, "busy"],
    [13, "idle"],
  ]);
});

test("two at once of a crew of three, and by the entity", () => {
  const { states } = two(
    { needs: [need(["h"], { count: "2" })] },
    { needs: [need(["h"], { count: "if(entity.type is Customer, 2, 9)" })] },
    [{ ...helper, count: "3" }],
    { a: "0 min", b: "1 min" },
  );
  expect([states("h", 0), states("h", 1), states("h", 2)]).toEqual([
    [
      [0, "busy"],
      [20, "idle"],
    ],
    [
      [0, "busy"],
      [20, "idle"],
    ],
    [[0, "idle"]],
  ]);
});

test("priority: the more urgent is served first of those who wait; asked last first on request", () => {
  const urgent = { needs: [need(["h"])], priority: "5" };
  const at = { a: "0 min, 1 min", b: "2 min" };
  // A's second entity waits in A's line until 10, and asks then; B asked at 2.
  expect(
    two({ needs: [need(["h"])], capacity: "2" }, urgent, [helper], at)
      .states("b")
      .slice(-2),
  ).toEqual([
    [10, "busy"],
    [20, "idle"],
  ]);
  expect(
    two({ needs: [need(["h"])], capacity: "2" }, { needs: [need(["h"])] }, [helper], at)
      .states("b")
      .slice(-2),
  ).toEqual([
    [20, "busy"],
    [30, "idle"],
  ]);
  expect(
    two({ needs: [need(["h"])], capacity: "2" }, { needs: [need(["h"])] }, [{ ...helper, order: "last asked" }], at)
      .states("b")
      .slice(-2),
  ).toEqual([
    [10, "busy"],
    [20, "idle"],
  ]);
});

test("preemption: the less urgent loses the helper, waits, and goes on with what is left", () => {
  const { states, of } = two(
    { needs: [need(["h"])] },
    { needs: [need(["h"])], priority: "1", time: "5 min" },
    [{ ...helper, preempt: true }],
    { a: "0 min", b: "4 min" },
  );
  expect(states("b")).toEqual([
    [0, "idle"],
    [4, "busy"],
    [9, "idle"],
  ]);
  expect(states("a")).toEqual([
    [0, "busy"],
    [4, "waiting for a resource"],
    [9, "busy"],
    [15, "idle"],
  ]);
  expect(of("t1/worked.mean")).toBeCloseTo(((10 + 5) / 2) * MIN, 9);
  expect(of("t1/waiting.mean")).toBeCloseTo((5 / 2) * MIN, 9);
  // Without leave to take it, the urgent one waits.
  expect(
    two({ needs: [need(["h"])] }, { needs: [need(["h"])], priority: "1", time: "5 min" }, [helper], {
      a: "0 min",
      b: "4 min",
    }).states("b"),
  ).toEqual([
    [0, "idle"],
    [4, "waiting for a resource"],
    [10, "busy"],
    [15, "idle"],
  ]);
});

describe("from phase to phase", () => {
  const phased = {
    setup: "2 min",
    time: "6 min",
    teardown: "1 min",
    needs: [need(["h"], { phases: ["setup", "work", "teardown"] })],
  };
  test("freed between phases, another may come in between", () => {
    const { states } = two(phased, { time: "3 min", needs: [need(["h"])] }, [helper], { a: "0 min", b: "1 min" });
    expect(states("a")).toEqual([
      [0, "setting up"],
      [2, "waiting for a resource"],
      [5, "busy"],
      [11, "setting up"],
      [12, "idle"],
    ]);
    expect(states("b")).toEqual([
      [0, "idle"],
      [1, "waiting for a resource"],
      [2, "busy"],
      [5, "idle"],
    ]);
  });
  test("kept, the other waits until all is done", () => {
    const { states } = two({ ...phased, keepResources: true }, { time: "3 min", needs: [need(["h"])] }, [helper], {
      a: "0 min",
      b: "1 min",
    });
    expect(states("a")).toEqual([
      [0, "setting up"],
      [2, "busy"],
      [8, "setting up"],
      [9, "idle"],
    ]);
    expect(states("b")).toEqual([
      [0, "idle"],
      [1, "waiting for a resource"],
      [9, "busy"],
      [12, "idle"],
    ]);
  });
  test("needed for the work alone, the setup goes on without", () => {
    const { states } = two({ ...phased, needs: [need(["h"])] }, { time: "3 min", needs: [need(["h"])] }, [helper], {
      a: "0 min",
      b: "1 min",
    });
    expect(states("a")).toEqual([
      [0, "setting up"],
      [2, "waiting for a resource"],
      [4, "busy"],
      [10, "setting up"],
      [11, "idle"],
    ]);
  });
});

describe("shifts of a crew", () => {
  const shift = {
    calendars: [
      {
        id: "c",
        name: "Hours",
        rows: [
          { days: [0], from: "00:00", to: "00:05" },
          { days: [0], from: "00:20", to: "24:00" },
        ],
      },
    ],
  };
  const at = { a: "0 min", b: "" };
  const one = (atBell: string) => {
    const elements = [
      { id: "in", kind: "arrivals", by: "list", listed: at.a },
      { id: "a", kind: "station", time: "10 min", needs: [need(["h"])] },
      { ...helper, calendar: "c", atBell },
      out,
    ];
    const s = study({ elements, links: chain("in", "a", "out"), run: RUN, more: shift });
    return [minutes(timeline(s, "a")), minutes(timeline(s, "h"))];
  };
  test("pause at the bell: the work it helps with stands still", () => {
    expect(one("pause at the bell")).toEqual([
      [
        [0, "busy"],
        [25, "idle"],
      ],
      [
        [0, "busy"],
        [5, "off shift"],
        [20, "busy"],
        [25, "idle"],
      ],
    ]);
  });
  test("finish, keep the timetable", () => {
    expect(one("finish, keep the timetable")).toEqual([
      [
        [0, "busy"],
        [10, "idle"],
      ],
      [
        [0, "busy"],
        [10, "off shift"],
        [20, "idle"],
      ],
    ]);
  });
  test("finish, then full break", () => {
    expect(one("finish, then full break")).toEqual([
      [
        [0, "busy"],
        [10, "idle"],
      ],
      [
        [0, "busy"],
        [10, "off shift"],
        [25, "idle"],
      ],
    ]);
  });
});

describe("equipment breaks down, and a crew repairs", () => {
  const kit = {
    id: "k",
    kind: "equipment",
    count: "1",
    breakdowns: [{ id: "b", clock: "busy time", every: "4 min", repair: "3 min", anyOf: ["h"] }],
  };
  const one = (station: Loose) => {
    const elements = [
      { id: "in", kind: "arrivals", by: "list", listed: "0 min" },
      { id: "a", kind: "station", time: "6 min", needs: [need(["k"])], ...station },
      kit,
      helper,
      out,
    ];
    return minutes(timeline(study({ elements, links: chain("in", "a", "out"), run: RUN }), "k"));
  };
  test("work goes on after the repair", () =>
    expect(one({})).toEqual([
      [0, "busy"],
      [4, "down"],
      [7, "busy"],
      [9, "idle"],
    ]));
  test("work starts over: its 6 min are interrupted again", () =>
    expect(one({ onBreakdown: "start over", time: "3.5 min" })).toEqual([
      [0, "busy"],
      [3.5, "idle"],
    ]));
  test("a station waits for the crew that repairs it", () => {
    const { states } = two(
      { breakdowns: [{ id: "b", every: "2 min", repair: "3 min", anyOf: ["h"] }], time: "4 min" },
      { time: "10 min", needs: [need(["h"])] },
      [helper],
      { a: "0 min", b: "0 min" },
    );
    // Down at 2; the helper is with B until 10; repaired at 13; the next breakdown comes at 15, when 2 min were done.
    expect(states("a").slice(0, 4)).toEqual(
      [
        [0, "busy"],
        [2, "down"],
        [13, "busy"],
        [15, "down"],
      ].slice(0, 4),
    );
  });
});

test("a priority or a count that is no number ends the replication and leads to its place", () => {
  const failure = (station: Loose) => {
    const s = study({
      elements: [
        { id: "in", kind: "arrivals", by: "list", listed: "0 min" },
        { id: "a", kind: "station", ...station },
        helper,
        out,
      ],
      links: chain("in", "a", "out"),
      types: [{ id: "t1", name: "Customer", attributes: [{ name: "none", value: "0" }] }],
      run: RUN,
    });
    return run(program(s), { seed: 1, replication: 1 })!.failure;
  };
  expect(failure({ needs: [need(["h"])], priority: "entity.none / entity.none" })).toMatchObject({
    code: "bad-rank",
    id: "a",
    field: "priority",
    message: expect.stringContaining("a: "),
  });
  expect(failure({ needs: [need(["h"], { count: "entity.none - 1" })] })).toMatchObject({
    code: "invalid-count",
    id: "a",
    field: "needs",
  });
  expect(failure({ breakdowns: [{ id: "b", clock: "jobs", jobs: "clock / clock" }] })).toMatchObject({
    code: "invalid-count",
    id: "a",
    field: "breakdowns.b.jobs",
    time: 0,
  });
});

test("what can never be met, or is no resource, is said before the run", () => {
  const problems = (needs: Loose[]) =>
    compile(
      study({
        elements: [{ id: "in", kind: "arrivals" }, { id: "a", kind: "station", needs }, helper, out],
        links: chain("in", "a", "out"),
      }),
    ).problems.map((p) => p.code);
  expect(problems([need(["h"], { count: "2" })])).toEqual(["need-too-large"]);
  expect(problems([need(["a"])])).toEqual(["missing-resource"]);
  expect(problems([need([])])).toEqual(["missing-resource"]);
  expect(problems([need(["h"], { count: "uniformInteger(1, 2)" })])).toEqual(["not-steady"]);
});
