import fc from "fast-check";
import { problemsOf, ran, set, values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

const variables = ["N", "Seq", "Sum"].map((name) => ({ id: name, name, value: "0" }));
const measures = ["Seq", "Sum"].map((name) => ({ id: name, name, kind: "average", value: name }));
const types = [
  {
    id: "t1",
    name: "Crate",
    attributes: [
      { name: "n", value: "0" },
      { name: "rank", value: "0" },
    ],
  },
];

/** Five come at once, numbered from 1; one is worked on at a time, for ten minutes; steps act at the fifth minute. */
function fiveInLine(where: Loose, steps: Loose[], more: Loose = {}) {
  const elements = [
    { id: "in", kind: "arrivals", between: "1000 min", first: "0 min", group: "5" },
    { id: "q", ...where },
    ...(where.kind === "station" ? [] : [{ id: "s", kind: "station", time: "10 min", room: "0" }]),
    { id: "out", kind: "departures" },
    ...(JSON.stringify([steps, more]).includes("away") ? [{ id: "away", kind: "departures" }] : []),
  ];
  const at = where.kind === "station" ? "q" : "s";
  return {
    elements,
    links: where.kind === "station" ? chain("in", "q", "out") : chain("in", "q", "s", "out"),
    types,
    variables,
    measures,
    run: { length: "100 min" },
    rules: [
      {
        of: "element",
        at: "q",
        event: "comes in",
        steps: [set(["N", "N + 1"], ["entity.n", "N"], ["entity.rank", "N"])],
      },
      { of: "element", at, event: "work starts", steps: [set(["Seq", "Seq * 10 + entity.n"])] },
      { of: "system", event: "once", first: "5 min", steps },
    ],
    ...more,
  };
}

const find = (more: Loose = {}) => ({ do: "find", which: "most", by: "w.n", at: "q", name: "w", ...more });

const PLACES: [string, Loose][] = [
  ["a queue", { kind: "queue" }],
  ["a queue with patience", { kind: "queue", patience: "10 h" }],
  ["a station with nothing else", { kind: "station", time: "10 min" }],
  ["a station with patience", { kind: "station", time: "10 min", patience: "10 h" }],
  ["a station with a setup", { kind: "station", time: "9 min", setup: "1 min" }],
  ["a queue in an order of its own", { kind: "queue", order: "smallest first", rank: "entity.rank" }],
  [
    "a station in an order of its own",
    { kind: "station", time: "10 min", order: "smallest first", rank: "entity.rank" },
  ],
];

describe.each(PLACES)("the line of %s", (_, where) => {
  test("is looked through in its order", () => {
    const each = { do: "each", name: "w", what: "q", steps: [set(["Sum", "Sum * 10 + w.n"])] };
    expect(values(fiveInLine(where, [each]))("Sum/end")).toBe(2345);
  });

  test.each([
    [{ which: "first", by: "" }, 2],
    [{ which: "last", by: "" }, 5],
    [{ which: "least", by: "abs(w.n - 4)" }, 4],
    [{ which: "most" }, 5],
    [{ which: "most", where: "w.n < 4" }, 3],
    [{ which: "first", by: "", where: "w.n > 9" }, 99],
  ])("gives the one that is asked for: %j", (more, found) => {
    const steps = [
      find(more),
      { do: "else", steps: [set(["Sum", "99"])] },
      { do: "if", condition: "Sum = 0", steps: [set(["Sum", "w.n"])] },
    ];
    expect(values(fiveInLine(where, steps))("Sum/end")).toBe(found);
  });

  test("has one put first, who is served next", () => {
    const value = values(fiveInLine(where, [find(), { do: "place", who: "w", to: "first" }]));
    expect(value("Seq/end")).toBe(15234);
    expect(value("t1/departed")).toBe(5);
  });

  test("has the first put last, and the second served next", () => {
    const value = values(fiveInLine(where, [find({ which: "first", by: "" }), { do: "place", who: "w", to: "last" }]));
    expect(value("Seq/end")).toBe(13452);
    expect(value("t1/departed")).toBe(5);
  });

  test.each([
    ["first", 1345],
    ["last", 1234],
  ])("lets the %s be taken out and sent elsewhere, with its wait", (which, order) => {
    const steps = [find({ which, by: "" }), { do: "take out", who: "w", to: "away" }];
    const value = values(fiveInLine(where, steps));
    expect(value("Seq/end")).toBe(order);
    expect(value("t1/departed")).toBe(5);
    expect(value("away/departed")).toBe(1);
    // Waits of 0, 10, 20, 30 minutes, and of five for who was taken out.
    expect(value("q/wait.mean")).toBeCloseTo(((0 + 10 + 20 + 30 + 5) * 60) / 5, 9);
    expect(value("q/line.end")).toBe(0);
  });

  test("cannot be asked for one that stands in it no more", () => {
    const late = [
      find({ which: "first", by: "" }),
      { do: "wait", time: "20 min" },
      { do: "place", who: "w", to: "first" },
    ];
    expect(ran(fiveInLine(where, late)).result.failure).toMatchObject({ code: "step-failed", field: "s3.who" });
  });
});

test.each([
  ["queue", { kind: "queue" }],
  ["station", { kind: "station", time: "10 min" }],
])("a %s in an order of its own looks at it again when steps say so", (_, kind) => {
  const where = { ...kind, order: "smallest first", rank: "entity.rank" };
  const change = [find(), set(["w.rank", "0"]), { do: "place", who: "w", to: "in order" }];
  expect(values(fiveInLine(where, change))("Seq/end")).toBe(15234);
  const back = [find({ which: "first", by: "" }), set(["w.rank", "4.5"]), { do: "place", who: "w", to: "in order" }];
  expect(values(fiveInLine(where, back))("Seq/end")).toBe(13425);
});

test("those at a gate are found, taken out and put first as well", () => {
  const gate = (steps: Loose[]) => {
    const model = fiveInLine({ kind: "gate", opens: "steps", atFirst: "shut" }, [...steps, set(["q.open", "yes"])]);
    return values({ ...model, elements: model.elements.map((e) => (e.id === "s" ? { ...e, room: "no limit" } : e)) });
  };
  expect(gate([find(), { do: "place", who: "w", to: "first" }])("Seq/end")).toBe(51234);
  expect(gate([find(), { do: "take out", who: "w", to: "away" }])("Seq/end")).toBe(1234);
});

test("a queue whose head waits for room that comes at this very instant lets nobody be lost or doubled", () => {
  // Steps act as the first is done, before and after the head has been given its place.
  for (const first of ["10 min", "20 min"])
    for (const to of ["first", "last"]) {
      const model = fiveInLine({ kind: "queue" }, [
        find({ which: to === "first" ? "last" : "first", by: "" }),
        { do: "place", who: "w", to },
      ]);
      const value = values({ ...model, rules: model.rules.map((r) => ("first" in r ? { ...r, first } : r)) });
      expect(value("t1/departed")).toBe(5);
      expect(String(value("Seq/end")).split("").sort().join("")).toBe("12345");
    }
});

test("one that is carried off from a line is set down with its attributes", () => {
  const model = fiveInLine({ kind: "queue" }, [], { note: "away" });
  const fetch = [
    { do: "find", which: "most", by: "w.n", at: "q", name: "w" },
    { do: "take out", who: "w", carry: true },
    { do: "wait", time: "3 min" },
    { do: "set down", to: "away" },
  ];
  const value = values({
    ...model,
    elements: [
      ...model.elements,
      { id: "van", kind: "arrivals", entityType: "t2", between: "1000 min", first: "5 min" },
      { id: "j", kind: "junction" },
    ],
    links: [...model.links, ...chain("van", "j", "out").map((l, i) => ({ ...l, id: `v${i}` }))],
    types: [...types, { id: "t2", name: "Lorry" }],
    rules: [
      ...model.rules.slice(0, 2),
      { of: "element", at: "j", event: "comes in", steps: fetch },
      { of: "element", at: "away", event: "comes in", steps: [set(["Sum", "if(entity.type is Crate, entity.n, 0)"])] },
    ],
  });
  expect(value("Sum/end")).toBe(5);
  expect(value("Seq/end")).toBe(1234);
  expect(value("t1/held.mean")).toBeCloseTo(180 / 5, 9);
});

test("what has no line is told", () => {
  const model = fiveInLine({ kind: "queue" }, [find({ at: "out" })]);
  const { failure } = ran(model).result;
  expect(failure?.message).toMatch(/named out, which has no line/);
});

describe("gathering", () => {
  const gathered = (step: Loose, more: Loose = {}) => ({
    elements: [
      { id: "in", kind: "arrivals", between: "1 min", first: "1 min", limit: "10" },
      { id: "j", kind: "junction" },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "j", "out"),
    types: [
      { id: "t1", name: "Crate", attributes: [{ name: "even", value: "N = 1 or N = 3 or N = 5 or N = 7 or N = 9" }] },
    ],
    variables,
    run: { length: "60 min" },
    rules: [
      { of: "entity type", at: "t1", event: "is born", steps: [set(["N", "N + 1"])] },
      { of: "element", at: "j", event: "comes in", steps: [{ do: "gather", place: "pallet", count: "4", ...step }] },
    ],
    ...more,
  });

  test("has the first of so many carry the others, which leave with it", () => {
    const value = values(gathered({}));
    // 1 to 4 at 4 min, 5 to 8 at 8 min; two wait to the end.
    expect(value("t1/departed")).toBe(8);
    expect(value("t1/inSystem.end")).toBe(2);
    expect(value("t1/waiting.mean")).toBeCloseTo((2 * (3 + 2 + 1 + 0) * 60) / 8, 9);
  });

  test("keeps those apart that differ", () => {
    const value = values(gathered({ key: "entity.even", count: "5" }));
    // The odd ones come at 1, 3, 5, 7, 9 min, the even ones up to 10 min.
    expect(value("t1/departed")).toBe(10);
    expect(value("t1/waiting.mean")).toBeCloseTo((2 * (8 + 6 + 4 + 2 + 0) * 60) / 10, 9);
  });

  test("for good leaves one of each group", () => {
    const value = values(gathered({ keeps: "for good" }));
    expect(value("t1/departed")).toBe(2);
    expect(value("t1/inSystem.end")).toBe(2);
  });

  test("wants a whole number", () => {
    expect(ran(gathered({ count: "2.5" })).result.failure).toMatchObject({ code: "invalid-count", field: "s1.count" });
  });

  test("is undone where what is carried is set down", () => {
    const model = gathered({});
    const value = values({
      ...model,
      elements: [...model.elements, { id: "store", kind: "departures" }],
      rules: [...model.rules, { of: "element", at: "j", event: "comes in", steps: [{ do: "set down", to: "store" }] }],
    });
    expect(value("store/departed")).toBe(6);
    expect(value("out/departed")).toBe(2);
  });
});

test("steps of lines say what is missing", () => {
  const codes = (steps: Loose[]) =>
    problemsOf(fiveInLine({ kind: "queue" }, steps)).map(({ code, field }) => `${code} ${field}`);
  expect(codes([{ do: "find", which: "first", at: "", name: "w" }])).toEqual(["empty-setting s1.at"]);
  expect(codes([{ do: "place", who: "", to: "last" }])).toEqual(["empty-setting s1.who"]);
  expect(codes([{ do: "gather", place: "x", count: "2" }])).toEqual(["misplaced-step s1.do"]);
});

test("nobody is lost or doubled, whoever is put elsewhere or taken out and whenever", () => {
  const act = fc.record({
    first: fc.integer({ min: 0, max: 60 }),
    which: fc.constantFrom("first", "last", "most", "least"),
    what: fc.constantFrom("first", "last", "in order", "out"),
  });
  fc.assert(
    fc.property(
      fc.constantFrom(...PLACES.map(([, where]) => where)),
      fc.array(act, { minLength: 1, maxLength: 8 }),
      fc.constantFrom("2", "no limit"),
      (where, acts, room) => {
        const model = fiveInLine(where, [], acts.some(({ what }) => what === "out") ? { note: "away" } : {});
        const rules = acts.map(({ first, which, what }) => ({
          of: "system",
          event: "every",
          first: `${first} min`,
          every: "10 min",
          steps: [
            { ...find({ which }), name: "w" },
            { do: "else", steps: [{ do: "end" }] },
            what === "out" ? { do: "take out", who: "w", to: "away" } : { do: "place", who: "w", to: what },
          ],
        }));
        const value = values({
          ...model,
          elements: model.elements.map((e) =>
            e.id === "in" ? { ...e, between: "7 min", group: "2" } : e.id === "q" ? { ...e, room } : e,
          ),
          rules: [...model.rules.slice(0, 2), ...rules],
        });
        const departed = value("t1/departed");
        expect(value("t1/created")).toBe(departed + value("t1/inSystem.end"));
        expect(departed).toBe(
          value("out/departed") + (acts.some(({ what }) => what === "out") ? value("away/departed") : 0),
        );
        expect(value("q/line.end")).toBeGreaterThanOrEqual(0);
      },
    ),
    { numRuns: 150, seed: 4 },
  );
});
