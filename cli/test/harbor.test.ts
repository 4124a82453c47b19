import { execFile } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import ExcelJS from "exceljs";

const bin = join(__dirname, "../bin/harbor.mjs");
const demo = join(__dirname, "../../demo/foot-passengers.json");
const folder = mkdtempSync(join(tmpdir(), "harbor cli ")); // with a space in it, as paths have

interface Outcome {
  code: number;
  out: string;
  err: string;
}

const harbor = (...args: string[]): Promise<Outcome> =>
  new Promise((resolve) => {
    execFile(process.execPath, [bin, ...args], { maxBuffer: 64e6 }, (error, out, err) =>
      resolve({ code: error ? Number(error.code) : 0, out, err }),
    );
  });

const changed = (
  name: string,
  change: (study: { designs: { id: string; elements: Record<string, unknown>[] }[] } & Record<string, unknown>) => void,
): string => {
  const study = JSON.parse(readFileSync(demo, "utf8")) as Parameters<typeof change>[0];
  change(study);
  const file = join(folder, name);
  writeFileSync(file, JSON.stringify(study));
  return file;
};

jest.setTimeout(240_000);
// The first call builds the command line; calls at the same time must not build it twice over.
beforeAll(() => harbor("--help"));

interface Run {
  design: string;
  settings: Record<string, unknown>;
  measures: {
    element: string;
    measure: string;
    unit: string;
    mean: number | null;
    halfWidth: number | null;
    values: (number | null)[];
  }[];
}

describe("harbor run", () => {
  test("--json prints one document, and nothing else", async () => {
    const { code, out, err } = await harbor(
      "run",
      demo,
      "--json",
      "--replications",
      "5",
      "--seed",
      "7",
      "--length",
      "30min",
      "--warm-up",
      "5 min",
      "--level",
      "0.9",
      "--design",
      "A line at each desk",
    );
    expect({ code, err }).toEqual({ code: 0, err: "" });
    const document = JSON.parse(out) as Run;
    expect(document.design).toBe("A line at each desk");
    expect(document.settings).toMatchObject({ replications: 5, seed: 7, length: "30min", warmUp: "5 min", level: 0.9 });
    for (const measure of document.measures) expect(measure.values).toHaveLength(5);
    const time = document.measures.find((m) => m.element === "Commuter" && m.measure === "timeInSystem.mean")!;
    expect(time.unit).toBe("s");
    const values = time.values as number[];
    expect(time.mean).toBeCloseTo(values.reduce((a, b) => a + b) / 5, 9);
    expect(time.halfWidth).toBeGreaterThan(0);
  });

  test("--rows writes what steps write, a file for each table and replication", async () => {
    const file = changed("rows.json", ({ designs: [design] }) => {
      const at = design.elements.find(({ kind }) => kind === "queue")!.id;
      const values = [{ id: "v", column: "type", to: "entity.type" }];
      const steps = [{ id: "s", do: "write", table: "Came/in", values }];
      Object.assign(design, { rules: [{ id: "r", of: "element", at, event: "comes in", steps }] });
    });
    const rows = join(folder, "rows of a run");
    const { code, err } = await harbor("run", file, "--replications", "3", "--threads", "2", "--rows", rows);
    expect([code, err]).toEqual([0, ""]);
    const [first, ...others] = [1, 2, 3].map((r) => readFileSync(join(rows, `Came_in, ${r}.csv`), "utf8"));
    expect(first.split("\r\n")[0]).toBe("Written at (s),type");
    expect(first.trimEnd().split("\r\n").length).toBeGreaterThan(10);
    for (const other of others) expect(other).not.toBe(first);
    const none = await harbor("run", demo, "--rows", rows);
    expect([none.code, none.err]).toEqual([2, "No step of the design writes rows.\n"]);
  });

  test("one thread and two give the same bits", async () => {
    const [one, two] = await Promise.all(
      ["1", "2"].map((threads) => harbor("run", demo, "--json", "--replications", "6", "--threads", threads)),
    );
    expect(one.code).toBe(0);
    expect(two.out).toBe(one.out);
  });

  test("prints a table for people, and says when there is only one replication", async () => {
    const { code, out } = await harbor("run", demo, "--replications", "1");
    expect(code).toBe(0);
    expect(out).toContain("One replication only: these figures carry no interval.");
    expect(out).toMatch(/Ticket desks \(station\)/);
  });

  test("a model with problems: exit code 1, each listed with its path", async () => {
    const file = changed("bad.json", (s) => void (s.designs[0].elements[4].time = "3 m"));
    const { code, err, out } = await harbor("run", file);
    expect({ code, out }).toEqual({ code: 1, out: "" });
    expect(err).toContain("designs[0].elements[4].time: Time: This is a length; a time is wanted.");
    const json = await harbor("run", file, "--json");
    expect(json.code).toBe(1);
    expect(JSON.parse(json.out)).toMatchObject({ problems: [{ code: "unit-mismatch", id: "desks" }] });
  });

  test("a problem at run time: exit code 1, with the place and the time", async () => {
    const { code, err } = await harbor(
      "run",
      changed("negative.json", (s) => void (s.designs[0].elements[4].time = "10 min - clock")),
      "--replications",
      "2",
    );
    expect(code).toBe(1);
    expect(err).toMatch(
      /Replication 1 stopped at [\d.]+ s: Ticket desks: "Time" gave -[\d.]+ s, and a time cannot be negative/,
    );
  });

  test.each([
    ["an unknown option", ["run", demo, "--fast"]],
    ["no file", ["run"]],
    ["a file that is not there", ["run", join(folder, "nothing.json")]],
    ["a count that is none", ["run", demo, "--replications", "many"]],
    ["a level out of range", ["run", demo, "--level", "95"]],
    ["a length without a unit", ["run", demo, "--length", "12"]],
    ["an unknown design", ["run", demo, "--design", "Nobody's"]],
    ["an unknown command", ["sail"]],
  ])("%s: exit code 2 and a word on standard error", async (_name, args) => {
    const { code, out, err } = await harbor(...args);
    expect({ code, out }).toEqual({ code: 2, out: "" });
    expect(err.length).toBeGreaterThan(10);
  });
});

interface Experiment {
  experiment: string;
  factors: string[];
  scenarios: (Pick<Run, "settings" | "measures"> & { name: string; design: string; values: Record<string, string> })[];
}

describe("harbor experiment", () => {
  test("runs every scenario, with the bits that the changed design has by itself, on any number of threads", async () => {
    const calls = ["1", "5"].map((threads) =>
      harbor("experiment", demo, "--json", "--replications", "2", "--threads", threads),
    );
    const [one, five] = await Promise.all(calls);
    expect([one.code, one.err]).toEqual([0, ""]);
    expect(five.out).toBe(one.out);
    const { experiment, factors, scenarios } = JSON.parse(one.out) as Experiment;
    expect([experiment, factors, scenarios.length]).toEqual(["Desks and machines", ["Desks", "Machines"], 9]);
    const last = scenarios[8];
    expect(last).toMatchObject({ name: "Desks 4, Machines 3", values: { Desks: "4", Machines: "3" } });
    const file = changed("four desks.json", (study) => {
      for (const element of study.designs[0].elements) {
        if (element.id === "desks") element.capacity = "4";
        if (element.id === "machine") element.capacity = "3";
      }
    });
    const alone = JSON.parse((await harbor("run", file, "--json", "--replications", "2")).out) as Run;
    for (const { element, measure, values } of last.measures)
      expect(alone.measures.find((m) => m.element === element && m.measure === measure)?.values).toEqual(values);
    expect(last.measures.map(({ measure }) => measure)).toEqual([
      "inSystem.end",
      "timeInSystem.mean",
      "timeInSystem.mean",
    ]);
  });

  test("writes rows for a spreadsheet, and a spreadsheet", async () => {
    const file = join(folder, "desks.xlsx");
    const { code, out } = await harbor("experiment", demo, "--csv", "--replications", "2", "--xlsx", file);
    expect(code).toBe(0);
    const lines = out.trimEnd().split(/\r?\n/);
    expect(lines).toHaveLength(1 + 9 * 2);
    expect(lines[0]).toMatch(/^Scenario,Design,Desks,Machines,Replication,/);
    expect(lines[1]).toMatch(/^"Desks 2, Machines 1",One shared line,2,1,1,\d/);
    const workbook = new ExcelJS.Workbook();
    await workbook.xlsx.readFile(file);
    expect(workbook.worksheets.map(({ name, rowCount }) => [name, rowCount])).toEqual([
      ["Scenarios", 10],
      ["Replications", 19],
    ]);
    const [, scenario, design, desks] = workbook.worksheets[0].getRow(10).values as unknown[];
    expect([scenario, design, desks]).toEqual(["Desks 4, Machines 3", "One shared line", "4"]);
  });

  const searching = (name: string, more: object = {}) =>
    changed(name, (study) => {
      const [experiment] = study.experiments as Record<string, unknown>[];
      experiment.search = {
        design: study.designs[0].id,
        ranges: { desks: { from: "1", to: "6" }, machines: { from: "1", to: "4" } },
        measure: "commuter/timeInSystem.mean",
        matters: "10 s",
        budget: 120,
        ...more,
      };
    });

  test("carries a search out: the same on any number of threads, within its budget, and with the bits of a run", async () => {
    const file = searching("search.json");
    const sheet = join(folder, "search.xlsx");
    const [one, three] = await Promise.all([
      harbor("experiment", file, "--search", "--json", "--threads", "1"),
      harbor("experiment", file, "--search", "--json", "--threads", "3", "--xlsx", sheet),
    ]);
    expect([one.code, one.err]).toEqual([0, ""]);
    expect(three.out).toBe(one.out);
    interface Found {
      best: number;
      finalists: number[];
      places: { name: string; values: Record<string, string>; measures: Run["measures"] }[];
    }
    const { best, finalists, places } = JSON.parse(one.out) as Found;
    expect(finalists).toContain(best);
    const spent = places.reduce((sum, { measures }) => sum + measures[0].values.length, 0);
    expect(spent).toBeLessThanOrEqual(120);
    const { values, measures } = places[best];
    const alone = changed("best.json", (study) => {
      for (const element of study.designs[0].elements) {
        if (element.id === "desks") element.capacity = values.Desks;
        if (element.id === "machine") element.capacity = values.Machines;
      }
    });
    const n = String(measures[0].values.length);
    const run = JSON.parse((await harbor("run", alone, "--json", "--replications", n)).out) as Run;
    const { element, measure } = measures[0];
    expect(run.measures.find((m) => m.element === element && m.measure === measure)?.values).toEqual(
      measures[0].values,
    );
    const workbook = new ExcelJS.Workbook();
    await workbook.xlsx.readFile(sheet);
    expect(workbook.worksheets.map(({ name, rowCount }) => [name, rowCount])).toEqual([
      ["Places", 1 + places.length],
      ["Replications", 1 + spent],
    ]);
  }, 60_000);

  test("prints what a search found, and refuses one that cannot be", async () => {
    const front = searching("front.json", {
      as: "front",
      also: [{ measure: "desks/utilization", better: "more" }],
      constraints: [{ coefficients: { desks: 1, machines: 1 }, most: 5 }],
    });
    const { code, out } = await harbor("experiment", front, "--search");
    expect(code).toBe(0);
    expect(out).toMatch(/^Desks and machines: \d+ places, \d+ replications\.\n {2}Desks \d, Machines \d/);
    expect(out).toContain("efficient");
    expect(await harbor("experiment", demo, "--search")).toMatchObject({ code: 2 });
    const counted = await harbor("experiment", front, "--search", "--replications", "5");
    expect([counted.code, counted.err]).toEqual([2, expect.stringContaining("its budget stands in the study")]);
    const wrong = await harbor("experiment", searching("wrong search.json", { matters: "" }), "--search", "--json");
    expect(wrong.code).toBe(1);
    expect(wrong.out).toContain("The smallest difference that matters is wanted");
  }, 60_000);

  test("names what is wrong: no experiment, one that is not there, a value that cannot be", async () => {
    const none = changed("no experiment.json", (study) => delete study.experiments);
    expect(await harbor("experiment", none)).toMatchObject({ code: 2, err: "The study has no experiment.\n" });
    const other = await harbor("experiment", demo, "--experiment", "Cranes");
    expect(other.code).toBe(2);
    expect(other.err).toContain('There is no experiment "Cranes". There is "Desks and machines".');
    const wrong = changed("wrong value.json", (study) => {
      const [experiment] = study.experiments as { scenarios: { values: Record<string, string> }[] }[];
      experiment.scenarios[3].values.desks = "many";
    });
    const refused = await harbor("experiment", wrong, "--json");
    expect(refused.code).toBe(1);
    expect((JSON.parse(refused.out) as { problems: { message: string }[] }).problems[0].message).toMatch(/many/);
  });
});

describe("harbor check-known", () => {
  const shipped = join(__dirname, "../../demo/known-answers");
  interface Known {
    outcomes: { model: string; figure: string; exact: number; mean: number; halfWidth: number; inside: boolean }[];
  }

  test("every figure known from theory lies in its interval, at a tenth of the effort too", async () => {
    const { code, out } = await harbor("check-known", "--effort", "0.1", "--json");
    const { outcomes } = JSON.parse(out) as Known;
    expect(outcomes.filter((o) => !o.inside)).toEqual([]);
    expect(code).toBe(0);
    // All rows of the reference are there, and no interval is so wide that it says nothing.
    const reference = JSON.parse(readFileSync(join(__dirname, "../../core/test/reference/queueing.json"), "utf8")) as {
      name: string;
    }[];
    expect([...new Set(outcomes.map((o) => o.model))]).toEqual(expect.arrayContaining(reference.map((r) => r.name)));
    for (const { model, figure, exact, halfWidth } of outcomes)
      expect([model, figure, halfWidth / exact < 0.1]).toEqual([model, figure, true]);
  });

  test("a figure that is wrong is found out", async () => {
    const answers = JSON.parse(readFileSync(join(shipped, "answers.json"), "utf8")) as {
      answers: { study: string; checks: { value: number }[] }[];
    };
    answers.answers = answers.answers.filter((a) => a.study === "dwell.json");
    answers.answers[0].checks[0].value *= 1.05;
    const known = mkdtempSync(join(folder, "known "));
    writeFileSync(join(known, "dwell.json"), readFileSync(join(shipped, "dwell.json")));
    writeFileSync(join(known, "answers.json"), JSON.stringify(answers));
    const { code, out } = await harbor("check-known", join(known, "answers.json"), "--effort", "0.2");
    expect(code).toBe(1);
    expect(out).toMatch(/^OUTSIDE dwell only/m);
    expect(out).toContain("1 of 2 known figures");
    // A study that is not beside it, and a file that is no file of answers, are told.
    writeFileSync(
      join(known, "gone.json"),
      JSON.stringify({ ...answers, answers: [{ ...answers.answers[0], study: "nowhere.json" }] }),
    );
    expect(await harbor("check-known", join(known, "gone.json"))).toMatchObject({
      code: 2,
      err: expect.stringContaining("nowhere.json") as string,
    });
    expect(await harbor("check-known", demo)).toMatchObject({
      code: 1,
      err: expect.stringContaining("format") as string,
    });
  });
});

describe("harbor check and schema", () => {
  test("a warning is listed, and the study is in order all the same", async () => {
    const file = changed(
      "warned.json",
      (s) =>
        void ((s.designs[0] as unknown as { displays: object[] }).displays[0] = {
          id: "d",
          kind: "number",
          at: [0, 0],
          value: "TicketLin.length",
        }),
    );
    const { code, err } = await harbor("check", file);
    expect(code).toBe(0);
    expect(err).toMatch(/^Warning: designs\[0\].*Did you mean Ticket line/);
  });
  test("a sound study has no problems", async () => {
    expect(await harbor("check", demo)).toEqual({ code: 0, out: "No problems.\n", err: "" });
  });
  test("problems of every design are listed", async () => {
    const file = changed("two.json", (s) => {
      s.designs[0].elements[4].capacity = "0";
      s.designs[1].elements[3].time = "5";
    });
    const { code, err } = await harbor("check", file);
    expect(code).toBe(1);
    expect(err.trim().split("\n")).toHaveLength(2);
  });
  test("a file that is no study is refused with a reason", async () => {
    const file = join(folder, "foreign.json");
    writeFileSync(file, "[]");
    expect(await harbor("check", file)).toMatchObject({
      code: 1,
      err: expect.stringContaining("foreign-file") as string,
    });
  });
  test("the schema is JSON Schema", async () => {
    const { out } = await harbor("schema");
    expect(JSON.parse(out)).toMatchObject({ title: "Busy Harbor study, version 1", type: "object" });
  });
});

describe("calls that cannot be carried out are named, in a line, with the exit code for it", () => {
  test.each([
    ["--replications", "4294967296"],
    ["--replications", "100001"],
    ["--replications", "0"],
    ["--threads", "300"],
    ["--threads", "1.5"],
    ["--seed", "9007199254740992"],
    ["--level", "1"],
  ])("%s %s", async (option, value) => {
    const { code, out, err } = await harbor("run", demo, option, value);
    expect({ code, out }).toEqual({ code: 2, out: "" });
    expect(err).toMatch(new RegExp(`${option}.*${value.replace(".", "\\.")}`));
    expect(err).not.toMatch(/\bat .*:\d+:\d+/);
  });

  test("a folder, a file that is no text, an empty file", async () => {
    expect((await harbor("check", folder)).code).toBe(2);
    const bytes = join(folder, "bytes.json");
    writeFileSync(bytes, Buffer.from([0, 255, 254, 1, 2]));
    const empty = join(folder, "empty.json");
    writeFileSync(empty, "");
    for (const file of [bytes, empty]) {
      const { code, err } = await harbor("check", file);
      expect(code).toBe(1);
      expect(err).toMatch(/not JSON/);
    }
  });

  test("a full device: the output cannot be written, and that is said", async () => {
    const { code, err } = await new Promise<Outcome>((resolve) => {
      execFile("sh", ["-c", `"${process.execPath}" "${bin}" schema > /dev/full`], (error, out, err) =>
        resolve({ code: error ? Number(error.code) : 0, out, err }),
      );
    });
    expect(code).toBe(2);
    expect(err).toMatch(/^The output cannot be written: .*\n$/);
  });
});

test("a byte-order mark at the start of a file is no part of it", async () => {
  const file = join(folder, "marked.json");
  writeFileSync(file, `\uFEFF${readFileSync(demo, "utf8")}`);
  expect(await harbor("check", file)).toEqual({ code: 0, out: "No problems.\n", err: "" });
});

test("a date that does not exist is a problem, wherever it stands", async () => {
  for (const [name, change] of [
    ["start", { start: "2026-13-01T08:00" }],
    ["hour", { start: "2026-06-01T25:00" }],
    ["leap", { start: "2026-02-29T08:00" }],
    ["end", { ends: "date", endDate: "2026-06-31T08:00" }],
  ] as const) {
    const file = changed(`${name}.json`, (study) => Object.assign(study.run as object, change));
    const { code, err } = await harbor("check", file);
    expect({ name, code }).toEqual({ name, code: 1 });
    expect(err).toMatch(/does not exist|There is no 2026/);
    expect((await harbor("run", file)).code).toBe(1);
  }
});
