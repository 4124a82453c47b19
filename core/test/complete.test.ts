import {
  callAt,
  checkExpression,
  completeExpression,
  compile,
  expressionScopes,
  help,
  signatureOf,
} from "../src/index.ts";
import { distributions } from "../src/random/distributions.ts";
import { functions } from "../src/expression/functions.ts";
import { numberOf, type Scope } from "../src/expression/index.ts";
import { TIME } from "../src/quantity/index.ts";
import { study } from "./study.ts";

const whole = study({
  types: [{ id: "t", name: "Visitor", attributes: [{ name: "weight", value: "3 kg" }] }],
  elements: [
    { id: "q", kind: "queue", name: "Ticket line", at: [0, 0] },
    { id: "s", kind: "station", name: "Desk", at: [5, 0], time: "1 min" },
  ],
  links: [],
});
const { withEntity, withoutEntity } = expressionScopes(whole, whole.designs[0]);
const labels = (source: string, scope: Scope = withEntity, words?: string[]) =>
  completeExpression(source, source.length, scope, words).options.map((o) => o.label);

test("at the beginning, and after an operator, names, functions and distributions may stand", () => {
  expect(labels("")).toEqual(expect.arrayContaining(["clock", "Ticket line", "Visitor", "entity", "if", "triangular"]));
  expect(labels("", withoutEntity)).not.toContain("entity");
  expect(labels("1 min + tri")).toContain("triangular");
  expect(labels("", withEntity, ["no limit"])[0]).toBe("no limit");
  expect(labels("1 + ", withEntity, ["no limit"])).not.toContain("no limit");
});

test("after a number units may stand, after a dot properties, after a value only what joins it to another", () => {
  expect(labels("5 ")).toEqual(expect.arrayContaining(["s", "min", "h", "m", "kg", "%"]));
  expect(labels("5 m")).toContain("min");
  expect(labels("24/")).toEqual(expect.arrayContaining(["h", "clock"]));
  expect(labels("3 km/")).toContain("h");
  expect(labels("TicketLine.")).toContain("length");
  expect(labels("`Ticket line`.le")).toContain("length");
  expect(labels("entity.")).toEqual(expect.arrayContaining(["type", "age", "weight"]));
  expect(labels("Desk.queue.")).toEqual(["length", "room"]);
  expect(labels("nothing.")).toEqual([]);
  expect(labels("entity.type is Visitor ")).toEqual(expect.arrayContaining(["and", "or"]));
  expect(labels("entity.type is Visitor ")).not.toContain("clock");
});

test("what is offered replaces the part of a word before it, and names are written so that they can be read", () => {
  const { from, options } = completeExpression("2 * Tick", 8, withEntity);
  expect(from).toBe(4);
  expect(options.find((o) => o.label === "Ticket line")!.insert).toBe("`Ticket line`");
  expect(options.find((o) => o.label === "exponential")).toMatchObject({ insert: "exponential(", detail: "(mean)" });
});

test("every function and distribution is told of in a sentence, with as many parameters as it takes", () => {
  for (const name of [...distributions.keys(), ...functions.keys(), "if", "discrete", "empirical"])
    expect(help.get(name)?.about).toMatch(/^\w.*\.$/);
  for (const [name, d] of distributions) expect(help.get(name)!.parameters).toHaveLength(d.parameters.length);
  expect(signatureOf(help.get("normal")!)).toBe("normal(mean, standard deviation, [lowest], [highest])");
});

test("the function at hand, and which of its parameters", () => {
  expect(callAt("triangular(1 min, 2", 19)).toMatchObject({ help: { name: "triangular" }, parameter: 1 });
  expect(callAt("max(1, min(2, 3), ", 18)).toMatchObject({ help: { name: "max" }, parameter: 2 });
  expect(callAt("discrete([1, 2], [", 18)).toMatchObject({ help: { name: "discrete" }, parameter: 1 });
  expect(callAt("(1 + 2", 6)).toBeUndefined();
  expect(callAt("max(1, 2) + 3", 13)).toBeUndefined();
});

test("a likely slip comes with what to write instead, and that is right", () => {
  const mend = (source: string) => {
    const found = checkExpression(source, withEntity, numberOf(TIME));
    if (found.ok) throw new Error("It is right.");
    const [{ start, end, fix }] = found.problems;
    return source.slice(0, start) + fix + source.slice(end);
  };
  for (const [wrong, right] of [
    ["5", "5 min"],
    ["2 + 3", "(2 + 3) * 1 min"],
    ["24/h", "exponential(2.5 min)"],
    ["exponentail(5 min)", "exponential(5 min)"],
    ["clok", "clock"],
    ["TicketLin.length * 1 min", "`Ticket line`.length * 1 min"],
    ["`Ticket line`.lenght * 1 min", "`Ticket line`.length * 1 min"],
  ]) {
    expect(mend(wrong)).toBe(right);
    expect(checkExpression(right, withEntity, numberOf(TIME)).ok).toBe(true);
  }
});

test("a problem of a setting carries its mend", () => {
  const one = study({ elements: [{ id: "s", kind: "station", name: "Desk", time: "5" }], links: [] });
  expect(compile(one).problems.find((p) => p.field === "time")).toMatchObject({ start: 0, end: 1, fix: "5 min" });
});
