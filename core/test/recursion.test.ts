import fc from "fast-check";
import { checkExpression, makeScope, run, measuresOf } from "../src/index.ts";
import { openStreams } from "../src/random/streams.ts";
import { chain, program, study } from "./build.ts";

/**
 * Waits in a line first come first served follow a recursion that needs no events
 * (Lindley 1952; Kiefer and Wolfowitz 1955 for several servers): an independent
 * way to the numbers of the kernel, from the same random streams.
 */
function waitsByRecursion(servers: number, between: () => number, service: () => number, until: number) {
  const free = new Array<number>(servers).fill(0);
  const waits: number[] = [];
  let departed = 0;
  let workDone = 0;
  for (let arrival = between(); arrival <= until; arrival += between()) {
    const start = Math.max(arrival, free[0]);
    if (start > until) break;
    const time = service();
    waits.push(start - arrival);
    free[0] = start + time;
    workDone += Math.min(until, start + time) - start;
    if (start + time <= until) departed += 1;
    free.sort((a, b) => a - b);
  }
  return { waits, departed, utilization: workDone / (servers * until) };
}

const draw = (expression: string, seed: number, replication: number, stream: number) => {
  const checked = checkExpression(
    expression,
    makeScope(new Map(), () => 0),
  );
  if (!checked.ok) throw new Error(expression);
  const read = checked.checked.compile({
    running: {
      part: () => {
        throw new Error("Nothing runs here.");
      },
    },
    random: () => openStreams(seed, replication).stream(stream),
    fault: () => undefined,
  });
  return () => read(0);
};

test("waits, departures and utilization of one line before several servers are those of the recursion", () => {
  const times = fc.constantFrom(
    "exponential(50 s)",
    "uniform(10 s, 80 s)",
    "gamma(2, 20 s)",
    "lognormal(40 s, 30 s)",
    "45 s",
    "weibull(0.8, 30 s)",
  );
  fc.assert(
    fc.property(
      times,
      times,
      fc.integer({ min: 1, max: 5 }),
      fc.integer({ min: 0, max: 1e6 }),
      fc.integer({ min: 1, max: 99 }),
      fc.boolean(),
      (between, time, servers, seed, replication, ownQueue) => {
        const until = 5000;
        const station = { id: "s", kind: "station", time, capacity: String(servers), streams: { time: 22 } };
        const source = { id: "in", kind: "arrivals", between, streams: { between: 11 } };
        const p = program(
          study({
            elements: ownQueue
              ? [source, station, { id: "out", kind: "departures" }]
              : [source, { id: "q", kind: "queue" }, station, { id: "out", kind: "departures" }],
            links: ownQueue ? chain("in", "s", "out") : chain("in", "q", "s", "out"),
            run: { length: `${until} s` },
          }),
        );
        const result = run(p, { seed, replication })!;
        const of = (key: string) => result.values[measuresOf(p).findIndex((m) => m.key === key)];
        const expected = waitsByRecursion(
          servers,
          draw(between, seed, replication, 11),
          draw(time, seed, replication, 22),
          until,
        );
        const line = ownQueue ? "s" : "q";
        expect(of("out/departed")).toBe(expected.departed);
        expect(of(`${line}/wait.mean`)).toBeCloseTo(
          expected.waits.reduce((a, b) => a + b, 0) / expected.waits.length,
          6,
        );
        expect(of(`${line}/wait.max`)).toBeCloseTo(Math.max(...expected.waits), 6);
        expect(of("s/utilization")).toBeCloseTo(expected.utilization, 9);
      },
    ),
    { numRuns: 200, seed: 7 },
  );
});

describe("common random numbers", () => {
  const base = {
    elements: [
      { id: "in", kind: "arrivals", between: "exponential(30 s)", streams: { between: 1 } },
      { id: "s", kind: "station", time: "exponential(20 s)", streams: { time: 2 } },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "s", "out"),
    run: { length: "2 h" },
  };
  const arrivals = (elements: Record<string, unknown>[], links: Record<string, unknown>[]) => {
    const p = program(study({ ...base, elements, links }));
    return run(p, { seed: 3, replication: 4 })!.values[measuresOf(p).findIndex((m) => m.key === "in/created")];
  };

  test("a change of one part leaves the draws of all others alone", () => {
    const before = arrivals(base.elements, base.links);
    const more = [...base.elements, { id: "d", kind: "dwell", time: "normal(60 s, 5 s)" }];
    expect(
      arrivals(more, [
        { from: "in", to: "d" },
        { from: "d", to: "s" },
        { from: "s", to: "out" },
      ]),
    ).toBe(before);
    expect(
      arrivals(
        [
          base.elements[0],
          { ...base.elements[1], time: "triangular(1 s, 2 s, 90 s)", capacity: "3" },
          base.elements[2],
        ],
        base.links,
      ),
    ).toBe(before);
  });

  test("another seed, replication or stream gives other numbers", () => {
    const p = program(study(base));
    const waits = [
      [3, 4],
      [3, 5],
      [4, 4],
    ].map(([seed, replication]) => run(p, { seed, replication })!.values.join());
    expect(new Set(waits).size).toBe(3);
    const moved = program(
      study({
        ...base,
        elements: [{ ...base.elements[0], streams: { between: 9 } }, base.elements[1], base.elements[2]],
      }),
    );
    expect(run(moved, { seed: 3, replication: 4 })!.values.join()).not.toBe(waits[0]);
  });
});

test("expressions read the running model: a station that works faster the longer its line", () => {
  const p = program(
    study({
      elements: [
        { id: "in", kind: "arrivals", between: "10 s", first: "0 s", group: "4", limit: "1" },
        { id: "s", name: "Desk", kind: "station", time: "10 s / (1 + Desk.queue.length)" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "out"),
      run: { length: "100 s" },
    }),
  );
  const result = run(p, { seed: 1, replication: 1 })!;
  // The first starts before the others have joined: 10 s. Then 2, 1 and 0 are left in line: 10/3, 10/2 and 10 s.
  expect(result.values[measuresOf(p).findIndex((m) => m.key === "s/utilization")]).toBeCloseTo(
    (10 + 10 / 3 + 5 + 10) / 100,
    12,
  );
});
