import fc from "fast-check";
import { values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

/** Settings of a station with everything that a line in front of one slot or several can have. */
const settings = fc.record({
  capacity: fc.integer({ min: 1, max: 3 }),
  between: fc.integer({ min: 3, max: 9 }),
  time: fc.integer({ min: 2, max: 12 }),
  setup: fc.boolean(),
  balk: fc.option(fc.integer({ min: 0, max: 5 }), { nil: undefined }),
  patience: fc.option(fc.integer({ min: 2, max: 40 }), { nil: undefined }),
  breaks: fc.boolean(),
});
type Settings = typeof settings extends fc.Arbitrary<infer S> ? S : never;

/** A station's setup is no time at work, but use of a piece of equipment: with it, the clock goes on always. */
const BREAKDOWNS = ({ breaks, setup }: Settings) =>
  breaks
    ? [
        {
          id: "b",
          clock: setup ? "clock time" : "busy time",
          every: "exponential(90 min)",
          repair: "exponential(15 min)",
        },
      ]
    : [];
/** The same draws in both: streams are given by number. */
const STREAMS = { "breakdowns.b.every": 21, "breakdowns.b.repair": 22 };

const arrivals = ({ between }: Settings) => ({
  id: "in",
  kind: "arrivals",
  between: `exponential(${between} min)`,
  streams: { between: 1 },
});

function asElement(of: Settings): ReturnType<typeof values> {
  return values({
    elements: [
      arrivals(of),
      {
        id: "s",
        kind: "station",
        capacity: String(of.capacity),
        time: `gamma(2, ${of.time / 2} min)`,
        setup: of.setup ? "triangular(10 s, 30 s, 90 s)" : "",
        balk: of.balk === undefined ? "" : `s.queue.length > ${of.balk}`,
        patience: of.patience === undefined ? "" : `exponential(${of.patience} min)`,
        breakdowns: BREAKDOWNS(of),
        streams: { time: 2, setup: 3, patience: 4, ...STREAMS },
      },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "s", "out"),
    run: { length: "2 d", warmUp: "2 h" },
  });
}

function asProcedure(of: Settings): ReturnType<typeof values> {
  const patience = of.patience === undefined ? "" : `exponential(${of.patience} min)`;
  const steps: Loose[] = [
    ...(of.balk === undefined
      ? []
      : [{ do: "if", condition: `e.free = 0 and e.line > ${of.balk}`, steps: [{ do: "remove", as: "lost" }] }]),
    { do: "claim", needs: [{ id: "n", anyOf: ["e"] }], patience, streams: { patience: 4 } },
    ...(patience ? [{ do: "else", steps: [{ do: "remove", as: "lost" }] }] : []),
    ...(of.setup ? [{ do: "wait", time: "triangular(10 s, 30 s, 90 s)", streams: { time: 3 } }] : []),
    { do: "wait", time: `gamma(2, ${of.time / 2} min)`, streams: { time: 2 } },
    { do: "free", what: ["e"] },
  ];
  return values({
    elements: [
      arrivals(of),
      { id: "j", kind: "junction" },
      { id: "out", kind: "departures" },
      { id: "e", kind: "equipment", count: String(of.capacity), breakdowns: BREAKDOWNS(of), streams: STREAMS },
    ],
    links: chain("in", "j", "out"),
    procedures: [{ id: "p", name: "Serve", steps }],
    rules: [{ of: "element", at: "j", event: "comes in", steps: [{ do: "call", procedure: "p" }] }],
    run: { length: "2 d", warmUp: "2 h" },
  });
}

test("a station with its line, setup, breakdowns, balking and patience, written as a procedure, has the same bits", () => {
  fc.assert(
    fc.property(settings, (drawn) => {
      // All slots of a station break down together, and each piece of equipment by itself.
      const of = drawn.breaks ? { ...drawn, capacity: 1 } : drawn;
      const [element, procedure] = [asElement(of), asProcedure(of)];
      for (const key of [
        "t1/created",
        "t1/departed",
        "t1/lost",
        "t1/inSystem.mean",
        "t1/inSystem.max",
        "t1/timeInSystem.mean",
        "t1/timeInSystem.p95",
        "t1/waiting.mean",
        "t1/worked.mean",
      ])
        expect([key, procedure(key)]).toEqual([key, element(key)]);
      expect(procedure("t1/departed")).toBeGreaterThan(20);
    }),
    { numRuns: 60, seed: 14 },
  );
});
