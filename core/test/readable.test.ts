import { compile, elementKinds, run, measuresOf } from "../src/index.ts";
import { chain, program, study } from "./build.ts";

type Loose = Record<string, unknown>;

/** Every kind of element, and every way in which one is lowered. */
const elements: Loose[] = [
  { id: "in", kind: "arrivals", between: "30 s" },
  { id: "queue", kind: "queue" },
  { id: "ranked", kind: "queue", order: "last come" },
  { id: "plain", kind: "station" },
  { id: "patient", kind: "station", patience: "1 h", balk: "plain.down > 3" },
  { id: "shifts", kind: "station", calendar: "c" },
  { id: "setup", kind: "station", setup: "1 s" },
  { id: "needs", kind: "station", needs: [{ id: "n", anyOf: ["crew"] }] },
  { id: "breaks", kind: "station", breakdowns: [{ id: "b" }] },
  { id: "batch", kind: "station", batchLeast: "1", batchMost: "2" },
  { id: "dwell", kind: "dwell" },
  { id: "place", kind: "place" },
  { id: "gate", kind: "gate", condition: "crew.free >= 0" },
  { id: "signal", kind: "gate", opens: "signal", signal: "in" },
  { id: "hours", kind: "gate", opens: "calendar", calendar: "c" },
  { id: "byHand", kind: "gate", opens: "steps", atFirst: "open" },
  { id: "stock", kind: "stock", onHand: "1000" },
  { id: "join", kind: "join", count: "1" },
  { id: "carried", kind: "join", count: "1", keeps: "to be undone" },
  { id: "split", kind: "split" },
  { id: "cut", kind: "split", does: "cut", count: "1" },
  { id: "junction", kind: "junction" },
  { id: "out", kind: "departures" },
  { id: "crew", kind: "crew", count: "3" },
  { id: "kit", kind: "equipment", breakdowns: [{ id: "b", clock: "busy time" }] },
  { id: "carts", kind: "vehicle", count: "2" },
];
const links = chain(
  "in",
  "queue",
  "ranked",
  "plain",
  "patient",
  "shifts",
  "setup",
  "needs",
  "breaks",
  "batch",
  "dwell",
  "place",
  "gate",
  "hours",
  "byHand",
  "stock",
  "join",
  "carried",
  "split",
  "cut",
  "junction",
  "out",
)
  .concat(chain("in", "signal", "out"))
  // Some are carried to where they leave.
  .map((link, i) => (i === 21 ? { ...link, kind: "carried", by: "carts" } : link));
const calendars = [
  { id: "c", name: "Shift", repeats: "pattern", fills: "1 h", pattern: [{ duration: "1 h", value: "1" }] },
];
const every = study({ elements, links, run: { length: "1 h" }, more: { calendars } });

test("the model has every kind", () => {
  expect(new Set(elements.map((e) => e.kind))).toEqual(new Set(Object.keys(elementKinds)));
});

const properties = elements.flatMap(({ id, kind }) =>
  Object.entries(elementKinds[kind as keyof typeof elementKinds].properties).map(([name, type]) => {
    const read = `${String(id)}.${name}`;
    return [type.kind === "yesNo" ? `if(${read}, 1, 0)` : read];
  }),
);

test.each(properties)("%s is read while running", (expression) => {
  const measures = [{ kind: "average" as const, id: "m", name: "Read", value: expression }];
  const p = program({ ...every, designs: [{ ...every.designs[0], measures }] });
  const { values, failure } = run(p, { seed: 1, replication: 1 })!;
  expect(failure).toBeUndefined();
  expect(values[measuresOf(p).findIndex((m) => m.key === "m/mean")]).toBeGreaterThanOrEqual(0);
});

test("what is not declared is a problem, and what is named is known", () => {
  const { problems } = compile({
    ...every,
    designs: [{ ...every.designs[0], measures: [{ kind: "average", id: "m", name: "Read", value: "plain.color" }] }],
  });
  expect(problems.map((p) => p.hint)).toEqual([expect.stringContaining(".offShift")]);
});
