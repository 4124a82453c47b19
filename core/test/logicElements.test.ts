import { compile, readStudyText, run } from "../src/index.ts";
import { at, ended, line, logicStudy, N, problemsOf, ran, set, system, values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

describe("attributes of elements", () => {
  const shop = (more: Loose = {}) =>
    line({
      elements: [
        { id: "in", kind: "arrivals", between: "10 min", first: "1 min" },
        { id: "j", kind: "junction" },
        {
          id: "b",
          kind: "station",
          name: "Bay",
          time: "1 min",
          family: { table: "bays" },
          attributes: [
            { name: "served", value: "0" },
            { name: "limit", value: "row.most" },
          ],
        },
        { id: "out", kind: "departures", attributes: [{ name: "last", value: "0 min" }] },
      ],
      links: [
        { from: "in", to: "j" },
        { from: "j", to: "b", among: "named", member: "Bay[1 + N mod 2]" },
        { from: "b", to: "out" },
      ],
      variables: N,
      tables: [
        {
          id: "bays",
          name: "Bays",
          key: "name",
          columns: [
            { id: "name", name: "name", holds: "text" },
            { id: "most", name: "most" },
          ],
          rows: [
            ["North", "3"],
            ["South", "7"],
          ],
        },
      ],
      ...more,
    });

  test("are each member's own, set by number or key, followed and measured", () => {
    const value = values(
      shop({
        measures: [
          ended("n", 'Bay["North"].served'),
          ended("s", "Bay[2].served"),
          ended("l", "out.last"),
          ended("m", "Bay[2].limit"),
        ],
        rules: [
          at("j", "comes in", [set(["N", "N + 1"])]),
          at("b", "comes in", [set(["Bay[1 + N mod 2].served", "Bay[1 + N mod 2].served + 1"])]),
          at("out", "comes in", [set(["out.last", "clock"])]),
        ],
      }),
    );
    expect([value("n/end"), value("s/end"), value("m/end")]).toEqual([5, 5, 7]);
    expect(value("l/end")).toBe(92 * 60);
  });

  test("are no attributes of the entities made there, which is told; and must be told from what an element has", () => {
    const codes = (attributes: Loose[]) =>
      problemsOf(line({ elements: [{ id: "in", kind: "arrivals", attributes }, ...line().elements.slice(1)] })).map(
        ({ code, severity }) => `${severity} ${code}`,
      );
    expect(codes([{ name: "port", value: "3" }])).toEqual(["warning not-handed-on"]);
    expect(codes([{ name: "created", value: "3" }])).toContain("error duplicate-name");
    expect(codes([{ name: "port", value: "uniform(1, 2)" }])).toContain("error not-fixed");
  });
});

describe("more events", () => {
  test("of lines: joining, giving up; of stations: setup; of all: blocked", () => {
    const counted = ["joins the line", "gives up", "setup starts", "work starts", "is blocked"];
    const value = values({
      elements: [
        { id: "in", kind: "arrivals", between: "1 min", first: "0 min" },
        { id: "s", kind: "station", time: "3 min", setup: "30 s", patience: "2 min", room: "no limit" },
        { id: "t", kind: "station", time: "10 min", room: "0" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "t", "out"),
      variables: counted.map((_, i) => ({ id: `v${i}`, name: `V${i}`, value: "0" })),
      measures: counted.map((_, i) => ended(`m${i}`, `V${i}`)),
      rules: counted.map((event, i) => at("s", event, [set([`V${i}`, `V${i} + 1`])])),
      run: { length: "20.5 min" },
    });
    const [joins, givesUp, setups, starts, blocked] = counted.map((_, i) => value(`m${i}/end`));
    // Work is done from 0 to 3.5 min; then it is for 10 min at the next, which lets in another at 13.5 min.
    expect(joins).toBe(20);
    expect(givesUp).toBe(value("s/gaveUp"));
    expect([setups, starts]).toEqual([value("s/setups"), value("s/setups")]);
    expect(blocked).toBe(2);
  });
});

test.each([1, 3, 12])("every %d-th is opened and weighed again: the mean time follows by hand", (n) => {
  const value = values(
    line({
      variables: [...N, { id: "every", name: "Every", value: String(n) }],
      rules: [
        at("j", "comes in", [
          set(["N", "N + 1"]),
          { do: "if", condition: "N mod Every = 0", steps: [{ do: "wait", time: "6 min" }] },
        ]),
      ],
      run: { length: "245 min" },
    }),
  );
  // 25 come, at 1, 11 … 241 min, and one in n of them stays for six minutes: with n = 1 the last is held at the end.
  expect(value("t1/departed")).toBe(n === 1 ? 24 : 25);
  expect(value("t1/timeInSystem.mean")).toBeCloseTo(
    (Math.floor((n === 1 ? 24 : 25) / n) * 360) / (n === 1 ? 24 : 25),
    9,
  );
});

describe("gates that steps open", () => {
  const gate = (atFirst: string) => ({
    elements: [
      { id: "in", kind: "arrivals", between: "10 min", first: "0 min" },
      { id: "g", kind: "gate", opens: "steps", atFirst },
      { id: "out", kind: "departures" },
    ],
    links: chain("in", "g", "out"),
    rules: [
      system("once", [set(["g.open", "yes"])], { first: "25 min" }),
      system("once", [set(["g.open", "no"])], { first: "45 min" }),
    ],
    run: { length: "99 min" },
  });

  test("let all pass that wait when they are opened, and hold those who come when they are shut", () => {
    const value = values(gate("shut"));
    // Those of 0, 10, 20 min pass at 25, those of 30 and 40 at once; 50 … 90 are held.
    expect(value("t1/departed")).toBe(5);
    expect(value("g/line.end")).toBe(5);
    expect(value("t1/timeInSystem.mean")).toBe((25 + 15 + 5) * 12);
    expect(values(gate("open"))("t1/departed")).toBe(5);
  });

  test("alone can be set", () => {
    const codes = problemsOf({
      ...gate("shut"),
      elements: gate("shut").elements.map((e) =>
        e.id === "g" ? { ...e, opens: "condition", condition: "out.departed < 3" } : e,
      ),
    }).map(({ code }) => code);
    expect(codes).toEqual(["bad-target", "bad-target"]);
  });
});

test("procedures that wait for what the other holds are named at the end of the run", () => {
  const needs = (id: string) => [{ id, anyOf: [id] }];
  const both = (first: string, second: string) => [
    { do: "claim", needs: needs(first) },
    { do: "wait", time: "1 min" },
    { do: "claim", needs: needs(second) },
    { do: "free", what: [] },
  ];
  const model = (a: Loose[], b: Loose[]) =>
    line({
      elements: [
        ...line().elements,
        { id: "tug", kind: "crew", name: "Tug" },
        { id: "berth", kind: "equipment", name: "Berth" },
      ],
      rules: [at("j", "comes in", a), system("every", b, { every: "10 min", first: "1 min" })],
    });
  const { result } = ran(model(both("tug", "berth"), both("berth", "tug")));
  expect(result.failure).toMatchObject({ code: "step-failed", id: "j" });
  expect(result.failure?.message).toContain("an entity at j holds Tug and waits for Berth");
  expect(result.failure?.message).toContain("holds Berth and waits for Tug");
  // In one order, nobody is in another's way; and who waits when the run ends is not stuck.
  expect(ran(model(both("tug", "berth"), both("tug", "berth"))).result.failure).toBeUndefined();
});

describe("cells of tables that steps set", () => {
  const berths = {
    id: "b",
    name: "Berths",
    key: "name",
    columns: [
      { id: "name", name: "name", holds: "text" },
      { id: "calls", name: "calls" },
    ],
    rows: [
      ["North", "1"],
      ["South", "2"],
    ],
  };
  const model = (rules: Loose[], measures = ['Berths["North"].calls', "sum(Berths.calls)"]) =>
    line({ tables: [berths], variables: N, measures: measures.map((value, i) => ended(`m${i}`, value)), rules });

  test("are read, summed and followed as they are now, and begin each replication as they stand", () => {
    const parts = model([
      at("j", "comes in", [
        set(["N", "N + 1"]),
        set(['Berths[if(N mod 2 = 0, "North", "South")].calls', 'Berths["North"].calls + N']),
      ]),
    ]);
    // N = 1 … 10. South gets North's + 1, North gets its own + 2, and so on.
    let [north, south] = [1, 2];
    for (let n = 1; n <= 10; n++) {
      if (n % 2 === 0) north += n;
      else south = north + n;
    }
    const value = values(parts);
    expect([value("m0/end"), value("m1/end")]).toEqual([north, north + south]);
    const { program } = compile(logicStudy(parts));
    const [first, again] = [1, 1].map((replication) => run(program!, { seed: 1, replication })!.values);
    expect(again).toEqual(first);
  });

  test("are of a column of plain values, and of rows that there are", () => {
    expect(problemsOf(model([at("j", "comes in", [set(['Berths["East"].calls', "1"])])])).map((p) => p.code)).toEqual([
      "bad-target",
    ]);
    expect(problemsOf(model([at("j", "comes in", [set(['Berths["North"].depth', "1"])])])).map((p) => p.code)).toEqual([
      "bad-target",
    ]);
    expect(
      ran(model([at("j", "comes in", [set(['Berths[if(N < 1, "North", "East")].calls', "1"], ["N", "N + 1"])])])).result
        .failure?.code,
    ).toBe("no-row");
  });
});

test("measures are worked out of others of one's own, with their units", () => {
  const parts = (value: string) =>
    line({
      variables: N,
      measures: [
        { id: "fees", name: "Fees", kind: "recorded", as: "count" },
        { id: "stay", name: "Stay", kind: "recorded" },
        ended("n", "N"),
        { id: "each", name: "Each", kind: "derived", value },
      ],
      rules: [
        at("j", "comes in", [
          set(["N", "N + 1"]),
          { do: "wait", time: "2 min" },
          { do: "record", measure: "fees", value: "3 money" },
          { do: "record", measure: "stay", value: "entity.age" },
        ]),
      ],
    });
  const value = values(parts("Fees / (Stay * N)"));
  expect(value("each/value")).toBeCloseTo(30 / (120 * value("n/mean")), 12);
  expect(problemsOf(parts("Fees + Stay")).map(({ code, field }) => `${code} ${field}`)).toEqual([
    "unit-mismatch value",
  ]);
  expect(problemsOf(parts("Each + 1")).map(({ code }) => code)).toEqual(["bad-expression"]);
});

test("what is about an entity is not done where none is at hand", () => {
  const codes = (call: Loose, steps: Loose[]) =>
    problemsOf(line({ rules: [system("start", [call])], procedures: [{ id: "p", name: "P", steps }] })).map(
      ({ code, field }) => `${code} ${field}`,
    );
  const call = { do: "call", procedure: "p" };
  expect(codes(call, [{ do: "remove", as: "lost" }])).toEqual(["no-entity-here s1.procedure"]);
  expect(codes(call, [{ do: "let", name: "a", value: "entity.age" }])).toEqual(["no-entity-here s1.procedure"]);
  expect(codes(call, [{ do: "wait", time: "1 min" }])).toEqual([]);
  const kept = at("j", "comes in", [
    { do: "keep", place: "yard", patience: "5 min" },
    { do: "else", steps: [] },
  ]);
  const take = { do: "take", place: "yard", name: "box", carry: true };
  expect(problemsOf(line({ rules: [kept, system("start", [take])] })).map(({ code }) => code)).toEqual([
    "no-entity-here",
  ]);
  // Who is kept for a time at most goes on when it is over.
  expect(values(line({ rules: [kept] }))("t1/timeInSystem.mean")).toBe(300);
});

test("steps nested without end are refused, not followed", () => {
  let steps: Loose[] = [];
  for (let i = 0; i < 1000; i++) steps = [{ id: `s${i}`, do: "if", condition: "yes", steps }];
  const study = logicStudy(line());
  const read = readStudyText(
    JSON.stringify({
      ...study,
      designs: [{ ...study.designs[0], rules: [{ id: "r", event: "start", of: "system", steps }] }],
    }),
  );
  expect(read.ok ? [] : read.problems.map(({ code }) => code)).toEqual(["too-deep"]);
});

test("signals that nobody gives, and places where nothing is kept, are told", () => {
  const told = problemsOf(
    line({
      rules: [
        system("start", [
          { do: "wait for", signal: "tide" },
          { do: "take", place: "yard", name: "box" },
        ]),
      ],
    }),
  );
  expect(told.map(({ code, severity, field }) => `${severity} ${code} ${field}`)).toEqual([
    "warning signal-never-given s1.signal",
    "warning nothing-kept s2.place",
  ]);
});

test("a rule of the system acts on dates, those before the start and in nights that are skipped left out", () => {
  const dated = (times: string, run: Loose = {}) =>
    line({
      variables: N,
      measures: [ended("m", "N")],
      rules: [system("at dates", [set(["N", "N * 100 + clock / 1 h"])], { times })],
      run: { length: "30 h", start: "2026-03-02T09:00", ...run },
    });
  expect(values(dated("2026-03-02 12:00, 2026-03-01 10:00, 2026-03-03T11:00"))("m/end")).toBe(3 * 100 + 26);
  expect(values(dated("2026-03-03"))("m/end")).toBe(15);
  expect(values(dated("2026-03-02 09:00"))("m/end")).toBe(0);
  const nights = { nights: "skipped", opens: "08:00", closes: "18:00" };
  // The second day begins after nine hours; midnight never comes.
  expect(values(dated("2026-03-03 00:00, 2026-03-03 10:00", nights))("m/end")).toBe(11);
  expect(problemsOf(dated("5 June")).map(({ code, field }) => `${code} ${field}`)).toEqual(["bad-times times"]);
  expect(problemsOf(dated(""))).toHaveLength(1);
});
