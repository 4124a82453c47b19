import { compile, measuresOf, readStudyText, run, writeStudy } from "../src/index.ts";
import { at, ended, line, logicStudy, N, problemsOf, ran, set, system, values } from "./logicModel.ts";
import { chain } from "./study.ts";

type Loose = Record<string, unknown>;

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
