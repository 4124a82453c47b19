import {
  assignStreams,
  calendarSchema,
  type ExperimentPlan,
  experimentSchema,
  readStudyText,
  type Study,
  tableSchema,
  writeStudy,
} from "../src/index.ts";
import {
  factorialRows,
  factorWords,
  fractionRows,
  hypercubeRows,
  type Path,
  plainText,
  readLevels,
  scenarioNames,
  scenarioStudy,
  sweep,
  valueAt,
  valueOfWords,
  withValue,
  wordsOfValue,
} from "../src/experiments/index.ts";
import { chain, study } from "./study.ts";

/** A desk with a breakdown, a crew, a calendar, a table, a variable, and a second design with two lines. */
function desks(): Study {
  const one = study({
    elements: [
      { id: "in", kind: "arrivals", name: "Door", between: "exponential(3 min)" },
      {
        id: "s",
        kind: "station",
        name: "Desk",
        time: "2 min",
        breakdowns: [{ id: "b1" }],
      },
      { id: "c", kind: "crew", name: "Clerks", calendar: "day" },
      { id: "out", kind: "departures", name: "Street" },
    ],
    links: chain("in", "s", "out"),
  });
  const [design] = one.designs;
  const other = { ...design, id: "other", name: "Two lines", copiedFrom: design.id };
  return {
    ...one,
    calendars: [
      calendarSchema.parse({ id: "day", name: "Day shift", rows: [{ days: [0], from: "08:00", to: "16:00" }] }),
      calendarSchema.parse({ id: "late", name: "Late shift" }),
    ],
    tables: [
      tableSchema.parse({
        id: "t",
        name: "Prices",
        key: "ware",
        columns: [
          { id: "ware", name: "Ware", holds: "text" },
          { id: "price", name: "Price" },
        ],
        rows: [
          ["rope", "4"],
          ["tar", "7"],
        ],
      }),
    ],
    variables: [{ id: "v", name: "Fee", note: "", value: "3", table: "", streams: {} }],
    designs: [design, { ...other, variables: [{ variable: "v", value: "9" }] }],
  };
}

const first = (s: Study) => s.designs[0];

describe("places that factors set", () => {
  const at = (s: Study, path: Path, design = first(s)) => valueAt(s, design, path);
  test.each([
    [["elements", "s", "capacity"], "1"],
    [["elements", "s", "breakdowns", "b1", "repair"], "exponential(1 h)"],
    [["elements", "c", "calendar"], "day"],
    [["calendars", "day", "rows", "0", "from"], "08:00"],
    [["tables", "t", "tar", "price"], "7"],
    [["variables", "v", "value"], "3"],
    [["run", "length"], "8 h"],
    [["run", "replications"], 20],
  ])("%j is read, and another value is put there without touching what was", (path, before) => {
    const s = desks();
    const frozen = JSON.stringify(s);
    expect(at(s, path)).toEqual(before);
    const other = { calendar: "late", from: "09:00" }[path.at(-1)!] ?? "5";
    const changed = withValue(s, first(s), path, other);
    expect(changed).toMatchObject({ ok: true });
    if (changed.ok) expect(plainText(valueAt(changed.study, changed.design, path)!)).toBe(other);
    expect(JSON.stringify(s)).toBe(frozen);
  });

  test("a variable's value is set for the design, in place of its own where it has one", () => {
    const s = desks();
    const plain = withValue(s, first(s), ["variables", "v", "value"], "5");
    expect(plain).toMatchObject({ ok: true, design: { variables: [{ variable: "v", value: "5" }] } });
    expect(at(s, ["variables", "v", "value"], s.designs[1])).toBe("9");
    const own = withValue(s, s.designs[1], ["variables", "v", "value"], "5");
    expect(own).toMatchObject({ ok: true, design: { variables: [{ variable: "v", value: "5" }] } });
  });

  test("a design's own version of a table is the one that is set", () => {
    const s = desks();
    const own = { ...s.designs[0], tables: [{ ...s.tables[0], rows: [["tar", "8"]] }] };
    const changed = withValue(s, own, ["tables", "t", "tar", "price"], "9");
    expect(changed).toMatchObject({ ok: true, design: { tables: [{ rows: [["tar", "9"]] }] } });
    if (changed.ok) expect(changed.study.tables).toBe(s.tables);
  });

  test.each([
    [["elements", "gone", "capacity"]],
    [["elements", "s", "nothing"]],
    [["elements", "s", "id"]],
    [["elements", "s"]],
    [["tables", "t", "gone", "price"]],
    [["elements", "__proto__", "polluted"]],
    [["question", "x"]],
  ])("%j is no place", (path) => {
    const s = desks();
    expect(at(s, path)).toBeUndefined();
    expect(withValue(s, first(s), path, "1")).toMatchObject({ ok: false });
  });

  test("what may not stand there is refused, with the reason", () => {
    const s = desks();
    expect(withValue(s, first(s), ["run", "replications"], "many")).toMatchObject({
      ok: false,
      message: '"many" is not a number.',
    });
    expect(withValue(s, first(s), ["run", "replications"], "0")).toMatchObject({ ok: false });
    expect(withValue(s, first(s), ["calendars", "day", "rows", "0", "from"], "8")).toMatchObject({
      ok: false,
      message: "Write a time of day as 06:30; the end of a day is 24:00.",
    });
    expect(withValue(s, first(s), ["elements", "s", "atBell"], "whistle")).toMatchObject({ ok: false });
  });
});

const plan = (more: object): ExperimentPlan => experimentSchema.parse({ id: "e", name: "Desks", ...more });
const CAPACITY = { id: "f1", name: "Desks", at: ["elements", "s", "capacity"] };
const CALENDAR = { id: "f2", at: ["elements", "c", "calendar"] };

describe("scenarios", () => {
  const planned = () =>
    plan({
      factors: [CAPACITY, CALENDAR],
      scenarios: [
        { id: "s1", design: desks().designs[0].id },
        { id: "s2", design: desks().designs[0].id, values: { f1: "2", f2: "late" }, replications: 50 },
        { id: "s3", design: "other", values: { f1: "2", f2: "" } },
      ],
    });

  test("are named after what differs between them", () => {
    expect([...scenarioNames(desks(), planned()).values()]).toEqual([
      "Base, Desks 1, shift calendar Day shift",
      "Base, Desks 2, shift calendar Late shift",
      "Two lines, Desks 2, shift calendar Day shift",
    ]);
  });

  test("that are alike are told apart, and one's own name stands", () => {
    const design = desks().designs[0].id;
    const alike = plan({
      scenarios: [
        { id: "a", design },
        { id: "b", design },
        { id: "c", design, name: "Today" },
      ],
    });
    expect([...scenarioNames(desks(), alike).values()]).toEqual(["Base", "Base (2)", "Today"]);
  });

  test("make a study with one design, their values and their number of replications", () => {
    const [, second, third] = planned().scenarios;
    const made = scenarioStudy(desks(), planned(), second);
    expect(made).toMatchObject({
      ok: true,
      study: { run: { replications: 50, seed: 1 }, designs: [{ name: "Base" }] },
    });
    if (!made.ok) throw new Error("It is made.");
    expect(valueAt(made.study, made.design, CAPACITY.at)).toBe("2");
    expect(valueAt(made.study, made.design, CALENDAR.at)).toBe("late");
    const other = scenarioStudy(desks(), planned(), third);
    if (!other.ok) throw new Error("It is made.");
    // An empty cell leaves what the design has.
    expect(valueAt(other.study, other.design, CALENDAR.at)).toBe("day");
    expect(other.study.run).toEqual(desks().run);
  });

  test("with independent random numbers have seeds that go by the scenario, not by its place", () => {
    const independent = { ...planned(), random: "independent" as const };
    const seed = (i: number, e = independent) => {
      const made = scenarioStudy(desks(), e, e.scenarios[i]);
      return made.ok ? made.study.run.seed : undefined;
    };
    const turned = { ...independent, scenarios: [...independent.scenarios].reverse() };
    expect(new Set([seed(0), seed(1), seed(2), 1]).size).toBe(4);
    expect([seed(2, turned), seed(0, turned)]).toEqual([seed(0), seed(2)]);
    expect(Number.isSafeInteger(seed(0))).toBe(true);
  });

  test("say which of their cells cannot be", () => {
    const [one] = planned().scenarios;
    const gone = { ...planned(), factors: [{ id: "f1", name: "", at: ["elements", "gone", "time"] }] };
    expect(scenarioStudy(desks(), gone, { ...one, values: { f1: "2" } })).toMatchObject({
      ok: false,
      problems: [{ field: "f1", scenario: "s1", message: "Base does not have what this factor sets." }],
    });
    // Where the row has no value nothing is set.
    expect(scenarioStudy(desks(), gone, one)).toMatchObject({ ok: true });
    expect(scenarioStudy(desks(), planned(), { ...one, design: "gone" })).toMatchObject({
      ok: false,
      problems: [{ field: "design" }],
    });
  });

  test("stand in the study file and are read again", () => {
    const text = writeStudy({ ...assignStreams(desks()), experiments: [planned()] });
    const read = readStudyText(text);
    expect(read).toMatchObject({ ok: true, study: { experiments: [{ factors: [{ name: "Desks" }, { name: "" }] }] } });
    if (read.ok) expect(writeStudy(read.study)).toBe(text);
  });
});

describe("factors in words", () => {
  test("choices are told by their names and read back from them", () => {
    const [, calendar] = factorWords(desks(), plan({ factors: [CAPACITY, CALENDAR] }));
    expect(calendar.title).toBe("Clerks: Shift calendar");
    expect(wordsOfValue(calendar, "late")).toBe("Late shift");
    expect(valueOfWords(calendar, " late SHIFT ")).toBe("late");
    expect(valueOfWords(calendar, "unknown")).toBe("unknown");
  });
  test.each([
    [["variables", "v", "value"], "Fee: First value"],
    [["tables", "t", "tar", "price"], "Prices: Price of tar"],
    [["calendars", "day", "rows", "0", "value"], "Day shift: Value, row 1"],
    [["run", "length"], "Length"],
    [["links", "l1", "share"], "Desk to Street: Share"],
    [["links", "gone", "share"], "something deleted: Share"],
    [["elements", "s", "breakdowns", "b1", "repair"], "Desk: Time to repair"],
    [["entityTypes", "t1", "speed"], "Customer: Speed"],
  ])("%j is told as %s", (at, title) => {
    expect(factorWords(desks(), plan({ factors: [{ id: "f", at }] }))[0].title).toBe(title);
  });
});

describe("levels as they are typed", () => {
  test.each([
    ["2, 3, 4", ["2", "3", "4"]],
    ["2 to 10 by 4", ["2", "6", "10"]],
    ["10 to 2 by -4", ["10", "6", "2"]],
    ["0.1 to 0.3 by 0.1", ["0.1", "0.2", "0.3"]],
    ["60 s to 3 min by 1 min", ["60 s", "120 s", "180 s"]],
    ["1 min to 2 min in 3", ["1 min", "1.5 min", "2 min"]],
    ["12/h to 20/h by 4/h", ["12/h", "16/h", "20/h"]],
    ["10 % to 30 % in 2; 50 %", ["10 %", "30 %", "50 %"]],
    ["exponential(2 min), triangular(1 min, 2 min, 3 min)", ["exponential(2 min)", "triangular(1 min, 2 min, 3 min)"]],
    ['"a, b", c', ['"a, b"', "c"]],
  ])("%s", (text, levels) => {
    expect(readLevels(text)).toEqual({ ok: true, levels });
  });
  test.each([
    ["", "Write at least one level"],
    ["2 to 10 by -1", "do not lead"],
    ["2 to 10 by 0", "do not lead"],
    ["1 min to 10 by 1", "one kind"],
    ["1 min to 3 m by 1 min", "one kind"],
    ["a to b by 1", "not a number"],
    ["1 to 9 in 1", "two levels"],
    ["1 to 100000 by 1", "At most 200"],
  ])("%s is refused", (text, message) => {
    const read = readLevels(text);
    expect(read.ok ? "" : read.message).toContain(message);
  });
});

describe("scenarios that are made", () => {
  const levels = [
    ["2", "3", "4"],
    ["a", "b"],
  ];
  test("a sweep changes one factor at a time", () => {
    expect(sweep(levels)).toEqual({
      ok: true,
      rows: [
        ["2", "a"],
        ["3", "a"],
        ["4", "a"],
        ["2", "b"],
      ],
    });
  });
  test("a factorial has all combinations, and refuses too many", () => {
    const made = factorialRows(levels);
    expect(made.ok && made.rows.map((row) => row.join(""))).toEqual(["2a", "2b", "3a", "3b", "4a", "4b"]);
    const many = Array.from({ length: 11 }, () => ["0", "1"]);
    expect(factorialRows(many)).toMatchObject({ ok: false });
  });
  test("a fraction tells its resolution", () => {
    const four = Array.from({ length: 4 }, () => ["0", "5", "9"]);
    const made = fractionRows(four, 1);
    expect(made).toMatchObject({ ok: true, resolution: 4, generators: ["D = ABC"] });
    // Only the ends of the levels, eight of them, the last as the product of the others.
    if (made.ok) {
      expect(made.rows).toHaveLength(8);
      expect(new Set(made.rows.flat())).toEqual(new Set(["0", "9"]));
      const sign = (text: string) => (text === "9" ? 1 : -1);
      for (const [a, b, c, d] of made.rows) expect(sign(d)).toBe(sign(a) * sign(b) * sign(c));
    }
    expect(fractionRows(levels, 1)).toMatchObject({ ok: false });
  });
  test("a hypercube has each part of each range once, in the units of the ends", () => {
    const made = hypercubeRows(
      [
        ["1", "10"],
        ["1 min", "180 s"],
      ],
      10,
      7,
    );
    if (!made.ok) throw new Error(made.message);
    expect(made.rows.map(([whole]) => Number(whole)).sort((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
    const minutes = made.rows.map(([, text]) => {
      expect(text).toMatch(/^[\d.]+ min$/);
      return Number(text.split(" ")[0]);
    });
    expect(minutes.map((m) => Math.floor(((m - 1) / 2) * 10)).sort((a, b) => a - b)).toEqual([
      0, 1, 2, 3, 4, 5, 6, 7, 8, 9,
    ]);
    expect(
      hypercubeRows(
        [
          ["1", "10"],
          ["1 min", "180 s"],
        ],
        10,
        7,
      ),
    ).toEqual(made);
    expect(
      hypercubeRows(
        [
          ["1", "10"],
          ["1 min", "180 s"],
        ],
        10,
        8,
      ),
    ).not.toEqual(made);
    expect(hypercubeRows([["low", "high"]], 4, 1)).toMatchObject({ ok: false });
  });
});
