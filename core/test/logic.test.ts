import { compile, measuresOf, readStudyText, run, writeStudy } from "../src/index.ts";
import { logicStudy, problemsOf, ran, values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

/** Arrivals every 10 minutes from the first minute on, over a junction to departures. */
const line = (more: Loose = {}) => ({
  elements: [
    { id: "in", kind: "arrivals", between: "10 min", first: "1 min" },
    { id: "j", kind: "junction" },
    { id: "out", kind: "departures" },
  ],
  links: chain("in", "j", "out"),
  run: { length: "100 min" },
  ...more,
});
const at = (id: string, event: string, steps: Loose[], more: Loose = {}) => ({
  of: "element",
  at: id,
  event,
  steps,
  ...more,
});
const system = (event: string, steps: Loose[], more: Loose = {}) => ({ of: "system", event, steps, ...more });
const set = (...pairs: [string, string][]) => ({
  do: "set",
  values: pairs.map(([what, to], i) => ({ id: `v${i}`, what, to })),
});
const ended = (id: string, value: string) => ({ id, name: id, kind: "average", value });
const N = [{ id: "n", name: "N", value: "0" }];

describe("rules", () => {
  test("hold the entity where time passes, and change variables", () => {
    const value = values(
      line({
        variables: N,
        measures: [ended("m", "N")],
        rules: [at("j", "comes in", [{ do: "wait", time: "4 min" }, set(["N", "N + 1"])])],
      }),
    );
    // Ten arrive, at 1, 11 … 91 min, and each stays four minutes.
    expect(value("t1/timeInSystem.mean")).toBe(240);
    expect(value("t1/worked.mean")).toBe(240);
    expect(value("m/end")).toBe(10);
    // N is k from 5 + 10 (k - 1) min on.
    expect(value("m/mean")).toBeCloseTo((95 + 85 + 75 + 65 + 55 + 45 + 35 + 25 + 15 + 5) / 100, 12);
  });

  test("act only where their condition holds, in their order", () => {
    const value = values(
      line({
        variables: N,
        measures: [ended("m", "N")],
        rules: [
          at("j", "comes in", [set(["N", "N + 1"])]),
          at("j", "comes in", [set(["N", "N * 10"])], { condition: "N = 2" }),
        ],
      }),
    );
    // 1, 2 → 20, 21 … 28.
    expect(value("m/end")).toBe(28);
  });

  test("hear events at elements, before what the events begin", () => {
    const value = values({
      elements: [
        { id: "in", kind: "arrivals", between: "10 min", first: "0 min" },
        { id: "s", kind: "station", time: "12 min" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "out"),
      types: [{ id: "t1", name: "Crate", attributes: [{ name: "joined", value: "0 min" }] }],
      measures: [{ id: "m", name: "Wait", kind: "recorded" }],
      rules: [
        at("s", "comes in", [set(["entity.joined", "clock"])]),
        at("s", "work starts", [{ do: "record", measure: "m", value: "clock - entity.joined" }]),
      ],
      run: { length: "59 min" },
    });
    // Work starts at 0, 12, 24, 36, 48: waits of 0, 2, 4, 6, 8 min.
    expect(value("m/records")).toBe(5);
    expect(value("m/recorded.mean")).toBe(240);
    expect(value("m/recorded.max")).toBe(480);
    expect(value("m/recorded.least")).toBe(0);
    expect(value("m/recorded.deviation")).toBeCloseTo(60 * Math.sqrt(10), 9);
    expect(value("m/recorded.mean")).toBe(value("s/wait.mean"));
  });

  test("of the system act at the start, time and again, at times of day, once, when a value changes, and at the end", () => {
    const value = values(
      line({
        run: { length: "100 min", start: "2026-03-02T07:30" },
        variables: ["A", "B", "C", "D", "E"].map((name) => ({ id: name, name, value: "0" })),
        measures: ["A", "B", "C", "D", "E"].map((name) => ended(name, name)),
        rules: [
          system("start", [set(["A", "A + 100"])]),
          system("every", [set(["B", "B + 1"])], { every: "30 min", first: "5 min" }),
          system("at times", [set(["C", "C + 1"])], { times: "8:00, 09:00, 10:00" }),
          system("once", [set(["D", "clock / 1 min"])], { first: "42 min" }),
          system("changes", [set(["E", "E + 1"])], { value: "B" }),
          system("end", [set(["A", "A + 1"])]),
        ],
      }),
    );
    expect(value("A/end")).toBe(100); // What is set at the very end comes after the last look at a level.
    expect(value("B/end")).toBe(4); // 5, 35, 65, 95 min
    expect(value("C/end")).toBe(2); // 8:00 and 9:00 lie within 7:30 to 9:10.
    expect(value("D/end")).toBe(42);
    expect(value("E/end")).toBe(4);
  });

  test("follow shifts: one that has begun at the start is one", () => {
    const value = values(
      line({
        run: { length: "3 d", start: "2026-03-02T09:00" },
        calendars: [{ id: "c", name: "Days", rows: [{ from: "08:00", to: "16:00" }] }],
        variables: ["A", "B"].map((name) => ({ id: name, name, value: "0" })),
        measures: [ended("A", "A"), ended("B", "B")],
        rules: [
          system("shift begins", [set(["A", "A + 1"])], { calendar: "c" }),
          system("shift ends", [set(["B", "clock / 1 h"])], { calendar: "c" }),
        ],
      }),
    );
    expect(value("A/end")).toBe(4);
    expect(value("B/end")).toBe(7 + 48);
  });

  test("of an entity type are set off by its births and by its leaving", () => {
    const value = values(
      line({
        types: [{ id: "t1", name: "Crate", attributes: [{ name: "no", value: "0" }] }],
        variables: N,
        measures: [ended("m", "N"), { id: "r", name: "Last", kind: "recorded" }],
        rules: [
          { of: "entity type", at: "t1", event: "is born", steps: [set(["N", "N + 1"], ["entity.no", "N"])] },
          {
            of: "entity type",
            at: "t1",
            event: "leaves the system",
            steps: [{ do: "record", measure: "r", value: "entity.no" }],
          },
        ],
      }),
    );
    expect(value("m/end")).toBe(10);
    expect(value("r/recorded.mean")).toBe(5.5);
  });
});

describe("steps", () => {
  const doing = (steps: Loose[], more: Loose = {}) =>
    values(line({ variables: N, measures: [ended("m", "N")], rules: [system("start", steps)], ...more }));

  test("branch, loop and leave loops", () => {
    const value = doing([
      { do: "let", name: "i", value: "0" },
      {
        do: "while",
        condition: "yes",
        steps: [
          set(["i", "i + 1"]),
          { do: "if", condition: "i = 3", steps: [set(["N", "N + 100"])] },
          { do: "else if", condition: "i = 5", steps: [{ do: "leave" }] },
          { do: "else", steps: [set(["N", "N + 1"])] },
        ],
      },
      { do: "times", count: "3", name: "k", steps: [set(["N", "N + 1000 * k"])] },
      { do: "each", name: "x", what: "[10000, 20000]", steps: [set(["N", "N + x"])] },
    ]);
    expect(value("m/end")).toBe(3 + 100 + 6000 + 30000);
  });

  test("go through the rows of a table and the members of a family", () => {
    const value = values(
      line({
        variables: N,
        measures: [ended("m", "N")],
        tables: [
          {
            id: "b",
            name: "Berths",
            key: "",
            columns: [{ id: "c", name: "room", unit: "" }],
            rows: [["3"], ["5"]],
          },
        ],
        rules: [
          system("start", [{ do: "each", name: "berth", what: "Berths", steps: [set(["N", "N + berth.room"])] }]),
        ],
      }),
    );
    expect(value("m/end")).toBe(8);
  });

  test("call procedures with values, which call themselves, and answer", () => {
    const value = values(
      line({
        variables: N,
        measures: [ended("m", "N")],
        procedures: [
          {
            id: "factorial",
            name: "Factorial",
            parameters: [{ id: "n", name: "n" }],
            steps: [
              { do: "if", condition: "n <= 1", steps: [{ do: "end", answer: "1" }] },
              { do: "let", name: "rest", value: "0" },
              { do: "call", procedure: "factorial", args: [{ id: "n", value: "n - 1" }], into: "rest" },
              { do: "end", answer: "n * rest" },
            ],
          },
        ],
        rules: [system("start", [{ do: "call", procedure: "factorial", args: [{ id: "n", value: "6" }], into: "N" }])],
      }),
    );
    expect(value("m/end")).toBe(720);
  });

  test("wait alongside, for signals with a value, and until a condition holds", () => {
    const value = values(
      line({
        variables: [...N, { id: "tide", name: "Tide", value: "0" }],
        measures: [ended("m", "N")],
        procedures: [
          {
            id: "late",
            name: "Late",
            parameters: [{ id: "by", name: "by", unit: "min" }],
            steps: [
              { do: "wait", time: "by" },
              { do: "signal", signal: "turn", value: "7" },
            ],
          },
        ],
        rules: [
          system("start", [
            { do: "call", procedure: "late", alongside: true, args: [{ id: "by", value: "20 min" }] },
            { do: "wait for", signal: "Turn", into: "depth" },
            set(["N", "depth"]),
            { do: "wait until", condition: "Tide > 2" },
            set(["N", "N + 1000"]),
          ]),
          system("every", [set(["Tide", "Tide + 1"])], { every: "10 min", first: "10 min" }),
        ],
        run: { length: "60 min" },
      }),
    );
    // 7 from 20 min on; the tide is 3 at 30 min.
    expect(value("m/end")).toBe(1007);
    expect(value("m/mean")).toBeCloseTo((7 * 10 + 1007 * 30) / 60, 12);
  });

  test("give up after their patience, and then do what stands under Otherwise", () => {
    const value = doing([
      { do: "wait for", signal: "never", patience: "15 min" },
      { do: "else", steps: [set(["N", "clock / 1 min"])] },
      { do: "wait until", condition: "N > 100", patience: "10 min" },
      { do: "else", steps: [set(["N", "N + clock / 1 min"])] },
      { do: "signal", signal: "never" },
    ]);
    expect(value("m/end")).toBe(15 + 25);
  });

  test("claim several resources at once, keep them elsewhere, and free them", () => {
    const parts = line({
      elements: [
        { id: "in", kind: "arrivals", between: "10 min", first: "0 min" },
        { id: "j", kind: "junction" },
        { id: "s", kind: "station", time: "6 min", capacity: "5", needs: [{ id: "n", anyOf: ["tug"], count: "1" }] },
        { id: "k", kind: "junction" },
        { id: "out", kind: "departures" },
        { id: "tug", kind: "crew", count: "2" },
        { id: "pilot", kind: "crew", count: "1" },
      ],
      links: chain("in", "j", "s", "k", "out"),
      rules: [
        at("j", "comes in", [
          {
            do: "claim",
            needs: [
              { id: "a", anyOf: ["pilot"] },
              { id: "b", anyOf: ["tug"] },
            ],
          },
          { do: "wait", time: "8 min" },
        ]),
        at("k", "comes in", [
          { do: "free", what: ["pilot"] },
          { do: "free", what: [] },
        ]),
      ],
      run: { length: "100 min" },
    });
    const value = values(parts);
    // Each holds the pilot for 14 minutes, so the k-th leaves at 14 k.
    expect(value("t1/departed")).toBe(7);
    expect(value("pilot/utilization")).toBe(1);
    // One tug all the time, another for 6 of each 14 minutes.
    expect(value("tug/utilization")).toBeCloseTo((100 + 7 * 6) / 200, 12);
  });

  test("send entities elsewhere, make some, and remove some", () => {
    const value = values({
      elements: [
        { id: "in", kind: "arrivals", between: "10 min", first: "0 min" },
        { id: "j", kind: "junction" },
        { id: "s", kind: "station", time: "1 min" },
        { id: "out", kind: "departures" },
        { id: "side", kind: "departures" },
      ],
      links: [...chain("in", "j", "s", "out"), { from: "s", to: "side" }].slice(0, 3),
      types: [
        { id: "t1", name: "Crate" },
        { id: "t2", name: "Note" },
      ],
      variables: N,
      rules: [
        at("j", "comes in", [
          set(["N", "N + 1"]),
          {
            do: "if",
            condition: "N mod 3 = 0",
            steps: [
              { do: "make", count: "2", type: "t2", at: "side" },
              { do: "send", to: "side", time: "5 min" },
            ],
          },
          { do: "if", condition: "N mod 3 = 1", steps: [{ do: "remove", as: "lost" }] },
        ]),
      ],
      run: { length: "89 min" },
    });
    expect(value("t1/created")).toBe(9);
    expect(value("t1/lost")).toBe(3);
    expect(value("t2/departed")).toBe(6);
    expect(value("side/departed")).toBe(9);
    expect(value("out/departed")).toBe(3);
    expect(value("side/timeInSystem.mean.t1")).toBe(300);
  });
});

describe("problems", () => {
  const codes = (more: Loose) => problemsOf(line(more)).map(({ code, field }) => `${code} ${field ?? ""}`.trim());

  test("name the step and what is wrong with it", () => {
    expect(codes({ rules: [at("j", "goes on", [{ do: "wait", time: "1 min" }])] })).toEqual(["no-time-here s1.do"]);
    expect(codes({ rules: [at("j", "comes in", [{ do: "wait", time: "3 m" }])] })).toEqual(["unit-mismatch s1.time"]);
    expect(codes({ rules: [at("j", "comes in", [{ do: "else", steps: [] }])] })).toEqual(["misplaced-step s1.do"]);
    expect(codes({ rules: [at("j", "comes in", [{ do: "leave" }])] })).toEqual(["misplaced-step s1.do"]);
    expect(codes({ rules: [at("j", "comes in", [set(["j.passed", "1"])])] })).toEqual(["bad-target s1.values.v0.what"]);
    expect(codes({ variables: N, rules: [at("j", "comes in", [set(["N", "1 min"])])] })).toEqual([
      "unit-mismatch s1.values.v0.to",
    ]);
    expect(codes({ rules: [system("start", [{ do: "remove", as: "lost" }])] })).toEqual(["misplaced-step s1.do"]);
    expect(codes({ rules: [at("nowhere", "comes in", [])] })).toEqual(["missing-element at"]);
    expect(codes({ procedures: [{ name: "Weigh", steps: [] }] })).toEqual(["unused-procedure"]);
  });

  test("are left out of what is switched off", () => {
    const value = values(
      line({
        variables: N,
        measures: [ended("m", "N")],
        rules: [
          system("start", [{ ...set(["N", "5"]), off: true }]),
          system("start", [set(["N", "N + 1"])], { off: true }),
        ],
      }),
    );
    expect(value("m/end")).toBe(0);
  });

  test.each([
    [
      "a loop in which no time passes",
      [system("start", [{ do: "while", condition: "yes", steps: [] }])],
      "instant-loop",
    ],
    ["freeing what is not held", [at("j", "comes in", [{ do: "free", what: [] }])], "step-failed"],
    [
      "leaving while holding",
      [at("j", "comes in", [{ do: "claim", needs: [{ id: "a", anyOf: ["crew"] }] }])],
      "step-failed",
    ],
    ["a rule that sets itself off", [system("start", [{ do: "call", procedure: "p" }])], "step-failed"],
  ])("%s ends the run with its place", (_, rules, code) => {
    const { result } = ran(
      line({
        elements: [...line().elements, { id: "crew", kind: "crew" }],
        rules,
        procedures: [{ id: "p", name: "P", steps: [{ do: "call", procedure: "p" }] }],
      }),
    );
    expect(result.failure?.code).toBe(code);
    expect(result.failure?.id).toBeDefined();
  });
});

test("a study with logic is read and written to the same text, and gives the same bits again", () => {
  const study = logicStudy(line({ rules: [at("j", "comes in", [{ do: "wait", time: "exponential(3 min)" }])] }));
  const read = readStudyText(writeStudy(study));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  expect(read.study).toEqual(study);
  const { program } = compile(study);
  const values = run(program!, { seed: 5, replication: 2 })!.values;
  expect(run(compile(read.study).program!, { seed: 5, replication: 2 })!.values).toEqual(values);
  expect(run(program!, { seed: 5, replication: 2 })!.values).toEqual(values);
  expect(measuresOf(program!).length).toBe(values.length);
});

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
