import fc from "fast-check";
import { compile, open, type Program, run, type Study } from "../src/index.ts";
import { study } from "./build.ts";

type Loose = Record<string, unknown>;

/** A random small model: arrivals, then rows of elements, each linked to some of the next row, then departures. */
const models: fc.Arbitrary<Study> = fc
  .record({
    between: fc.constantFrom("exponential(20 s)", "30 s", "uniform(5 s, 60 s)"),
    group: fc.constantFrom("1", "2", "uniformInteger(0, 3)"),
    rows: fc.array(
      fc.array(
        fc.record({
          kind: fc.constantFrom("queue", "station", "dwell", "station"),
          capacity: fc.integer({ min: 1, max: 3 }),
          time: fc.constantFrom("exponential(25 s)", "10 s", "0 s", "triangular(1 s, 5 s, 60 s)"),
          room: fc.constantFrom("auto", "no limit", "0", "2"),
          limit: fc.constantFrom("no limit", "3"),
          whenFull: fc.constantFrom("wait", "lose"),
          order: fc.constantFrom("first come", "first come", "last come"),
          patience: fc.constantFrom("", "", "15 s", "exponential(30 s)"),
          wayOut: fc.constantFrom("share", "shortest line", "in turn", "first free"),
          link: fc.constantFrom("direct", "timed", "walkway"),
        }),
        { minLength: 1, maxLength: 3 },
      ),
      { minLength: 1, maxLength: 4 },
    ),
    warmUp: fc.constantFrom("0 s", "200 s"),
  })
  .map(({ between, group, rows, warmUp }) => {
    const elements: Loose[] = [{ id: "in", kind: "arrivals", between, group, wayOut: rows[0][0].wayOut, at: [0, 0] }];
    const links: Loose[] = [];
    let previous = ["in"];
    rows.forEach((row, r) => {
      const ids = row.map((spec, i) => {
        const id = `e${r}n${i}`;
        const { kind, capacity, time, room, limit, whenFull, order, patience, wayOut } = spec;
        const settings = kind === "station" ? { capacity: String(capacity), time, room, whenFull, order, patience } : kind === "queue" ? { room: limit, whenFull } : { time };
        elements.push({ id, kind, wayOut, at: [10 * (r + 1), 10 * i], ...settings });
        return id;
      });
      for (const from of previous) row.forEach(({ link }, i) => links.push({ from, to: ids[i], kind: link, time: "uniform(1 s, 9 s)" }));
      previous = ids;
    });
    elements.push({ id: "out", kind: "departures", at: [100, 0] });
    for (const from of previous) links.push({ from, to: "out" });
    return study({ elements, links, run: { length: "1500 s", warmUp } });
  });

const programOf = (s: Study): Program => {
  const { program, problems } = compile(s);
  if (!program) throw new Error(JSON.stringify(problems));
  return program;
};

/** Bit patterns, so that NaN equals NaN and 0 differs from −0. */
const bits = (values: readonly number[]) => Buffer.from(new Float64Array(values).buffer).toString("hex");

test("same program, seed and replication: same bits, run at once, in pieces, stepped, or watched", () => {
  fc.assert(
    fc.property(models, fc.integer({ min: 0, max: 1e9 }), fc.integer({ min: 1, max: 500 }), fc.array(fc.double({ min: 0, max: 300, noNaN: true }), { maxLength: 20 }), (s, seed, replication, pieces) => {
      const options = { seed, replication };
      const whole = run(programOf(s), options)!;
      expect(whole.failure).toBeUndefined();
      expect(bits(run(programOf(s), options)!.values)).toBe(bits(whole.values));

      const watched = open(programOf(s), options);
      let at = 0;
      for (const piece of pieces) {
        at += piece;
        watched.advanceTo(at, 37);
        watched.frame();
        watched.values();
      }
      while (!watched.advanceTo(watched.length, 101)) watched.frame();
      expect(bits(watched.result().values)).toBe(bits(whole.values));
      expect(watched.events).toBe(whole.events);

      const stepped = open(programOf(s), options);
      while (!stepped.ended) stepped.step();
      expect(bits(stepped.result().values)).toBe(bits(whole.values));
    }),
    { numRuns: 150, seed: 5 },
  );
});

test("replications run one after another with the same program leave no trace in each other", () => {
  fc.assert(
    fc.property(models, fc.array(fc.record({ seed: fc.integer({ min: 0, max: 99 }), replication: fc.integer({ min: 1, max: 9 }), length: fc.integer({ min: 1, max: 1500 }), warmUp: fc.constantFrom(0, 150) }), { minLength: 2, maxLength: 6 }), (s, all) => {
      const shared = programOf(s);
      for (const options of all) {
        const alone = run(programOf(s), options)!;
        const after = run(shared, options)!;
        expect(after.events).toBe(alone.events);
        expect(bits(after.values)).toBe(bits(alone.values));
      }
    }),
    { numRuns: 150, seed: 7 },
  );
});

test("who still waits for the first free place at the end is not waiting in the next replication", () => {
  const make = () =>
    programOf(
      study({
        elements: [
          { id: "in", kind: "arrivals", between: "exponential(10 s)", at: [0, 0] },
          { id: "q", kind: "queue", wayOut: "first free", at: [10, 0] },
          { id: "a", kind: "station", time: "exponential(50 s)", at: [20, 0] },
          { id: "b", kind: "station", time: "exponential(50 s)", at: [20, 10] },
          { id: "out", kind: "departures", at: [30, 0] },
        ],
        links: [["in", "q"], ["q", "a"], ["q", "b"], ["a", "out"], ["b", "out"]].map(([from, to]) => ({ from, to })),
        run: { length: "1500 s" },
      }),
    );
  const shared = make();
  const first = run(shared, { seed: 1, replication: 1 })!;
  expect(first.values[shared.measures.findIndex((m) => m.key === "q/line.end")]).toBeGreaterThan(1);
  expect(bits(run(shared, { seed: 1, replication: 2 })!.values)).toBe(bits(run(make(), { seed: 1, replication: 2 })!.values));
});

test("laws of conservation hold in every model", () => {
  fc.assert(
    fc.property(models, fc.integer({ min: 0, max: 1e9 }), (s, seed) => {
      const cold: Study = { ...s, run: { ...s.run, warmUp: "0 s" } };
      const p = programOf(cold);
      const session = open(p, { seed, replication: 1 });
      session.advanceTo(session.length);
      const { values } = session.result();
      const of = (key: string) => values[p.measures.findIndex((m) => m.key === key)];
      // Created is departed, lost or still there, and the picture shows each of those once.
      expect(of("t1/created")).toBe(of("t1/departed") + of("t1/lost") + of("t1/inSystem.end"));
      const frame = session.frame();
      expect(frame.count).toBe(of("t1/inSystem.end"));
      expect(new Set(frame.serial).size).toBe(frame.count);
      // The parts of the time in system make up the whole.
      if (of("t1/departed") > 0) {
        const parts = ["waiting", "worked", "moving", "dwelling", "blocked"].reduce((sum, part) => sum + of(`t1/${part}.mean`), 0);
        expect(Math.abs(parts - of("t1/timeInSystem.mean"))).toBeLessThan(1e-6 * Math.max(1, parts));
      }
      for (const element of cold.designs[0].elements) {
        if (element.kind !== "station") continue;
        const shares = ["busy", "blocked", "idle"].map((state) => of(`${element.id}/state.${state}`));
        expect(shares.every((share) => share > -1e-12 && share < 1 + 1e-12)).toBe(true);
        expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
      }
      // What set out on links into an element came from what left the elements before.
      const into = (id: string) => cold.designs[0].links.filter((l) => l.to === id).reduce((sum, l) => sum + of(`${l.id}/passed`), 0);
      expect(into("out")).toBe(of("out/departed"));
    }),
    { numRuns: 300, seed: 6 },
  );
});
