import { readSteps, stepKinds, stepsText } from "../src/index.ts";
import { logicStudy, numbered } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

const design = logicStudy({
  elements: [
    { id: "in", kind: "arrivals", between: "10 min" },
    { id: "q", kind: "queue", name: "Line" },
    { id: "out", kind: "departures", name: "Way out" },
    { id: "c", kind: "crew", name: "Porters" },
    { id: "e", kind: "equipment", name: "Cart" },
    { id: "rope", kind: "stock", name: "Rope", policy: "none" },
  ],
  links: chain("in", "q", "out"),
  measures: [{ id: "m", kind: "recorded", name: "Times" }],
  procedures: [{ name: "Weigh", parameters: [{ id: "a", name: "limit" }] }],
}).designs[0];

/** Steps without their ids, which mean nothing in a text. */
const bare = (steps: readonly unknown[]): unknown =>
  JSON.parse(JSON.stringify(steps, (key, value: unknown) => (key === "id" || key === "streams" ? undefined : value)));

const parse = (steps: Loose[]) => {
  const study = logicStudy({
    elements: [],
    links: [],
    procedures: [{ name: "P", steps }],
  });
  return study.designs[0].procedures![0].steps;
};

test("what is written as text is read as the same steps, those under others too", () => {
  const steps = parse([
    {
      do: "set",
      values: [
        { id: "a", what: "entity.n", to: "N + 1" },
        { id: "b", what: "N", to: '"to b"' },
      ],
      note: "counts",
    },
    { do: "wait", time: "exponential(3 min)", as: "waiting" },
    {
      do: "if",
      condition: "entity.n > 3",
      steps: [
        { do: "claim", needs: [{ id: "n", anyOf: ["c", "e"], count: "2" }], patience: "3 min" },
        {
          do: "claim",
          needs: [{ id: "n", anyOf: ["c"], count: "1", which: "entity.crew", can: "who.welding >= 2" }],
        },
        { do: "else", steps: [{ do: "send", to: "`Way out`" }] },
        { do: "times", count: "3", name: "i", steps: [{ do: "log", text: "time", value: "i", off: true }] },
      ],
    },
    { do: "else", steps: [{ do: "take from stock", stock: "rope", amount: "2" }] },
    { do: "set down", to: "`Way out`" },
    { do: "find", which: "most", by: "w.n", at: "Line", name: "w", where: "w.n < 3" },
    { do: "place", who: "w", to: "last" },
    { do: "write", table: "Trips", values: [{ id: "a", column: "n", to: "entity.n" }] },
    { do: "record", value: "3", measure: "m" },
    { do: "call", procedure: "p1", args: [{ id: "a", value: "3 kg" }], alongside: true },
    { do: "free", what: [] },
    { do: "end" },
  ]);
  const text = stepsText(steps, design);
  const read = readSteps(text, design);
  expect(read.ok ? "all read" : read.text).toBe("all read");
  expect(read.ok && bare(read.steps)).toEqual(bare(steps));
  expect(read.ok && stepsText(read.steps, design)).toBe(text);
});

test("every kind of step reads what it writes, as it is new", () => {
  for (const { kind } of stepKinds) {
    const [step] = parse(numbered([{ do: kind }]));
    const text = stepsText([step], design);
    const read = readSteps(text, design);
    expect(`${kind}: ${read.ok ? stepsText(read.steps, design) : "unread"}`).toBe(`${kind}: ${text}`);
    expect(`${kind}: ${read.ok ? read.steps[0].do : ""}`).toBe(`${kind}: ${kind}`);
  }
});

test("a text that is not of steps says which line is none", () => {
  expect(readSteps("Wait 3 min\n\nDance about", design)).toEqual({ ok: false, line: 3, text: "Dance about" });
  expect(readSteps("Wait 3 min\n    Wait 4 min", design)).toEqual({ ok: false, line: 2, text: "Wait 4 min" });
  expect(readSteps("Record 3 in Nothing", design)).toEqual({ ok: false, line: 1, text: "Record 3 in Nothing" });
});
