import {
  assignStreams,
  checkExpression,
  compile,
  differences,
  expressionScopes,
  fingerprint,
  randomSources,
  readersOf,
  readStudyText,
  renameVariable,
  rewritings,
  run,
  type Study,
  takeOver,
  writeStudy,
  measuresOf,
} from "../src/index.ts";
import { chain, study } from "./study.ts";

type Loose = Record<string, unknown>;
const variable = (name: string, value: string, more: Loose = {}) => ({ id: name.toLowerCase(), name, value, ...more });
const KINDS = {
  id: "kinds",
  name: "Kinds",
  key: "kind",
  columns: [
    { id: "kind", name: "kind", holds: "text" },
    { id: "time", name: "time", unit: "min" },
    { id: "work", name: "work", holds: "expression", unit: "min" },
  ],
  rows: [
    ["cutter", "3", "2 min"],
    ["yawl", "5", "1 min"],
  ],
};
/** One arrival every 10 min from the start on, a station, and variables. */
const withVariables = (variables: unknown[], time: string, station: Loose = {}): Study =>
  assignStreams(
    study({
      elements: [
        { kind: "arrivals", id: "a", name: "A", between: "10 min", first: "0 min" },
        { kind: "station", id: "s", name: "S", time, ...station },
        { kind: "departures", id: "d", name: "D" },
      ],
      links: chain("a", "s", "d"),
      run: { length: "100 min", warmUp: "0 min" },
      more: { variables, tables: [KINDS] },
    }),
  );
const messages = (s: Study) => compile(s).problems.map(({ message, path }) => `${message} @${path.join(".")}`);
function figure(s: Study, key: string, replication = 1): number {
  const { program } = compile(s);
  if (!program) throw new Error(messages(s).join("\n"));
  const result = run(program, { seed: 3, replication })!;
  if (result.failure) throw new Error(result.failure.message);
  return result.values[measuresOf(program).findIndex((m) => m.key === key)];
}
const busy = (s: Study, replication = 1) => figure(s, "s/state.busy", replication);
const scopeOf = (s: Study) => expressionScopes(s, s.designs[0]).withoutEntity;
const constant = (s: Study, text: string) => {
  const found = checkExpression(text, scopeOf(s));
  return found.ok ? found.checked.constant : found.problems[0].message;
};

test("one value is read by its name, with its unit, and known beforehand where it is fixed", () => {
  const s = withVariables([variable("Times", "4 min"), variable("Desks", "1")], "Times", { capacity: "Desks" });
  expect(messages(s)).toEqual([]);
  expect(busy(s)).toBeCloseTo(0.4, 12);
  expect(busy(withVariables([], "4 min"))).toBe(busy(s));
  expect(constant(s, "Times / 2 + 1 min")).toBe(180);
  expect(constant(s, "Times + Desks")).toMatch(/cannot be added/);
  // A slip in what is fixed is found where it is used, before anything runs.
  expect(messages(withVariables([variable("Times", "-4 min")], "Times")).join()).toContain("this is negative");
  expect(messages(withVariables([variable("Times", "4")], "Times")).join()).toContain("a time is wanted");
});

test("text, yes or no, an entity type and a row are values too, and a variable knows those before it", () => {
  const s = withVariables(
    [
      variable("Kind", '"yawl"'),
      variable("Rushed", "no"),
      variable("Row", "Kinds[Kind]"),
      variable("Longest", "most(Kinds.time) + Row.time"),
    ],
    "if(Rushed, 1 min, Kinds[Kind].time)",
  );
  // A variable cannot be called as the row that is looked at.
  expect(messages(s)).toEqual([
    '"Row" reads the same as the name of the row that is looked at. @variables.2.name',
    expect.stringContaining("Longest: "),
  ]);
  const better = withVariables(
    [
      variable("Kind", '"yawl"'),
      variable("Rushed", "no"),
      variable("Chosen", "Kinds[Kind]"),
      variable("Longest", "most(Kinds.time) + Chosen.time"),
    ],
    "if(Rushed, 1 min, Chosen.time)",
  );
  expect(messages(better)).toEqual([]);
  expect(busy(better)).toBeCloseTo(0.5, 12);
  expect(constant(better, "Longest")).toBe(600);
});

test("a list is asked by position, and drawn from", () => {
  const s = withVariables([variable("Seen", "[2 min, 4 min, 9 min]")], "Seen[2]");
  expect(busy(s)).toBeCloseTo(0.4, 12);
  expect(constant(s, "Seen[3]")).toBe(540);
  expect(constant(s, "Seen[4]")).toBe("This has no finite value.");
  const drawn = withVariables([variable("Seen", "[2 min, 2 min]")], "resample(Seen)");
  expect(busy(drawn)).toBeCloseTo(0.2, 12);
  expect(messages(withVariables([variable("Seen", "[exponential(2 min)]")], "1 min"))).toEqual([
    "Seen: the values of a list are fixed. @variables.0.value",
  ]);
});

test("one for each row of a table is asked by its keys, and folded", () => {
  const s = withVariables(
    [variable("Spare", "row.time / 2", { table: "kinds" }), variable("Same", "7 min", { table: "kinds" })],
    'Spare["yawl"]',
  );
  expect(messages(s)).toEqual([]);
  expect(busy(s)).toBeCloseTo(0.25, 12);
  expect(constant(s, "sum(Spare)")).toBe(240);
  expect(constant(s, 'most(Spare, row.kind <> "yawl")')).toBe(90);
  expect(constant(s, 'Same["cutter"]')).toBe(420);
  expect(constant(s, 'Same["sloop"]')).toBe('There is no row "sloop" in Kinds.');
  expect(constant(s, "Same[1, 2]")).toBe("Same wants one key of Kinds in the brackets.");
  // Asked by a key that is known only as the model runs.
  const late = withVariables(
    [variable("Spare", "row.time", { table: "kinds" })],
    'Spare[if(clock < 50 min, "cutter", "yawl")]',
  );
  expect(busy(late)).toBeCloseTo((5 * 3 + 5 * 5) / 100, 12);
  expect(messages(withVariables([variable("Spare", "row.none", { table: "kinds" })], "1 min"))[0]).toContain(
    'Spare, row 1 of Kinds: Kinds has no column "none".',
  );
  expect(messages(withVariables([variable("Spare", "1", { table: "gone" })], "1 min"))).toEqual([
    "Spare: its table does not exist. @variables.0.value",
  ]);
});

test("one that is drawn has one value a replication, from a stream of its own, whatever else draws", () => {
  const drawn = (time: string, value = "uniform(1 min, 3 min)") => withVariables([variable("Times", value)], time);
  const s = drawn("Times");
  const shares = [1, 2, 3, 4].map((replication) => busy(s, replication));
  expect(new Set(shares).size).toBe(4);
  for (const share of shares) expect(share >= 0.1 && share <= 0.3).toBe(true);
  // Twice the value is twice the share, exactly: it is the same draw wherever it is read.
  expect(busy(drawn("Times + Times"), 3)).toBeCloseTo(2 * shares[2], 12);
  expect(randomSources(compile(s).model).map(({ owner, label, path }) => [owner, label, path.join(".")])).toEqual([
    ["Times", "First value", "variables.0.streams.value"],
  ]);
  // Its mean over replications, by the interval that holds it in all but one of a million.
  const means = Array.from({ length: 400 }, (_, i) => busy(s, i + 1));
  const mean = means.reduce((sum, v) => sum + v, 0) / 400;
  expect(Math.abs(mean - 0.2)).toBeLessThan((4.9 * 0.2) / Math.sqrt(12) / Math.sqrt(400));
  // A replication is the same whichever ran before it in the session.
  expect(busy(s, 2)).toBe(shares[1]);
});

test("measured over time it is what it was all along, drawn for each replication", () => {
  const s = withVariables([variable("Times", "uniform(1 min, 3 min)")], "Times");
  s.designs[0].measures.push({ kind: "average", id: "m", name: "Times", value: "Times" });
  for (const replication of [1, 2, 3]) {
    const drawn = busy(s, replication) * 600;
    expect(figure(s, "m/mean", replication)).toBeCloseTo(drawn, 8);
    expect(figure(s, "m/end", replication)).toBeCloseTo(drawn, 8);
  }
});

test("a first value reads nothing that happens, and slips are told with their places", () => {
  const told = (value: string) => messages(withVariables([variable("Times", value)], "1 min"));
  expect(told("clock")[0]).toContain("Times: a first value is known before anything happens. @variables.0.value");
  expect(told("S.queue.length")[0]).toContain("a first value is known before anything happens");
  expect(told("")[0]).toContain("Times has no first value.");
  expect(told("Later")[0]).toContain('Nothing here is called "Later"');
  expect(told("Kinds")[0]).toContain("This is a table, not a value.");
  const twice = withVariables([variable("S", "1"), variable("kinds", "1"), variable("Clock", "2")], "1 min");
  expect(messages(twice).map((m) => m.slice(0, 44))).toEqual([
    '"S" reads the same as the name of "S". @vari',
    '"kinds" reads the same as the name of "Kinds',
    '"Clock" reads the same as the name of the cl',
  ]);
});

test("a design has a first value of its own, which is a difference that can be taken over", () => {
  const s = withVariables([variable("Times", "4 min")], "Times");
  const other = structuredClone(s.designs[0]);
  Object.assign(other, { id: "other", name: "Faster", variables: [{ variable: "times", value: "2 min" }] });
  s.designs.push(other);
  const { program } = compile(s, "other");
  const at = measuresOf(program!).findIndex((m) => m.key === "s/state.busy");
  expect(run(program!, { seed: 3, replication: 1 })!.values[at]).toBeCloseTo(0.2, 12);
  expect(busy(s)).toBeCloseTo(0.4, 12);
  const found = differences(s.designs[0], s.designs[1], s.variables);
  expect(found.map(({ sentence }) => sentence)).toEqual(["Times: 4 min becomes 2 min."]);
  takeOver(found[0], s.designs[1], s.designs[0]);
  expect(busy(s)).toBeCloseTo(0.2, 12);
  s.designs[0].variables![0].value = "2 mi";
  expect(messages(s).join()).toContain("@designs.0.variables.0.value");
});

test("a new name is written wherever it is read, and so are those of tables in first values", () => {
  const s = withVariables([variable("Times", "4 min"), variable("Twice", "2 * Times")], "Times + Twice");
  s.run.condition = "Times > 1 min";
  s.tables[0].rows[0][2] = "Times * 2";
  expect(renameVariable(s, "Times", "Work time")).toBe(4);
  s.variables![0].name = "Work time";
  expect(s.variables![1].value).toBe("2 * `Work time`");
  expect((s.designs[0].elements[1] as unknown as Loose).time).toBe("`Work time` + Twice");
  expect(s.tables[0].rows[0][2]).toBe("`Work time` * 2");
  expect(s.run.condition).toBe("`Work time` > 1 min");
  expect(busy(s)).toBeGreaterThan(0.99);

  const row = withVariables([variable("Times", 'Kinds["yawl"].time')], "Times");
  const { model } = compile(row);
  expect(readersOf("kinds", model).map(({ owner }) => owner)).toEqual(["Times"]);
  expect(rewritings({ table: "kinds", row: 1, to: "sloop" }, model)).toEqual([
    { path: ["variables", 0, "value"], text: 'Kinds["sloop"].time' },
  ]);
});

test("a run is out of date when a variable that it reads has changed, and only then", () => {
  const print = (variables: unknown[], time: string) => {
    const s = withVariables(variables, time);
    return fingerprint(s.designs[0], s.run, s);
  };
  const base = print([variable("Times", "Base"), variable("Base", "4 min"), variable("Idle", "1")], "Times");
  expect(print([variable("Times", "Base"), variable("Base", "5 min"), variable("Idle", "1")], "Times")).not.toBe(base);
  expect(print([variable("Times", "Base"), variable("Base", "4 min"), variable("Idle", "2")], "Times")).toBe(base);
});

test("a study with variables is written and read again as it was", () => {
  const s = withVariables([variable("Times", "uniform(1 min, 3 min)", { note: "as the foreman says" })], "Times");
  const read = readStudyText(writeStudy(s));
  expect(read.ok && read.study).toEqual(s);
});
