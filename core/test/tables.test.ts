import fc from "fast-check";
import {
  readStudy,
  renameCalendar,
  variableSchema,
  checkExpression,
  compile,
  completeExpression,
  expressionScopes,
  open,
  readersOf,
  rewritings,
  run,
  type Study,
  measuresOf,
} from "../src/index.ts";
import { chain, study } from "./study.ts";

type Cells = readonly (readonly string[])[];
const column = (id: string, holds: string, more: object = {}) => ({ id, name: id, holds, ...more });
const table = (name: string, columns: readonly object[], rows: Cells, more: object = {}) => ({
  id: name.toLowerCase(),
  name,
  columns,
  rows,
  ...more,
});

const kinds = table(
  "Kinds",
  [
    column("kind", "text"),
    column("time", "number", { unit: "min" }),
    column("share", "number"),
    column("heavy", "yes or no"),
    column("desk", "element"),
    column("work", "expression", { unit: "min" }),
    column("until", "duration"),
    column("due", "date"),
  ],
  [
    ["dinghy", "4", "0.5", "no", "Desk", "2 min", "1:30", "2026-06-24 08:00"],
    ["cutter", "0.5 h", "0.3", "yes", "Desk", "uniform(1 min, 3 min)", "45 min", "2026-06-25"],
    ["yawl", "12", "", "yes", "Desk", "entity.size * 1 min", "2 h", ""],
  ],
  { key: "kind" },
);
const sailing = table(
  "Sailing",
  [column("from", "text"), column("Quay", "number", { unit: "min" }), column("Isle", "number", { unit: "min" })],
  [
    ["Quay", "0", "25"],
    ["Isle", "30", "0"],
  ],
  { matrix: true },
);
const seen = table("Seen", [column("gap", "number", { unit: "s" })], [["10"], ["30"], [""], ["20"]]);

function model(time = "1 min", more: { tables?: object[]; attributes?: object[]; run?: object } = {}): Study {
  return study({
    types: [
      {
        id: "t1",
        name: "Customer",
        attributes: [{ name: "size", value: "3" }, { name: "kind", value: '"yawl"' }, ...(more.attributes ?? [])],
      },
    ],
    elements: [
      { id: "in", name: "In", kind: "arrivals", between: "10 min" },
      { id: "desk", name: "Desk", kind: "station", time },
      { id: "out", name: "Out", kind: "departures" },
    ],
    links: chain("in", "desk", "out"),
    run: { length: "1 h", start: "2026-06-24T06:00", ...more.run },
    more: { tables: more.tables ?? [kinds, sailing, seen] },
  });
}

const whole = model();
const { withEntity } = expressionScopes(whole, whole.designs[0]);
const constant = (source: string) => {
  const result = checkExpression(source, withEntity);
  return result.ok ? result.checked.constant : result.problems[0].message;
};
const refused = (source: string, scope = withEntity) => {
  const result = checkExpression(source, scope);
  if (result.ok) throw new Error(`${source} was accepted`);
  const [{ message, start, end }] = result.problems;
  return { message, at: source.slice(start, end) };
};
const problemsOf = (of: Study) => compile(of).problems.map(({ message, path }) => `${path.join(".")}: ${message}`);

describe("values of a table", () => {
  // Names of texts are told apart only where a whole model is compiled.
  const compiledValue = (source: string) => {
    const { program, problems } = compile(model("1 min", { attributes: [{ name: "x", value: source }] }));
    if (!program) throw new Error(problems.map((p) => p.message).join(" "));
    return program.model.types[0].attributes[2].value.constant;
  };

  test.each([
    ['Kinds["cutter"].time', 1800],
    ['Kinds["dinghy"].time + 1 min', 300],
    ['if(Kinds["cutter"].heavy, 1, 2)', 1],
    ['Kinds["dinghy"].until', 5400],
    ['Kinds["dinghy"].due', 7200],
    ['Kinds["cutter"].due', 18 * 3600],
    ['Kinds["dinghy"].work', 120],
    ['Sailing["Quay", "Isle"]', 1500],
    ['Sailing["Isle", "Quay"]', 1800],
    ["Seen[2].gap", 30],
    ["Seen.gap[4]", 20],
    ["sum(Seen.gap)", 60],
    ["mean(Seen.gap)", 20],
    ["least(Seen.gap)", 10],
    ["most(Seen.gap)", 30],
    ["count(Seen)", 4],
    ["count(Kinds, row.heavy)", 2],
    ["sum(Kinds.time, row.heavy)", 2520],
    ['first(Kinds, row.heavy and row.kind <> "cutter").time', 720],
    ["sum(Kinds.time, row.time > mean(Kinds.time))", 1800],
    ['sum(Kinds.share, row.kind = "nothing")', 0],
  ])("%s is %d, known beforehand", (source, value) => {
    expect(compiledValue(source)).toBeCloseTo(value, 9);
  });

  test("a key that no row has, an empty cell and a column that is not there are told at their place", () => {
    const ask = (source: string) => {
      const { problems } = compile(model(source));
      const [{ message, start, end, field }] = problems;
      return `${field}, ${source.slice(start, end)}: ${message}`;
    };
    expect(ask('Kinds["sloop"].time')).toBe('time, "sloop": Time: There is no row "sloop" in Kinds.');
    expect(ask('Kinds["yawl"].share * 1 min')).toBe(
      'time, Kinds["yawl"].share: Time: Row "yawl" of Kinds has no share.',
    );
    expect(ask('Sailing["Quay", "Reef"]')).toBe('time, "Reef": Time: There is no column "Reef" in Sailing.');
    expect(refused("Kinds[entity.kind].speed")).toMatchObject({ message: 'Kinds has no column "speed".' });
    expect(refused("Seen[5].gap")).toEqual({ message: "There is no row 5 in Seen.", at: "5" });
    expect(refused("Kinds[3].time")).toEqual({ message: "Kinds is asked by text; this is a plain number.", at: "3" });
    expect(refused("Kinds")).toMatchObject({ message: "This is a table, not a value." });
    expect(refused("mean(Seen.gap, row.gap > 1 h)")).toMatchObject({
      message: "No row of Seen has a value for the mean.",
    });
    expect(refused("sum(Kinds.kind)")).toMatchObject({ message: "Numbers are wanted here; this is text." });
    expect(refused("Sailing[1]").message).toContain("two keys are wanted");
  });

  test("completion offers the columns of a table, of its rows and of the row looked at", () => {
    const labels = (source: string) =>
      completeExpression(source, source.length, withEntity).options.map(({ label }) => label);
    for (const source of ["Seen.", "Seen[2].", "sum(Seen.gap, row."]) expect(labels(source)).toEqual(["gap"]);
    expect(labels("")).toEqual(expect.arrayContaining(["Kinds", "randomRow", "resample"]));
  });

  test("paths of a thousand steps are read to their end, without an overflow", () => {
    // Were each part of a path read once for every part after it, this would not end.
    expect(refused(`Seen[1]${".gap".repeat(900)}`).message).toContain("properties");
    expect(constant(`${"Seen[".repeat(60)}1${"]".repeat(60)}`)).toBeDefined();
  });
});

describe("while a model runs", () => {
  const busy = (of: Study, replication = 1) => {
    const { program, problems } = compile(of);
    if (!program) throw new Error(problems.map((p) => p.message).join(" "));
    const result = run(program, { seed: 5, replication })!;
    return { value: (key: string) => result.values[measuresOf(program).findIndex((m) => m.key === key)], result };
  };
  const same = (a: string, b: string, more: Parameters<typeof model>[1] = {}) => {
    const [first, second] = [busy(model(a, more)), busy(model(b, more))];
    expect(first.result.failure).toBeUndefined();
    expect([...first.result.values]).toEqual([...second.result.values]);
  };

  test("a time by the kind of each entity gives the bits of the time written out", () => {
    same("Kinds[entity.kind].time", "12 min");
    same("Kinds[entity.kind].work", "entity.size * 1 min");
    same('if(entity.age > 1 min, 1 min, Kinds["cutter"].work)', "if(entity.age > 1 min, 1 min, uniform(1 min, 3 min))");
  });

  test("a row held by an attribute is read by dots, and its cells as they are asked for", () => {
    const attributes = [{ name: "boat", value: "Kinds[entity.kind]" }];
    same("entity.boat.time", "12 min", { attributes });
    same("entity.boat.work + Kinds[entity.boat].time", "15 min", { attributes });
  });

  test("observations are drawn as they are, between them, or by a column of weights", () => {
    same("resample(Seen.gap)", "resample([10 s, 30 s, 20 s])");
    same("empirical(Seen.gap)", "empirical([10 s, 20 s, 30 s])");
    const mix = table(
      "Mix",
      [column("time", "number", { unit: "min" }), column("w", "number")],
      [
        ["1", "1"],
        ["2", "3"],
      ],
    );
    same("discrete(Mix.time, Mix.w)", "discrete([1 min, 2 min], [1, 3])", { tables: [mix] });
    same("randomRow(Mix.w).time", "discrete([1 min, 2 min], [1, 3])", { tables: [mix] });
    same("randomRow(Mix.w, row.time > 0 s).time", "discrete([1 min, 2 min], [1, 3])", { tables: [mix] });
    same("randomRow(Mix.w, row.time > 1 min).time", "2 min + 0 * uniform(0 s, 1 s)", { tables: [mix] });
  });

  test("rows looked for anew at each entity see what it has", () => {
    same("sum(Kinds.time, row.kind = entity.kind)", "12 min");
    same("count(Kinds, row.time > entity.size * 1 min) * 1 min", "3 min");
  });

  test("a key that no row has ends the replication, and says which, in which table and where", () => {
    const of = model('Kinds[if(entity.age >= 0 s, "sloop", entity.kind)].time');
    const { result } = busy(of);
    expect(result.failure).toMatchObject({
      code: "no-row",
      id: "desk",
      field: "time",
      message: 'Desk: "Time" reads a table. There is no row "sloop" in Kinds.',
    });
  });
});

describe("cells are checked", () => {
  test("each by what its column holds, at its place", () => {
    const bad = table(
      "Bad",
      [
        column("a", "number", { unit: "min", least: "1", most: "1 h", required: true }),
        column("b", "yes or no"),
        column("c", "element"),
        column("d", "date"),
        column("e", "expression", { unit: "min" }),
        column("f", "resource"),
        column("g", "entity type"),
        column("h", "number", { unit: "parsec" }),
      ],
      [
        ["0.5", "perhaps", "Dock", "24/6/2026", "3 m", "Desk", "Visitor", "1"],
        ["2 h", "yes", "desk", "2026-02-30", "1 min", "", "customer", ""],
        ["", "", "", "", "", "", "", ""],
        ["3 kg", "", "", "", "", "", "", ""],
      ],
    );
    const found = problemsOf(model("1 min", { tables: [bad] }));
    expect(found).toHaveLength(12);
    for (const said of [
      "tables.0.rows.0.0: Bad, row 1, a: 0.5 is below 1, the least.",
      "tables.0.rows.1.0: Bad, row 2, a: 2 h is above 1 h, the most.",
      "tables.0.rows.2.0: Bad, row 3, a: this must not be empty.",
      'tables.0.rows.3.0: Bad, row 4, a: "3 kg": This is a mass; a time is wanted.',
      'tables.0.rows.0.1: Bad, row 1, b: "perhaps": yes or no is wanted.',
      'tables.0.rows.0.2: Bad, row 1, c: "Dock": no element of this design is called so.',
      'tables.0.rows.0.5: Bad, row 1, f: "Desk": no resource of this design is called so.',
      'tables.0.columns.7: Bad, column h: "parsec" is not a unit.',
    ])
      expect(found).toContain(said);
  });

  test("a key is filled and stands once; names of tables are no names of others", () => {
    const twice = table("Twice", [column("k", "text")], [["a"], ["b"], ["a"], [""]], { key: "k" });
    expect(problemsOf(model("1 min", { tables: [twice, { ...twice, id: "x", name: "Desk" }] }))).toEqual(
      expect.arrayContaining([
        'tables.0.rows.2.0: Twice, row 3, k: "a" stands in row 1 already.',
        "tables.0.rows.3.0: Twice, row 4, k: this must not be empty.",
        'tables.1.name: "Desk" reads the same as the name of "Desk".',
      ]),
    );
  });

  test("a column of rows names those of a table before it", () => {
    const visits = table("Visits", [column("boat", "row", { of: "kinds" })], [["cutter"], ["sloop"]]);
    const of = model("Visits[1].boat.time", { tables: [kinds, visits] });
    expect(problemsOf(of)).toEqual(['tables.1.rows.1.0: Visits, row 2, boat: "sloop": Kinds has no such row.']);
    const { program } = compile(model("Visits[1].boat.time", { tables: [kinds, { ...visits, rows: [["cutter"]] }] }));
    expect(program?.model.nodes[1].settings.get("time")?.constant).toBe(1800);
  });

  test("an expression that reads an entity says so where none is at hand", () => {
    const of = model();
    Object.assign(of.designs[0].elements[0], { between: 'Kinds["yawl"].work' });
    expect(problemsOf(of)).toEqual([
      'designs.0.elements.0.between: Time between: Row "yawl" of Kinds has no work.',
      'tables.0.rows.2.5: Kinds, row 3, work: Nothing here is called "entity". No entity is at hand where this is read.',
    ]);
  });
});

test("a design's own version of a table holds for it alone", () => {
  const base = model("Kinds[entity.kind].time");
  const own = { ...base.tables[0], rows: base.tables[0].rows.map((cells, i) => (i === 2 ? ["yawl", "7"] : cells)) };
  const both: Study = { ...base, designs: [base.designs[0], { ...base.designs[0], id: "d2", tables: [own] }] };
  const busyOf = (design: string) => {
    const { program } = compile(both, design);
    const session = open(program!, { seed: 1, replication: 1 });
    session.advanceTo(3600);
    return session.values()[measuresOf(program!).findIndex((m) => m.key === "desk/utilization")];
  };
  expect(busyOf("d1")).toBeGreaterThan(0.8);
  expect(busyOf("d2")).toBeLessThan(0.6);
});

describe("names of a table, its columns and its keys reach their uses", () => {
  const of = model('Kinds["yawl"].time + sum(Kinds.time, row.heavy) * 0 + Sailing["Quay", "Isle"]', {
    attributes: [{ name: "boat", value: 'Kinds["yawl"]' }],
  });
  of.designs[0].elements.push({
    ...of.designs[0].elements[1],
    id: "d2",
    name: "Other",
    time: "entity.boat . time",
  } as never);
  const texts = (renamed: Omit<Parameters<typeof rewritings>[0], "table">) =>
    rewritings({ table: "kinds", ...renamed }, compile(of).model).map(
      ({ path, text }) => `${path.slice(2).join(".")} ${text}`,
    );

  test("all that read it are found", () => {
    expect(readersOf("kinds", compile(of).model).map(({ owner, label }) => `${owner}, ${label}`)).toEqual([
      "Desk, Time",
      "Other, Time",
      "Customer, boat",
    ]);
    expect(readersOf("seen", compile(of).model)).toEqual([]);
  });

  test("a table", () => {
    expect(texts({ to: "Boat kinds" })).toEqual([
      'elements.1.time `Boat kinds`["yawl"].time + sum(`Boat kinds`.time, row.heavy) * 0 + Sailing["Quay", "Isle"]',
      'entityTypes.0.attributes.2.value `Boat kinds`["yawl"]',
    ]);
  });

  test("a column, by a table, by a row looked at and by an attribute", () => {
    expect(texts({ column: "time", to: "work time" })).toEqual([
      'elements.1.time Kinds["yawl"].`work time` + sum(Kinds.`work time`, row.heavy) * 0 + Sailing["Quay", "Isle"]',
      "elements.3.time entity.boat . `work time`",
    ]);
    expect(texts({ column: "heavy", to: "big" })).toEqual([
      'elements.1.time Kinds["yawl"].time + sum(Kinds.time, row.big) * 0 + Sailing["Quay", "Isle"]',
    ]);
  });

  test("two attributes of the same text are both written, and so is the condition that ends a run", () => {
    const twice = model("1 min", {
      attributes: [
        { name: "a", value: 'Kinds["yawl"].time' },
        { name: "b", value: 'Kinds["yawl"].time' },
      ],
      run: { ends: "condition", condition: 'Desk.busy > count(Kinds, row.kind = "yawl")' },
    });
    const found = rewritings({ table: "kinds", to: "Boats" }, compile(twice).model);
    expect(found.map(({ path, text }) => `${path.slice(-4).join(".")} ${text}`)).toEqual([
      '0.attributes.2.value Boats["yawl"].time',
      '0.attributes.3.value Boats["yawl"].time',
      'run.condition Desk.busy > count(Boats, row.kind = "yawl")',
    ]);
  });

  test("a key, and the column of a matrix", () => {
    expect(texts({ row: 2, to: "ketch" })[1]).toBe('entityTypes.0.attributes.2.value Kinds["ketch"]');
    expect(
      rewritings({ table: "sailing", column: "Isle", to: "Reef" }, compile(of).model).map(({ text }) => text),
    ).toEqual(['Kinds["yawl"].time + sum(Kinds.time, row.heavy) * 0 + Sailing["Quay", "Reef"]']);
  });
});

test("a column names calendars, which are there, and goes along when one is called otherwise", () => {
  const crews = table(
    "Crews",
    [column("crew", "text"), column("hours", "calendar")],
    [
      ["North", "Mornings"],
      ["South", "nights"],
      ["West", "Evenings"],
    ],
    { key: "crew" },
  );
  const calendars = ["Mornings", "Nights"].map((name) => ({ id: name, name, rows: [] }));
  const of = readStudy({ ...model("1 min", { tables: [crews] }), calendars });
  if (!of.ok) throw new Error(of.problems[0].message);
  const told = compile(of.study).problems.filter(({ id }) => id === "crews");
  expect(told.map(({ field, message }) => [field, message])).toEqual([
    ["cell.2.hours", 'Crews, row 3, hours: "Evenings": no calendar is called so.'],
  ]);
  const scope = expressionScopes(of.study, of.study.designs[0]).withoutEntity;
  const same = checkExpression('Crews["North"].hours = "Mornings"', scope);
  expect(same.ok && same.checked.constant).toBe(1);
  expect(renameCalendar(of.study.tables, "Nights", "Late shift")).toBe(1);
  expect(of.study.tables[0].rows.map(([, hours]) => hours)).toEqual(["Mornings", "Late shift", "Evenings"]);
});

test("no expression with tables and variables makes the checker throw, and every error has a place", () => {
  const variables = [
    { id: "stock", name: "Stock", value: "row.time", table: "kinds" },
    { id: "plan", name: "Plan", value: "[1, 2, 3]" },
    { id: "limit", name: "Limit", value: "2.5 min" },
    { id: "chosen", name: "Chosen", value: 'Kinds["yawl"]' },
  ];
  const of = { ...whole, variables: variables.map((variable) => variableSchema.parse(variable)) };
  const names = expressionScopes(of, of.designs[0]).withEntity;
  const words = fc.constantFrom(
    ...[
      "Kinds",
      "Sailing",
      "Seen",
      "row",
      "entity",
      "Nothing",
      "Stock",
      "Plan",
      "Limit",
      "Chosen",
      "clock",
      '"yawl"',
      '"Quay"',
      "1",
      "2.5 min",
      "time",
      "gap",
    ],
    ...[
      "[",
      "]",
      "[",
      "]",
      ".",
      ".",
      "(",
      ")",
      ",",
      "+",
      "=",
      "<>",
      "and",
      "kind",
      "heavy",
      "work",
      "desk",
      "size",
      "boat",
    ],
    ...["sum(", "mean(", "least(", "count(", "first(", "randomRow(", "empirical(", "resample(", "discrete(", "if("],
  );
  const draws = { uniform: () => () => 0.4, exponential: (mean: number) => () => mean };
  let checkedWell = 0;
  fc.assert(
    fc.property(fc.array(words, { minLength: 1, maxLength: 14 }), (parts) => {
      const source = parts.join("");
      const result = checkExpression(source, names);
      if (!result.ok) {
        for (const { start, end, message } of result.problems)
          if (!(start >= 0 && end > start && end <= Math.max(source.length, start + 1) && message !== ""))
            throw new Error(`${source}: ${message} at ${start} to ${end}`);
        return;
      }
      checkedWell += 1;
      // What is known beforehand needs nothing of a model.
      if (result.checked.sources.length === 0) {
        const environment = { running: { part: () => neverAsked() }, random: () => draws, fault: () => undefined };
        if (typeof result.checked.compile(environment)(0) !== "number") throw new Error(source);
      }
    }),
    { numRuns: FUZZED, seed: 3 },
  );
  expect(checkedWell).toBeGreaterThan(FUZZED / 200);
});

/** A million with `FUZZ=1000000`. */
const FUZZED = Number(process.env.FUZZ ?? 20_000);
const neverAsked = (): never => {
  throw new Error("Nothing runs here.");
};
