import { compile, run, measuresOf } from "../src/index.ts";
import { chain, measures, program, study } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };
const line = (more: Loose = {}) => [
  { id: "in", kind: "arrivals", between: "10 s", first: "0 s" },
  { id: "s", kind: "station", time: "15 s", ...more },
  out,
];
const links = chain("in", "s", "out");
const until = (settings: Loose, elements: Loose[] = line()) =>
  run(program(study({ elements, links, run: settings })), { seed: 1, replication: 1 })!.until;
const problems = (settings: Loose, more: Loose = {}) =>
  compile(study({ elements: line(), links, run: settings, more })).problems.map((p) => [p.code, p.field]);

describe("what ends a replication", () => {
  test("so many departures, at that instant; its length at the latest", () => {
    expect(until({ length: "1 h", ends: "count", count: "4" })).toBe(60);
    expect(until({ length: "50 s", ends: "count", count: "4" })).toBe(50);
    const of = measures(line(), links, { length: "1 h", ends: "count", count: "4" });
    expect([of("out/departed"), of("run/length"), of("s/state.busy")]).toEqual([4, 60, 1]);
  });
  test("a condition, when what it reads changes", () => {
    expect(until({ length: "1 h", ends: "condition", condition: "s.queue.length >= 3" })).toBe(70);
    expect(until({ length: "1 h", ends: "condition", condition: "in.created = 3 and out.departed >= 1" })).toBe(20);
  });
  test("a date", () => {
    expect(until({ start: "2026-06-01T08:00", ends: "date", endDate: "2026-06-02T09:30" }, line({ time: "1 s" }))).toBe(
      25.5 * 3600,
    );
  });
  test("guards, with a message and what was measured up to then", () => {
    const stopped = run(program(study({ elements: line(), links, run: { length: "9 h", mostEntities: 20 } })), {
      seed: 1,
      replication: 1,
    })!;
    expect(stopped.failure?.code).toBe("too-many-entities");
    expect(
      run(program(study({ elements: line(), links, run: { length: "9 h", mostEvents: 50 } })), {
        seed: 1,
        replication: 1,
      })!.failure?.code,
    ).toBe("event-budget");
  });
  test("the same again for the next replication", () => {
    const p = program(study({ elements: line(), links, run: { length: "1 h", ends: "count", count: "4" } }));
    expect([1, 2, 3].map((replication) => run(p, { seed: 1, replication })!.until)).toEqual([60, 60, 60]);
  });
  test("what is missing or cannot be is said", () => {
    expect(problems({ ends: "date" })).toEqual([["bad-end", "endDate"]]);
    expect(problems({ ends: "date", endDate: "2020-01-01T00:00" })).toEqual([["bad-end", "endDate"]]);
    expect(problems({ ends: "count", count: "0" })).toEqual([["not-a-count", "count"]]);
    expect(problems({ ends: "condition", condition: "clock > 1 h" })).toEqual([["condition-of-time", "condition"]]);
    expect(problems({ ends: "condition" })).toEqual([["empty-setting", "condition"]]);
    // What is not used is not checked.
    expect(problems({ count: "nonsense" })).toEqual([]);
  });
});

describe("what is there at the start", () => {
  const elements = (more: Loose) => [
    { id: "in", kind: "arrivals", by: "list", listed: "500 s" },
    { id: "q", kind: "queue", ...more },
    { id: "s", kind: "station", time: "10 s" },
    out,
  ];
  test("comes in at once, and is counted as created", () => {
    const of = measures(
      elements({ initial: [{ id: "a", entityType: "t1", count: "3" }] }),
      chain("in", "q", "s", "out"),
      { length: "100 s" },
    );
    expect([of("t1/created"), of("t1/departed"), of("q/wait.mean"), of("q/line.max")]).toEqual([3, 3, 10, 2]);
  });
  test("also at a station, and no more than there is room for", () => {
    const at = (room: string, count: string) =>
      run(
        program(
          study({
            elements: [
              { id: "in", kind: "arrivals", by: "list", listed: "500 s" },
              { id: "s", kind: "station", time: "10 s", room, initial: [{ id: "a", entityType: "t1", count }] },
              out,
            ],
            links,
            run: { length: "100 s" },
          }),
        ),
        { seed: 1, replication: 1 },
      )!;
    expect(at("1", "2").failure).toBeUndefined();
    expect(at("1", "3").failure).toMatchObject({ code: "no-room-at-start", id: "s" });
  });
});

describe("custom measures", () => {
  const custom = (list: Loose[]) => {
    const s = study({ elements: line(), links, run: { length: "100 s" } });
    const [design] = s.designs;
    return { ...s, designs: [{ ...design, measures: list }] } as typeof s;
  };
  const read = (list: Loose[], warmUp = 0) => {
    const p = program(custom(list));
    const { values } = run(p, { seed: 1, replication: 1, warmUp })!;
    return measuresOf(p).flatMap((m, i) =>
      m.ownerKind === "custom" || m.ownerKind === "group" ? [[m.key, values[i]] as const] : [],
    );
  };
  // Events at the very end still happen: the most counts the arrival at 100. In line: 1 from 10 to 15, 0 to 20, 1 to
  // 30, and so on: arrivals every 10 s, work of 15 s.
  const inLine = (t: number) => Math.floor(t / 10) + 1 - (Math.floor(t / 15) + 1);
  const shareOf = (holds: (t: number) => boolean, from = 0) => {
    let sum = 0;
    for (let t = from; t < 100; t += 5) if (holds(t)) sum += 5;
    return sum / (100 - from);
  };
  test("an average of an expression over time", () => {
    const mean = [...Array(20).keys()].reduce((sum, i) => sum + (inLine(5 * i) * 2 + 1) * 5, 0) / 100;
    expect(read([{ kind: "average", id: "m", name: "Twice", value: "s.queue.length * 2 + s.busy" }])).toEqual([
      ["m/mean", expect.closeTo(mean, 9)],
      ["m/max", 9],
      ["m/end", expect.anything()],
    ]);
  });
  test("the share of time in each range; after the warm-up alone", () => {
    const list = [{ kind: "ranges", id: "m", name: "Line", value: "s.queue.length", bounds: ["1", "3"] }];
    const expected = (from: number) => [
      shareOf((t) => inLine(t) < 1, from),
      shareOf((t) => inLine(t) >= 1 && inLine(t) < 3, from),
      shareOf((t) => inLine(t) >= 3, from),
    ];
    expect(read(list).map(([, v]) => v)).toEqual(expected(0).map((v) => expect.closeTo(v, 9)));
    expect(read(list, 50).map(([, v]) => v)).toEqual(expected(50).map((v) => expect.closeTo(v, 9)));
  });
  test("the share of time in which a condition holds, of slots that are free at the very instant too", () => {
    expect(read([{ kind: "condition", id: "m", name: "Long", condition: "s.queue.length >= 2" }])).toEqual([
      [
        "m/share",
        expect.closeTo(
          shareOf((t) => inLine(t) >= 2),
          9,
        ),
      ],
    ]);
    expect(read([{ kind: "condition", id: "m", name: "Free", condition: "s.free = 1" }])).toEqual([["m/share", 0]]);
  });
  test("mistakes are said", () => {
    const codes = (list: Loose[]) => compile(custom(list)).problems.map((p) => p.code);
    expect(codes([{ kind: "ranges", id: "m", name: "R", value: "s.queue.length", bounds: ["3", "1"] }])).toEqual([
      "bounds-not-rising",
    ]);
    expect(codes([{ kind: "ranges", id: "m", name: "R", value: "s.queue.length", bounds: ["3 min"] }])).toEqual([
      "unit-mismatch",
    ]);
    expect(codes([{ kind: "average", id: "m", name: "R", value: "clock" }])).toEqual(["condition-of-time"]);
    expect(codes([{ kind: "group", id: "m", name: "R", elements: [] }])).toEqual(["bad-group"]);
  });

  test("a group merges with the right weights: waits by their number, shares by slots", () => {
    const elements = [
      { id: "in", kind: "arrivals", by: "list", listed: "0 s, 0 s, 0 s", wayOut: "in turn" },
      { id: "a", kind: "station", time: "10 s", capacity: "3" },
      { id: "b", kind: "station", time: "40 s" },
      out,
    ];
    const s = study({
      elements,
      links: [
        { from: "in", to: "a" },
        { from: "in", to: "b" },
        { from: "a", to: "out" },
        { from: "b", to: "out" },
      ],
      run: { length: "100 s" },
    });
    const p = program({
      ...s,
      designs: [{ ...s.designs[0], measures: [{ kind: "group", id: "g", name: "Both", elements: ["a", "b"] }] }],
    });
    const { values } = run(p, { seed: 1, replication: 1 })!;
    const of = (id: string) => values[measuresOf(p).findIndex((m) => m.key === `g/${id}`)];
    // A: two at once, 10 s each, in 3 slots; B: one, 40 s.
    expect([of("done"), of("utilization"), of("state.idle")]).toEqual([
      3,
      expect.closeTo((20 + 40) / 400, 12),
      expect.closeTo(340 / 400, 12),
    ]);
    expect([of("wait.mean"), of("wait.max")]).toEqual([0, 0]);
  });
});

describe("an endless loop at one instant is stopped, and its places are named", () => {
  const failure = (elements: Loose[], links: Loose[]) =>
    run(program(study({ elements, links, run: { length: "1 h" } })), {
      seed: 1,
      replication: 1,
      limits: { stepsAtAnInstant: 5000 },
    })!.failure;
  test("arrivals with no time between", () => {
    expect(
      failure(
        [
          { id: "in", kind: "arrivals", between: "if(clock >= 0 s, 0 s, 1 s)" },
          { id: "d", kind: "dwell", time: "1 h" },
          out,
        ],
        chain("in", "d", "out"),
      ),
    ).toMatchObject({ code: "instant-loop", id: "in", message: expect.stringMatching(/: in\b/) });
  });
  test("two junctions in a ring, and nothing else of the model", () => {
    const ring = [
      { id: "in", kind: "arrivals", between: "10 s" },
      { id: "q", kind: "queue" },
      { id: "a", kind: "junction" },
      { id: "b", kind: "junction", wayOut: "condition" },
      out,
    ];
    const found = failure(ring, [
      ...chain("in", "q", "a", "b"),
      { from: "b", to: "a", condition: "clock > 0 s" },
      { from: "b", to: "out" },
    ]);
    expect(found).toMatchObject({ code: "instant-loop", id: "a", message: expect.stringMatching(/: a, b\.$/) });
  });
});
