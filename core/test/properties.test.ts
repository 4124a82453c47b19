import fc from "fast-check";
import { compile, open, type Program, run, type Study, UNIT, measuresOf } from "../src/index.ts";
import { study } from "./build.ts";
import { fullModels, plainModels } from "./randomModels.ts";

const programOf = (s: Study): Program => {
  const { program, problems } = compile(s);
  if (!program) throw new Error(JSON.stringify(problems));
  return program;
};

/** Bit patterns, so that NaN equals NaN and 0 differs from −0. */
const bits = (values: readonly number[]) => Buffer.from(new Float64Array(values).buffer).toString("hex");

describe.each([
  ["plain", plainModels, 150],
  ["full", fullModels, 350],
] as const)("%s models", (_, models, numRuns) => {
  test("same program, seed and replication: same bits, run at once, in pieces, stepped, or watched", () => {
    fc.assert(
      fc.property(
        models,
        fc.integer({ min: 0, max: 1e9 }),
        fc.integer({ min: 1, max: 500 }),
        fc.array(fc.double({ min: 0, max: 300, noNaN: true }), { maxLength: 20 }),
        (s, seed, replication, pieces) => {
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
        },
      ),
      { numRuns, seed: 5 },
    );
  });

  test("replications run one after another with the same program leave no trace in each other", () => {
    fc.assert(
      fc.property(
        models,
        fc.array(
          fc.record({
            seed: fc.integer({ min: 0, max: 99 }),
            replication: fc.integer({ min: 1, max: 9 }),
            length: fc.integer({ min: 1, max: 1500 }),
            warmUp: fc.constantFrom(0, 150),
          }),
          { minLength: 2, maxLength: 6 },
        ),
        (s, all) => {
          const shared = programOf(s);
          for (const options of all) {
            const alone = run(programOf(s), options)!;
            const after = run(shared, options)!;
            expect(after.events).toBe(alone.events);
            expect(bits(after.values)).toBe(bits(alone.values));
          }
        },
      ),
      { numRuns, seed: 7 },
    );
  });

  test("laws of conservation hold in every model", () => {
    fc.assert(
      fc.property(models, fc.integer({ min: 0, max: 1e9 }), (s, seed) => {
        const cold: Study = { ...s, run: { ...s.run, warmUp: "0 s" } };
        const p = programOf(cold);
        const session = open(p, { seed, replication: 1 });
        session.advanceTo(session.length);
        const { values } = session.result();
        const of = (key: string) => values[measuresOf(p).findIndex((m) => m.key === key)];
        expect(session.failure).toBeUndefined();
        // Created is departed, lost, ended inside or still there, and the picture shows each of those that are
        // nobody's part once.
        const types = cold.designs[0].entityTypes.map((t) => t.id);
        const joins = cold.designs[0].elements.some((e) => e.kind === "join" || e.kind === "split");
        for (const t of types)
          expect(of(`${t}/created`)).toBe(
            of(`${t}/departed`) + of(`${t}/lost`) + (joins ? of(`${t}/consumed`) : 0) + of(`${t}/inSystem.end`),
          );
        const frame = session.frame();
        const inSystem = types.reduce((sum, t) => sum + of(`${t}/inSystem.end`), 0);
        // Those on vehicles are nowhere by themselves.
        const { carriers } = frame;
        const onVehicles = Object.values(carriers.others).reduce(
          (sum, { length }) => sum + length,
          [...carriers.serial].filter((serial) => serial > 0).length,
        );
        if (joins) expect(frame.count + onVehicles).toBeLessThanOrEqual(inSystem);
        else expect(frame.count + onVehicles).toBe(inSystem);
        expect(new Set(frame.serial).size).toBe(frame.count);
        // The parts of the time in system make up the whole.
        for (const t of types) {
          if (!(of(`${t}/departed`) > 0)) continue;
          const held = cold.designs[0].elements.some((e) => e.kind === "join" && e.keeps === "to be undone")
            ? ["held"]
            : [];
          const stood = measuresOf(p).some((m) => m.key === `${t}/stood.mean`) ? ["stood"] : [];
          const brought = measuresOf(p).some((m) => m.key === `${t}/carried.mean`)
            ? ["waitingForVehicle", "carried"]
            : [];
          const parts = ["waiting", "worked", "moving", "dwelling", "blocked", ...held, ...stood, ...brought].reduce(
            (sum, part) => sum + of(`${t}/${part}.mean`),
            0,
          );
          expect(Math.abs(parts - of(`${t}/timeInSystem.mean`))).toBeLessThan(1e-6 * Math.max(1, parts));
        }
        for (const element of cold.designs[0].elements) {
          const shares = measuresOf(p)
            .filter((m) => m.ownerId === element.id && m.id.startsWith("state."))
            .map((m) => of(m.key));
          if (shares.length === 0) continue;
          expect(shares.length).toBeGreaterThanOrEqual(3);
          expect(shares.every((share) => share > -1e-12 && share < 1 + 1e-12)).toBe(true);
          expect(shares.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
        }
        // Ranges cover all time, and a custom average is that of what it is made of.
        const ranges = measuresOf(p)
          .filter((m) => m.key.startsWith("m1/"))
          .map((m) => of(m.key));
        if (ranges.length > 0) expect(ranges.reduce((a, b) => a + b)).toBeCloseTo(1, 9);
        if (ranges.length > 0) expect(of("m3/mean")).toBeCloseTo(2 * of("crew/line.mean"), 9);
        // What set out on links into an element came from what left the elements before.
        const into = (id: string) =>
          cold.designs[0].links.filter((l) => l.to === id).reduce((sum, l) => sum + of(`${l.id}/passed`), 0);
        if (!joins) expect(into("out")).toBe(of("out/departed"));
      }),
      { numRuns: 2 * numRuns, seed: 6 },
    );
  });
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
        links: [
          ["in", "q"],
          ["q", "a"],
          ["q", "b"],
          ["a", "out"],
          ["b", "out"],
        ].map(([from, to]) => ({ from, to })),
        run: { length: "1500 s" },
      }),
    );
  const shared = make();
  const first = run(shared, { seed: 1, replication: 1 })!;
  expect(first.values[measuresOf(shared).findIndex((m) => m.key === "q/line.end")]).toBeGreaterThan(1);
  expect(bits(run(shared, { seed: 1, replication: 2 })!.values)).toBe(
    bits(run(make(), { seed: 1, replication: 2 })!.values),
  );
});

test("resources are freed as often as they are claimed: when all have left, none is in use", () => {
  let emptied = 0;
  let little = 0;
  fc.assert(
    fc.property(fullModels, fc.integer({ min: 0, max: 1e9 }), (s, seed) => {
      const [design] = s.designs;
      const few: Study = {
        ...s,
        run: { ...s.run, warmUp: "0 s", length: "20000 s" },
        designs: [
          { ...design, elements: design.elements.map((e) => (e.kind === "arrivals" ? { ...e, limit: "5" } : e)) },
        ],
      };
      const session = open(programOf(few), { seed, replication: 1 });
      session.advanceTo(15_000);
      const frame = session.frame();
      if (frame.count > 0) return; // held at a gate or a join for good
      emptied += 1;
      // Little's law holds exactly over a time that begins and ends empty: all time in the system is some entity's.
      session.advanceTo(session.length);
      const values = session.values();
      const measures = measuresOf(programOf(few));
      const of = (key: string) => values[measures.findIndex((m) => m.key === key)];
      const simple = !design.elements.some((e) => e.kind === "join" || e.kind === "split");
      for (const { id } of design.entityTypes) {
        if (!simple || of(`${id}/lost`) > 0 || !(of(`${id}/departed`) > 0)) continue;
        little += 1;
        const [l, lambda, w] = [
          of(`${id}/inSystem.mean`),
          of(`${id}/departed`) / session.length,
          of(`${id}/timeInSystem.mean`),
        ];
        expect(Math.abs(l - lambda * w)).toBeLessThan(1e-9 * Math.max(1e-6, l));
      }
      design.elements.forEach((e, i) => {
        // A crew may be repairing; what entities had is given back.
        if (e.kind === "station")
          expect(
            [...(frame.units[i] ?? [])].filter(
              (state) => state !== UNIT.idle && state !== UNIT.down && state !== UNIT.offShift,
            ),
          ).toEqual([]);
      });
      const repairing = design.elements.some((e) => "breakdowns" in e && e.breakdowns.some((b) => b.anyOf.length > 0));
      if (!repairing)
        for (const id of ["crew", "kit"])
          expect([...frame.units[design.elements.findIndex((e) => e.id === id)]]).not.toContain(UNIT.busy);
    }),
    { numRuns: 300, seed: 8 },
  );
  expect(emptied).toBeGreaterThan(60);
  expect(little).toBeGreaterThan(15);
});
