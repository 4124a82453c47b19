import fc from "fast-check";
import { compile, open, readBack, run, measuresOf } from "../src/index.ts";
import reference from "./reference/queueing.json";
import { chain, expectInterval, replicate, study } from "./build.ts";

jest.setTimeout(240_000);

const exact = (name: string) => reference.find((r) => r.name === name)!.exact as unknown as Record<string, number>;
const MIN = 60;

test("M/M/2+M: who is out of patience gives up (waits of all who came, those who gave up too)", async () => {
  const known = exact("M/M/2+M");
  const replicated = await replicate(
    study({
      elements: [
        { id: "in", kind: "arrivals", between: "exponential(1 min / 2.2)" },
        { id: "s", kind: "station", time: "exponential(1 min)", capacity: "2", patience: "exponential(2 min)" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "out"),
      run: { length: "200 d", warmUp: "1 d" },
    }),
    20,
    2207,
  );
  expectInterval(replicated.values("s/gaveUp.share"), known.P_abandon, 0.02);
  expectInterval(replicated.values("s/line.mean"), known.Lq, 0.02);
  expectInterval(replicated.values("s/wait.mean"), known.Wq_all * MIN, 0.02);
  expectInterval(replicated.values("s/utilization"), known.utilization, 0.02);
});

test("non-preemptive priority: who is worked on is not disturbed, and class A is next", async () => {
  const known = exact("non-preemptive priority");
  // Each class passes a dwell of no time to note when it came; its wait is its time in line at the one station.
  const replicated = await replicate(
    study({
      types: [
        { id: "a", name: "A", attributes: [{ name: "class", value: "1" }] },
        { id: "b", name: "B", attributes: [{ name: "class", value: "2" }] },
      ],
      elements: [
        { id: "inA", kind: "arrivals", entityType: "a", between: "exponential(1 min / 0.3)" },
        { id: "inB", kind: "arrivals", entityType: "b", between: "exponential(1 min / 0.4)" },
        { id: "s", kind: "station", time: "exponential(1 min)", order: "smallest first", rank: "entity.class" },
        { id: "out", kind: "departures" },
      ],
      links: [
        { from: "inA", to: "s" },
        { from: "inB", to: "s" },
        { from: "s", to: "out" },
      ],
      run: { length: "1000 d", warmUp: "2 d" },
    }),
    20,
    2207,
  );
  expectInterval(replicated.values("a/waiting.mean"), known.Wq_A * MIN, 0.02);
  expectInterval(replicated.values("b/waiting.mean"), known.Wq_B * MIN, 0.02);
});

test("M/M/1 with balking at a length is M/M/1/K (Erlang 1917): blocked pi_K = (1 - rho) rho^K / (1 - rho^(K+1))", async () => {
  const rho = 0.8;
  const replicated = await replicate(
    study({
      elements: [
        { id: "in", kind: "arrivals", between: "exponential(75 s)" },
        { id: "s", kind: "station", name: "Desk", time: "exponential(60 s)", balk: "Desk.queue.length >= 3" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "out"),
      run: { length: "300 d", warmUp: "1 d" },
    }),
    20,
    3,
  );
  expectInterval(replicated.values("s/balked.share"), ((1 - rho) * rho ** 4) / (1 - rho ** 5), 0.02);
});

/** Who departed when, by hand-made serials: an attribute numbers the entities as they are born. */
function departures(more: Record<string, string>) {
  const turnsAway = "patience" in more || "balk" in more || more.whenFull === "lose";
  const { program } = compile(
    study({
      elements: [
        { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: "5" },
        { id: "s", kind: "station", name: "Desk", time: "10 s", ...more },
        { id: "out", kind: "departures" },
        ...(turnsAway ? [{ id: "bye", kind: "departures" }] : []),
      ],
      links: [
        { from: "in", to: "s" },
        { from: "s", to: "out" },
        ...(turnsAway ? [{ from: "s", to: "bye", takes: "turned away", kind: "timed", time: "0.5 s" }] : []),
      ],
      types: [
        {
          id: "t1",
          name: "Customer",
          attributes: [
            { name: "born", value: "clock" },
            { name: "odd", value: "clock / 1 s mod 2" },
          ],
        },
      ],
      run: { length: "100 s" },
    }),
  );
  const session = open(program!, { seed: 1, replication: 1 });
  const left: [serial: number, time: number][] = [];
  let here = new Set<number>();
  while (!session.ended) {
    session.step();
    const { serial } = session.frame();
    const now = new Set(serial);
    for (const s of here) if (!now.has(s)) left.push([s, session.time]);
    here = now;
  }
  const of = (key: string) => session.values()[measuresOf(program!).findIndex((m) => m.key === key)];
  return { left, of };
}

describe("a line of five who come at 0, 1, 2, 3 and 4 s, 10 s of work each", () => {
  test("last come first served", () => {
    expect(departures({ order: "last come" }).left).toEqual([
      [1, 10],
      [5, 20],
      [4, 30],
      [3, 40],
      [2, 50],
    ]);
  });

  test("smallest and largest first, ties by who came first", () => {
    expect(departures({ order: "smallest first", rank: "entity.odd" }).left).toEqual([
      [1, 10],
      [3, 20],
      [5, 30],
      [2, 40],
      [4, 50],
    ]);
    expect(departures({ order: "largest first", rank: "entity.odd" }).left).toEqual([
      [1, 10],
      [2, 20],
      [4, 30],
      [3, 40],
      [5, 50],
    ]);
    expect(departures({ order: "largest first", rank: "entity.born" }).left).toEqual([
      [1, 10],
      [5, 20],
      [4, 30],
      [3, 40],
      [2, 50],
    ]);
  });

  test("patience of 15 s: the last three give up at 17, 18 and 19 s and leave by their own way", () => {
    const { left, of } = departures({ patience: "15 s" });
    // The second is called at 10 s, before its patience ends at 16 s; its own work then takes till 20 s.
    expect(left).toEqual([
      [1, 10],
      [3, 17.5],
      [4, 18.5],
      [5, 19.5],
      [2, 20],
    ]);
    expect([of("s/gaveUp"), of("bye/departed"), of("out/departed"), of("t1/lost")]).toEqual([3, 3, 2, 0]);
    // The waits of all: 0, 9, and three of 15 s.
    expect(of("s/wait.mean")).toBeCloseTo((0 + 9 + 45) / 5, 9);
  });

  test("patience that ends in the very instant of being called counts as called", () => {
    expect(departures({ patience: "9 s" }).left).toEqual([
      [1, 10],
      [3, 11.5],
      [4, 12.5],
      [5, 13.5],
      [2, 20],
    ]);
  });

  test("who does not join never waits", () => {
    const { left, of } = departures({ balk: "Desk.queue.length >= 2" });
    expect(left).toEqual([
      [4, 3.5],
      [5, 4.5],
      [1, 10],
      [2, 20],
      [3, 30],
    ]);
    expect([of("s/balked"), of("s/balked.share")]).toEqual([2, 0.4]);
  });

  test("a full line turns away by the same way", () => {
    const { left, of } = departures({ room: "1", whenFull: "lose" });
    expect(left).toEqual([
      [3, 2.5],
      [4, 3.5],
      [5, 4.5],
      [1, 10],
      [2, 20],
    ]);
    expect(of("s/lost")).toBe(3);
  });
});

test("those turned away wait for room where their way leads, and go on when there is some", () => {
  const { program } = compile(
    study({
      elements: [
        { id: "in", kind: "arrivals", between: "1 s", first: "0 s", limit: "4" },
        { id: "s", kind: "station", time: "100 s", balk: "clock >= 0 s" },
        { id: "r", kind: "station", time: "10 s", room: "0" },
        { id: "out", kind: "departures" },
      ],
      links: [
        { from: "in", to: "s" },
        { from: "s", to: "out" },
        { from: "s", to: "r", takes: "turned away" },
        { from: "r", to: "out" },
      ],
      run: { length: "60 s" },
    }),
  );
  const { values, failure } = run(program!, { seed: 1, replication: 1 })!;
  const of = (key: string) => values[measuresOf(program!).findIndex((m) => m.key === key)];
  expect(failure).toBeUndefined();
  // At r at once (1 s), then those of 2 and 3 s after 11 and 21 s.
  expect([of("r/done"), of("s/balked"), of("t1/departed"), of("t1/inSystem.end")]).toEqual([3, 3, 3, 1]);
  expect(of("t1/blocked.mean")).toBeCloseTo((0 + 9 + 18) / 3, 9);
});

test("settings and links that do not fit together are named", () => {
  const { problems } = compile(
    study({
      elements: [
        { id: "in", kind: "arrivals" },
        { id: "s", kind: "station", order: "smallest first" },
        { id: "out", kind: "departures" },
      ],
      links: [
        { from: "in", to: "s" },
        { from: "s", to: "out" },
        { from: "s", to: "out", takes: "turned away" },
      ],
    }),
  );
  expect(problems.map((p) => [p.code, p.severity, p.field])).toEqual([
    ["none-turned-away", "warning", "takes"],
    ["empty-setting", "error", "rank"],
  ]);
  const twice = compile(
    study({
      elements: [
        { id: "in", kind: "arrivals" },
        { id: "s", kind: "station", patience: "1 min" },
        { id: "out", kind: "departures" },
      ],
      links: [
        { from: "in", to: "s" },
        { from: "s", to: "out" },
        { from: "s", to: "out", takes: "turned away" },
        { from: "s", to: "out", takes: "turned away" },
      ],
    }),
  );
  expect(twice.problems.map((p) => p.code)).toEqual(["turned-away-twice"]);
});

test("the card says it in words", () => {
  const { model } = compile(
    study({
      elements: [
        { id: "in", kind: "arrivals", name: "Door" },
        {
          id: "s",
          kind: "station",
          order: "largest first",
          rank: "entity.age",
          balk: "Desk.queue.length > 4",
          patience: "5 min",
          name: "Desk",
        },
        { id: "out", kind: "departures", name: "Street" },
      ],
      links: [
        { from: "in", to: "s" },
        { from: "s", to: "out" },
        { from: "s", to: "out", takes: "turned away" },
      ],
    }),
  );
  const words = readBack(model.nodes[1], model)
    .map((p) => (typeof p === "string" ? p : p.strong))
    .join("");
  expect(words).toContain("Takes entities from Door, largest first by entity.age.");
  expect(words).toContain(
    "Who would have to wait does not join if Desk.queue.length > 4. Who has waited 5 min gives up. Those turned away go to Street.",
  );
});

test("any order, patience and room: none is lost sight of, and every line is empty when all have gone", () => {
  const station = fc.record({
    order: fc.constantFrom("first come", "last come", "smallest first", "largest first"),
    rank: fc.constantFrom("entity.age", "uniform(0, 1)", "entity.size"),
    balk: fc.constantFrom("", "Desk.queue.length > 2"),
    patience: fc.constantFrom("", "20 s", "exponential(15 s)", "0 s"),
    room: fc.constantFrom("no limit", "2", "auto"),
    whenFull: fc.constantFrom("wait", "lose"),
    capacity: fc.constantFrom("1", "2"),
  });
  fc.assert(
    fc.property(station, fc.boolean(), fc.integer({ min: 0, max: 1e6 }), (more, some, seed) => {
      const elsewhere = some && (more.balk !== "" || more.patience !== "" || more.whenFull === "lose");
      const { program } = compile(
        study({
          types: [{ id: "t1", name: "Customer", attributes: [{ name: "size", value: "uniformInteger(0, 3)" }] }],
          elements: [
            { id: "in", kind: "arrivals", between: "exponential(8 s)", limit: "120" },
            { id: "s", kind: "station", name: "Desk", time: "exponential(18 s)", ...more },
            { id: "out", kind: "departures" },
            { id: "bye", kind: "departures" },
          ],
          links: [
            { from: "in", to: "s" },
            { from: "s", to: "out", share: "100 %" },
            elsewhere ? { from: "s", to: "bye", takes: "turned away" } : { from: "s", to: "bye", share: "0 %" },
          ],
          run: { length: "3 d" },
        }),
      );
      const { values, failure } = run(program!, { seed, replication: 1 })!;
      const of = (key: string) => values[measuresOf(program!).findIndex((m) => m.key === key)] || 0;
      expect(failure).toBeUndefined();
      expect(of("t1/created")).toBe(120);
      expect(of("t1/departed") + of("t1/lost")).toBe(120);
      expect([of("t1/inSystem.end"), of("s/line.end"), of("in/outside.end")]).toEqual([0, 0, 0]);
      expect(of("s/done") + of("s/gaveUp") + of("s/balked") + of("s/lost")).toBe(120);
      if (elsewhere) expect([of("t1/lost"), of("bye/departed")]).toEqual([0, 120 - of("s/done")]);
    }),
    { numRuns: 400, seed: 8 },
  );
});
