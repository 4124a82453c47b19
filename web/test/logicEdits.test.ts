import {
  compile,
  type Design,
  elementKinds,
  everyStep,
  readStudy,
  type RuleOf,
  ruleSentence,
  type StepBase,
  stepKinds,
  writeName,
} from "@busy-harbor/core";
import { produce } from "immer";
import {
  isRule,
  addProcedure,
  addRule,
  copyOf,
  deleteOwner,
  deleteSteps,
  freshStep,
  handOn,
  indentStep,
  insertStep,
  outdentStep,
  ownerIn,
  placeOf,
  putStep,
  shiftStep,
} from "../src/logic/edits.ts";
import { READY_MADE } from "../src/logic/readyMade.ts";
import { emptyStudy } from "../src/state/edits.ts";

const study = () => {
  const read = readStudy(emptyStudy("Test"));
  if (!read.ok) throw new Error("An empty study cannot be read");
  return read.study;
};

const step = (id: string, steps?: StepBase[]): StepBase =>
  ({
    id,
    do: steps ? "if" : "log",
    streams: {},
    ...(steps ? { condition: "yes", steps } : { text: id, value: "" }),
  }) as unknown as StepBase;

/** A rule whose steps are a, b (c, d), e. */
const rule = (): RuleOf =>
  ({
    id: "r",
    steps: [step("a"), step("b", [step("c"), step("d")]), step("e")],
    event: "start",
    of: "system",
  }) as unknown as RuleOf;

const shape = (steps: readonly StepBase[]): string =>
  steps.map((s) => (s.steps ? `${s.id}(${shape(s.steps)})` : s.id)).join(" ");
const after = (edit: (owner: RuleOf) => unknown): string =>
  shape(produce(rule(), (draft) => void edit(draft as RuleOf)).steps);

test("steps are put behind one another, and under one that has none yet", () => {
  expect(after((o) => insertStep(o, "a", step("x")))).toBe("a x b(c d) e");
  expect(after((o) => insertStep(o, "c", step("x")))).toBe("a b(c x d) e");
  expect(after((o) => insertStep(o, undefined, step("x")))).toBe("a b(c d) e x");
  expect(after((o) => (o.steps[1].steps!.splice(0), insertStep(o, "b", step("x"))))).toBe("a b(x) e");
});

test("steps change their level, and stay where they cannot", () => {
  expect(after((o) => indentStep(o, "e"))).toBe("a b(c d e)");
  expect(after((o) => expect(indentStep(o, "a")).toBe(false))).toBe("a b(c d) e");
  expect(after((o) => outdentStep(o, "d"))).toBe("a b(c) d e");
  expect(after((o) => expect(outdentStep(o, "a")).toBe(false))).toBe("a b(c d) e");
});

test("steps move past one another, and out at either end; never under themselves", () => {
  expect(after((o) => shiftStep(o, "e", -1))).toBe("a e b(c d)");
  expect(after((o) => shiftStep(o, "c", -1))).toBe("a c b(d) e");
  expect(after((o) => shiftStep(o, "d", 1))).toBe("a b(c) d e");
  expect(after((o) => expect(shiftStep(o, "a", -1)).toBe(false))).toBe("a b(c d) e");
  expect(after((o) => putStep(o, "a", "d", true))).toBe("b(c d a) e");
  expect(after((o) => putStep(o, "e", "c", false))).toBe("a b(e c d)");
  expect(after((o) => putStep(o, "b", "c", false))).toBe("a b(c d) e");
});

test("deleting steps tells where to go on, and takes those under them along", () => {
  let next: string | undefined;
  expect(after((o) => (next = deleteSteps(o, ["b"])))).toBe("a e");
  expect(next).toBe("e");
  expect(after((o) => (next = deleteSteps(o, ["c", "d"])))).toBe("a b() e");
  expect(next).toBe("b");
});

test("a copy has ids and streams of its own", () => {
  const [, b] = rule().steps;
  const copy = copyOf({ ...b, streams: { condition: 7 } });
  const ids = [...everyStep([b, copy])].map(({ id }) => id);
  expect(new Set(ids).size).toBe(6);
  expect(copy.streams).toEqual({});
  expect(placeOf([copy], copy.steps![1].id)?.under?.step.id).toBe(copy.id);
});

test("every kind of step can be begun, and every common wish makes a rule that the file takes", () => {
  const made = study();
  const design = made.designs[0] as Design;
  for (const { kind } of stepKinds) expect(freshStep(kind, design).do).toBe(kind);
  for (const { make, label } of READY_MADE) {
    const id = make(design);
    const owner = ownerIn(design, id);
    expect({ label, isRule: owner !== undefined && isRule(owner) }).toEqual({ label, isRule: true });
  }
  // It is read without a throw, whatever is missing yet.
  expect(compile(made).problems.length).toBeGreaterThan(0);
});

test("an attribute of arrivals is given to those who arrive, and is told of no more", () => {
  const made = study();
  const design = made.designs[0] as Design;
  const arrivals = elementKinds.arrivals.schema.parse({
    id: "a",
    kind: "arrivals",
    name: "Quay",
    at: [0, 0],
    entityType: design.entityTypes[0].id,
    attributes: [{ name: "port", value: "3 kg" }],
  });
  design.elements.push(arrivals);
  const codes = () => compile(made).problems.map(({ code }) => code);
  expect(codes()).toContain("not-handed-on");
  handOn(design, arrivals.id, "port");
  expect(codes()).not.toContain("not-handed-on");
  expect(design.entityTypes[0].attributes).toContainEqual({ name: "port", value: "3 kg" });
  const rule = design.rules!.at(-1)!;
  expect(ruleSentence(rule, design)).toBe(
    `When an entity arrives at ${arrivals.name}: set entity.port to ${writeName(arrivals.name)}.port.`,
  );
});

test("procedures and rules are added and taken out; empty lists are none", () => {
  const design = study().designs[0] as Design;
  const [p, r] = [addProcedure(design), addRule(design, { event: "start", of: "system" })];
  expect(ownerIn(design, p)).toMatchObject({ name: "Procedure", parameters: [], steps: [] });
  deleteOwner(design, r);
  expect("rules" in design).toBe(false);
  deleteOwner(design, p);
  expect("procedures" in design).toBe(false);
});
