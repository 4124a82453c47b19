import { readStudy, type Study, TIME } from "@busy-harbor/core";
import { type RunSummary, runSummarySchema } from "@busy-harbor/core/contract";
import { factorWords } from "@busy-harbor/core/experiments";
import { comparable } from "../src/experiments/comparable.ts";
import { addFactor, duplicateRows, editExperiment, moveRows, putRows } from "../src/experiments/edits.ts";
import { experimentJson, replicationRows } from "../src/experiments/exports.ts";
import { correlation, mattersWords } from "../src/experiments/reading/Against.tsx";
import { factorLevels } from "../src/experiments/reading/levels.ts";
import { quartiles } from "../src/experiments/reading/quartiles.ts";
import { baselineOf, intervalText, responsesOf, rowsOf } from "../src/experiments/rows.ts";
import { fingerprintNow, lackOf, scenarioRuns, stateWords } from "../src/experiments/scenarioRuns.ts";
import { startHistory } from "../src/state/history.ts";
import { useStudy } from "../src/state/study.ts";

const study = (scenarios: object[] = [], more: object = {}): Study => {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Desks",
    run: { replications: 20 },
    frame: {
      inside: "",
      outside: "",
      deciding: [{ id: "k", measure: "t/timeInSystem.mean", matters: "30 s", target: "2 min" }],
    },
    designs: [
      {
        id: "d",
        name: "One line",
        entityTypes: [{ id: "t", name: "Visitor" }],
        elements: [
          { id: "in", kind: "arrivals", name: "Door", at: [0, 0], entityType: "t", between: "exponential(3 min)" },
          { id: "s", kind: "station", name: "Desk", at: [9, 0], time: "2 min" },
          { id: "out", kind: "departures", name: "Street", at: [18, 0] },
        ],
        links: [
          { id: "l1", from: "in", to: "s" },
          { id: "l2", from: "s", to: "out" },
        ],
      },
    ],
    experiments: [
      {
        id: "e",
        name: "Capacities",
        factors: [
          { id: "c", name: "Desks", at: ["elements", "s", "capacity"] },
          { id: "w", name: "Work", at: ["elements", "s", "time"] },
        ],
        scenarios,
        ...more,
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.study;
};
const row = (id: string, c: string, w = "", more: object = {}) => ({ id, design: "d", values: { c, w }, ...more });
const plan = (of: Study) => of.experiments![0];

beforeAll(() => void jest.useFakeTimers());
afterAll(() => void jest.useRealTimers());
const show = (of: Study) => useStudy.setState({ id: "s", history: startHistory(of), designId: "d" });
const now = () => plan(useStudy.getState().history!.present);

describe("edits of an experiment", () => {
  test("a place becomes a factor once, of a new experiment where there is none, and undo takes both back", () => {
    show({ ...study(), experiments: undefined });
    const made = addFactor(["elements", "s", "capacity"], undefined, "d");
    if (typeof made === "string") throw new Error(made);
    addFactor(["elements", "s", "capacity"], made.id, "d");
    expect(now().factors.map(({ at }) => at)).toEqual([["elements", "s", "capacity"]]);
    expect(now().scenarios).toMatchObject([{ design: "d", values: {} }]);
    useStudy.getState().undo();
    useStudy.getState().undo();
    expect(useStudy.getState().history!.present.experiments).toBeUndefined();
  });

  test("rows that are made again stay what they are, with their ids; those that are there come once", () => {
    show(study([row("a", "1", "2 min"), row("b", "2", "2 min", { replications: 50 })]));
    const rows = [
      ["2", "2 min"],
      ["3", "2 min"],
    ];
    putRows("e", rows, ["d"], false);
    expect(now().scenarios.map(({ id, values }) => [id, values.c])).toEqual([
      ["a", "1"],
      ["b", "2"],
      [expect.any(String), "3"],
    ]);
    useStudy.getState().undo();
    putRows("e", rows, ["d"], true);
    expect(now().scenarios.map(({ id, replications }) => [id, replications])).toEqual([
      ["b", 50],
      [expect.any(String), undefined],
    ]);
  });

  test("rows are moved together, and stop at the ends", () => {
    show(study(["1", "2", "3", "4"].map((c) => row(`r${c}`, c))));
    const order = () =>
      now()
        .scenarios.map(({ id }) => id)
        .join(" ");
    moveRows("e", ["r2", "r4"], -1);
    expect(order()).toBe("r2 r1 r4 r3");
    moveRows("e", ["r2", "r4"], -1);
    expect(order()).toBe("r2 r4 r1 r3");
    moveRows("e", ["r2", "r4"], 1);
    expect(order()).toBe("r1 r2 r4 r3");
    moveRows("e", ["r4", "r3"], 1);
    expect(order()).toBe("r1 r2 r4 r3");
  });

  test("copies stand behind the last of the rows, with ids and values of their own", () => {
    show(study([row("a", "1"), row("b", "2"), row("z", "3")]));
    duplicateRows("e", ["a", "b"]);
    expect(now().scenarios.map(({ values }) => values.c)).toEqual(["1", "2", "1", "2", "3"]);
    expect(new Set(now().scenarios.map(({ id }) => id)).size).toBe(5);
    editExperiment("e", "Change", (e) => void (e.scenarios[2].values.c = "9"));
    expect(now().scenarios[0].values.c).toBe("1");
  });
});

const runOf = (of: Study, scenario: string, more: Partial<RunSummary> = {}): RunSummary =>
  runSummarySchema.parse({
    id: `run-${scenario}-${more.number ?? 1}`,
    studyId: "s",
    number: 1,
    designId: "d",
    designName: "One line",
    fingerprint: fingerprintNow(
      of,
      plan(of),
      plan(of).scenarios.find(({ id }) => id === scenario)!,
    ),
    settings: of.run,
    state: "done",
    finished: 20,
    createdAt: "2026-11-01T10:00:00Z",
    endedAt: null,
    failure: null,
    experimentId: "x",
    point: 0,
    plan: "e",
    scenario,
    ...more,
  });

describe("which run a row shows", () => {
  const of = study([row("a", "1"), row("b", "2"), row("n", "3"), row("x", "4", "", { off: true })]);
  const [a, b, n, off] = plan(of).scenarios;
  const edited = { ...of, experiments: [{ ...plan(of), scenarios: [{ ...a, values: { c: "7" } }, b, n, off] }] };

  test("the latest that fits it; of an edited row the old numbers, marked, until it is as before", () => {
    const runs = [runOf(of, "a", { number: 2 }), runOf(of, "a"), runOf(of, "b")];
    const found = scenarioRuns(of, plan(of), runs);
    expect([found.get("a")?.run.number, found.get("a")?.isOld, found.has("n")]).toEqual([2, false, false]);
    const after = scenarioRuns(edited, plan(edited), runs).get("a")!;
    expect([after.run.number, after.isOld]).toEqual([2, true]);
    expect(stateWords(edited, plan(edited).scenarios[0], after)).toBe("out of date");
    expect(lackOf(edited, plan(edited).scenarios[0], after)).toBe("all");
    // A run of the old values does not hide one that fits the new.
    const both = [runOf(of, "a", { number: 3 }), runOf(edited, "a", { number: 2 })];
    expect(scenarioRuns(edited, plan(edited), both).get("a")).toMatchObject({ run: { number: 2 }, isOld: false });
    expect(scenarioRuns(of, plan(of), both).get("a")).toMatchObject({ run: { number: 3 }, isOld: false });
  });

  test("runs of other experiments and of designs as they are do not count", () => {
    expect(scenarioRuns(of, plan(of), [runOf(of, "a", { plan: "other" }), runOf(of, "b", { plan: "" })]).size).toBe(0);
  });

  test("a row lacks the rest of a run, all of one, or nothing", () => {
    const lack = (more: Partial<RunSummary>, scenario = a, isOld = false) =>
      lackOf(of, scenario, { run: runOf(of, "a", more), isOld });
    expect(lackOf(of, n, undefined)).toBe("all");
    expect(lack({})).toBe("nothing");
    expect(lack({ state: "cancelled", finished: 7 })).toBe("more");
    expect(lack({ finished: 20 }, { ...a, replications: 50 })).toBe("more");
    expect(lack({ state: "running", finished: 7 })).toBe("under way");
    expect(lack({ state: "failed", finished: 7 })).toBe("all");
    const precise = { ...of.run, precision: { goals: [{ measure: "m", to: "1", relative: false }], most: 100 } };
    expect(lack({ finished: 12, settings: precise })).toBe("nothing");
    const long = { ...of.run, kind: "long" as const };
    expect(lack({ state: "cancelled", finished: 7, settings: long })).toBe("all");
  });

  test("is told in words", () => {
    const words = (more: Partial<RunSummary>, scenario = a) =>
      stateWords(of, scenario, { run: runOf(of, "a", more), isOld: false });
    expect(stateWords(of, n, undefined)).toBe("not run");
    expect(words({}, off)).toBe("off");
    expect(words({})).toBe("done");
    expect(words({ state: "running", finished: 7 })).toBe("7 of 20");
    expect(words({ state: "cancelled", finished: 7 })).toBe("stopped at 7");
    expect(words({}, { ...a, replications: 50 })).toBe("20 of 50");
    expect(words({ held: "no room" })).toBe("held");
  });
});

describe("what is read of an experiment", () => {
  const info = {
    key: "t/timeInSystem.mean",
    ownerId: "t",
    owner: "Visitor",
    ownerKind: "entity type",
    id: "timeInSystem.mean",
    measure: "timeInSystem",
    part: "mean",
    label: "Time in system, mean",
    dimension: [...TIME] as [number, number, number, number],
  };
  const of = study([row("a", "1"), row("b", "10"), row("x", "2", "", { off: true })], { measures: [info.key, "gone"] });
  const columns: Record<string, number[]> = { a: [60, 120, 180, 240], b: [120, Number.NaN, 240], x: [1, 2, 3, 4] };
  const responses = responsesOf(of, plan(of), [info]);
  const rows = () => {
    const runs = scenarioRuns(
      of,
      plan(of),
      ["a", "b", "x"].map((id) => runOf(of, id)),
    );
    const names = new Map([
      ["a", "A"],
      ["b", "B"],
      ["x", "X"],
    ]);
    const values = (run: string) => columns[run.split("-")[1]];
    return rowsOf(
      of,
      plan(of),
      names,
      runs,
      responses,
      (run, key) =>
        key === info.key
          ? { replications: values(run).map((_, i) => i + 1), values: values(run), errors: undefined }
          : null,
      () => "done",
    );
  };

  test("all of it is saved: a row a scenario and replication, and one document, in SI units", () => {
    const exported = { study: of, experiment: plan(of), factors: factorWords(of, plan(of)), responses, rows: rows() };
    const [head, ...all] = replicationRows(exported);
    expect(head).toEqual([
      "Scenario",
      "Design",
      "Desks",
      "Work",
      "Replication",
      "Visitor: Time in system, mean (s)",
      "gone",
    ]);
    expect(all.slice(0, 2)).toEqual(
      columns.a.slice(0, 2).map((value, i) => ["A", "One line", "1", "2 min", i + 1, value, ""]),
    );
    expect(all).toHaveLength(columns.a.length + columns.b.length + columns.x.length);
    const told = JSON.parse(experimentJson(exported)) as {
      factors: string[];
      scenarios: { name: string; measures: { label: string; unit: string; values: (number | null)[] }[] }[];
    };
    expect(told.factors).toEqual(["Desks", "Work"]);
    expect(told.scenarios[0].measures).toMatchObject([
      { label: "Time in system, mean", unit: "s", values: columns.a.map((v) => (Number.isFinite(v) ? v : null)) },
    ]);
  });

  test("deciding measures lead, once, with their target and what matters; one that is gone is kept", () => {
    expect(responses.map(({ key, decides, target, matters }) => [key, decides, target, matters])).toEqual([
      ["t/timeInSystem.mean", true, 120, 30],
      ["gone", false, undefined, undefined],
    ]);
  });

  test("figures are in the unit shown; rows are held against each other by the replications that all have", () => {
    const [a, b] = rows();
    expect(a.intervals[0]?.mean).toBe(2.5);
    expect(intervalText(a.intervals[0])).toBe("2.5 ± 2.1");
    expect([b.columns[1], b.intervals[1]]).toEqual([null, undefined]);
    const found = comparable(rows(), responses, 0)!;
    expect(found.rows.map(({ name }) => name)).toEqual(["A", "B"]);
    // The second of B is undefined, and it has no fourth.
    expect(found.groups).toEqual([
      [1, 3],
      [2, 4],
    ]);
    expect(found.isPaired).toBe(true);
    expect(comparable(rows(), responses, 0, 3)).toBeUndefined();
    expect(comparable(rows(), responses, 1)).toBeUndefined();
  });

  test("runs of different seeds or lengths are no pairs", () => {
    const [a, b, x] = rows();
    const other = { ...b, of: { ...b.of!, run: { ...b.of!.run, settings: { ...of.run, seed: 9 } } } };
    expect(comparable([a, other, x], responses, 0)?.isPaired).toBe(false);
  });

  test("the baseline is the one chosen, or the first that is on", () => {
    const scenarios = plan(of).scenarios;
    expect(baselineOf(plan(of))?.id).toBe("a");
    expect(baselineOf({ ...plan(of), baseline: "b" })?.id).toBe("b");
    expect(
      baselineOf({ ...plan(of), baseline: "x", scenarios: [{ ...scenarios[0], off: true }, scenarios[1]] })?.id,
    ).toBe("b");
  });

  test("levels are numbers in order, alike in whatever unit, and the design's own where a row says none", () => {
    const mixed = study([row("a", "10", "1 min"), row("b", "2", "60 s"), row("c", "2", "90 s"), row("d", "2")]);
    const told = factorWords(mixed, plan(mixed));
    const levelled = factorLevels(
      mixed,
      told,
      plan(mixed).scenarios.map((scenario) => ({ ...rows()[0], scenario })),
    );
    expect(levelled.map(({ words, numbers, of: places }) => [words, numbers, places])).toEqual([
      [
        ["2", "10"],
        [2, 10],
        [1, 0, 0, 0],
      ],
      [
        ["60 s", "90 s", "2 min"],
        [60, 90, 120],
        [0, 0, 1, 2],
      ],
    ]);
  });
});

test("quartiles and whiskers are those of a box plot", () => {
  // By hand: quartiles of 1 … 9 and 40 lie at places 2.25, 4.5 and 6.75 from 0; 40 is farther than 1.5 boxes.
  expect(quartiles([40, 9, 8, 7, 6, 5, 4, 3, 2, 1])).toEqual({
    first: 3.25,
    median: 5.5,
    third: 7.75,
    whiskers: [1, 9],
  });
  expect(quartiles([5])).toEqual({ first: 5, median: 5, third: 5, whiskers: [5, 5] });
});

test("correlation is Pearson's, and what matters goes by the whole interval", () => {
  expect(correlation([1, 2, 3, 4], [2, 4, 6, 8])).toBeCloseTo(1, 12);
  // By hand: covariances sum to 1, squares to 2 and 2.
  expect(correlation([1, 2, 3], [1, 3, 2])).toBeCloseTo(0.5, 12);
  expect(mattersWords({ low: 2, high: 5 }, 2)).toBe("enough to matter");
  expect(mattersWords({ low: -1, high: 1.5 }, 2)).toBe("whichever it is, too small to matter");
  expect(mattersWords({ low: 1, high: 5 }, 2)).toMatch(/may matter or not/);
});
