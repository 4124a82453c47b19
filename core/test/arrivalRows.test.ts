import { compile, fingerprint, readersOf, run, type Study, measuresOf } from "../src/index.ts";
import { chain, study } from "./study.ts";

const column = (id: string, holds: string, more: object = {}) => ({ id, name: id, holds, ...more });
const boats = {
  id: "boats",
  name: "Boats",
  columns: [
    column("due", "duration"),
    column("kind", "entity type"),
    column("size", "number"),
    column("share", "number"),
    column("many", "number", { default: "1" }),
  ],
  rows: [
    ["0:50", "Yawl", "3", "0.2", "2"],
    ["0:10", "Punt", "1", "0.5"],
    ["0:30", "Punt", "2", "0.3"],
  ],
};

const model = (arrivals: object, more: { tables?: object[] } = {}): Study =>
  study({
    types: ["Punt", "Yawl"].map((id) => ({ id, name: id, attributes: [{ name: "size", value: "9" }] })),
    elements: [
      { id: "in", kind: "arrivals", entityType: "Punt", ...arrivals },
      { id: "desk", kind: "station", capacity: "50", time: "entity.size * 1 min" },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "desk", "out"),
    run: { length: "20 h" },
    more: { tables: more.tables ?? [boats] },
  });

function figures(of: Study, replication = 1) {
  const { program, problems } = compile(of);
  if (!program) throw new Error(problems.map((p) => p.message).join("\n"));
  const result = run(program, { seed: 3, replication })!;
  const value = (key: string) => result.values[measuresOf(program).findIndex((m) => m.key === key)];
  return { value, values: [...result.values], failure: result.failure };
}

const byRow = { table: "boats", typeOf: "row.kind", sets: [{ id: "s", attribute: "size", value: "row.size" }] };

test("rows arrive at their times, each with its type, count and attributes", () => {
  const { value, failure } = figures(model({ by: "table", arrivesAt: "row.due", group: "row.many", ...byRow }));
  expect(failure).toBeUndefined();
  expect([value("Punt/departed"), value("Yawl/departed")]).toEqual([2, 2]);
  expect(value("Punt/timeInSystem.mean")).toBeCloseTo(90, 9);
  expect(value("Yawl/timeInSystem.mean")).toBeCloseTo(180, 9);
});

test("the whole list gives the bits of the same times written out, again in each replication", () => {
  const rows = boats.rows.map(([due]) => [due, "Punt", "4", "", "1"]);
  const fromTable = model({ by: "table", arrivesAt: "row.due", ...byRow }, { tables: [{ ...boats, rows }] });
  const written = model({
    by: "list",
    listed: "10 min, 30 min, 50 min",
    sets: [{ id: "s", attribute: "size", value: "4" }],
  });
  for (const replication of [1, 2]) {
    const [a, b] = [figures(fromTable, replication), figures(written, replication)];
    expect(a.values).toEqual(b.values);
  }
});

test("a row drawn by weight for each is a mix of the same shares, draw by draw", () => {
  const rows = [
    ["", "Punt", "9", "0.7"],
    ["", "Yawl", "9", "0.3"],
  ];
  const spaced = { between: "exponential(2 min)" };
  const drawn = model({ ...spaced, ...byRow, weight: "row.share" }, { tables: [{ ...boats, rows }] });
  const mixed = model({
    ...spaced,
    mix: [
      { id: "m1", entityType: "Punt", share: "70 %" },
      { id: "m2", entityType: "Yawl", share: "30 %" },
    ],
  });
  const streams = { between: 11, mix: 12 };
  for (const each of [drawn, mixed]) Object.assign(each.designs[0].elements[0], { streams });
  expect(figures(drawn).values).toEqual(figures(mixed).values);
  expect(figures(drawn).value("Yawl/created")).toBeGreaterThan(100);
});

test("rows one after another come round, and begin anew in each replication", () => {
  const of = model({ between: "1 h", ...byRow, takes: "in turn" });
  for (const replication of [1, 2]) {
    const { value } = figures(of, replication);
    // Twenty arrivals: rows 1, 2, 3 and so on, six times, then two more.
    expect([value("Yawl/created"), value("Punt/created")]).toEqual([7, 13]);
  }
});

test("an attribute may hold the row itself", () => {
  const of = model({
    by: "table",
    arrivesAt: "row.due",
    table: "boats",
    sets: [{ id: "s", attribute: "boat", value: "row" }],
  });
  for (const type of of.designs[0].entityTypes) type.attributes.push({ name: "boat", value: "Boats[1]" });
  Object.assign(of.designs[0].elements[1], { time: "entity.boat.size * 1 min" });
  expect(figures(of).value("Punt/timeInSystem.mean")).toBeCloseTo(120, 9);
});

test("an empty cell, weights of 0 and a type that no column says are told", () => {
  const empty = { ...boats, rows: [["0:10", "Punt", ""]] };
  expect(figures(model({ by: "table", arrivesAt: "row.due", ...byRow }, { tables: [empty] })).failure).toMatchObject({
    code: "no-value",
    id: "in",
    field: "sets.s.value",
    message: 'in: "Attributes given at birth: Value" reads a table. Row 1 of Boats has no size.',
  });
  const weightless = { ...boats, rows: [["", "Punt", "1", "0"]] };
  expect(
    figures(model({ between: "1 h", ...byRow, weight: "row.share" }, { tables: [weightless] })).failure?.message,
  ).toBe("The weights of the rows of Boats at in came to 0.");
  const said = (arrivals: object) => compile(model(arrivals)).problems.map((p) => `${p.field}: ${p.message}`);
  expect(said({ by: "table" })).toContain("table: in: nothing says of which table rows arrive.");
  expect(said({ table: "gone" })).toContain("table: in: the table it names does not exist.");
  expect(said({ between: "1 h", table: "boats", typeOf: "Punt" })).toContain(
    "typeOf: Type by row: no column of the table says it.",
  );
  expect(said({ between: "row.due", table: "" })[0]).toContain('Nothing here is called "row"');
});

test("the columns that arrivals take are uses of the table, and a run is of its cells", () => {
  const of = model({ by: "table", arrivesAt: "row.due", ...byRow });
  expect(readersOf("boats", compile(of).model).map(({ label }) => label)).toEqual([
    "Arrives at",
    "Type by row",
    "Value",
  ]);
  const print = fingerprint(of.designs[0], of.run, of);
  const other = { ...of.tables[0], rows: [...of.tables[0].rows, ["1:00", "Punt", "1"]] };
  expect(fingerprint(of.designs[0], of.run, { ...of, tables: [other] })).not.toBe(print);
  const unread = model({ between: "1 h" });
  expect(fingerprint(unread.designs[0], unread.run, { ...unread, tables: [other] })).toBe(
    fingerprint(unread.designs[0], unread.run, unread),
  );
});
