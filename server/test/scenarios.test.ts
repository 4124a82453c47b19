import { readFileSync } from "node:fs";
import { join } from "node:path";
import {
  compile,
  meanInterval,
  measuresOf,
  readStudyText,
  run,
  searchPlanSchema,
  type Study,
  writeStudy,
} from "@busy-harbor/core";
import { readSearch, scenarioStudy } from "@busy-harbor/core/experiments";
import { searchStep, selectionStep } from "@busy-harbor/core/inference";
import {
  type Experiment,
  experimentSchema,
  type ProblemDocument,
  problemDocumentSchema,
  type Responses,
  responsesSchema,
  type RunSummary,
  runSummarySchema,
  type Selection,
} from "@busy-harbor/core/contract";
import { startServer, type TestServer } from "./startServer.ts";

/** A demo with an experiment of so many scenarios: the desk's capacity by the time of its work. */
function planned(scenarios: number, replications: number, length = "1 h"): Study {
  const read = readStudyText(readFileSync(join(process.cwd(), "demo", "foot-passengers.json"), "utf8"));
  if (!read.ok) throw new Error("The demo is read.");
  const { study } = read;
  const [design] = study.designs;
  const station = design.elements.find(({ kind }) => kind === "station")!;
  return {
    ...study,
    name: "Scenarios",
    run: { ...study.run, length, replications },
    experiments: [
      {
        id: "e",
        name: "Desks",
        note: "",
        baseline: "",
        measures: [],
        random: "common",
        factors: [{ id: "c", name: "Desks", at: ["elements", station.id, "capacity"] }],
        scenarios: Array.from({ length: scenarios }, (_, i) => ({
          id: `s${i}`,
          name: "",
          design: design.id,
          values: { c: String(1 + (i % 7)) },
        })),
      },
    ],
  };
}

const json = (method: string, body?: unknown): RequestInit => ({
  method,
  headers: { "content-type": "application/json" },
  ...(body === undefined ? {} : { body: JSON.stringify(body) }),
});

async function opened({ url }: TestServer, study: Study): Promise<string> {
  const response = await fetch(`${url}/api/studies`, json("POST", { study: JSON.parse(writeStudy(study)) as unknown }));
  expect(response.status).toBe(201);
  return ((await response.json()) as { id: string }).id;
}
const started = ({ url }: TestServer, study: string, scenarios: readonly string[], plan = "e") =>
  fetch(`${url}/api/studies/${study}/experiments`, json("POST", { plan, scenarios }));
const made = async (response: Response): Promise<Experiment> => {
  expect(response.status).toBe(201);
  return experimentSchema.parse(await response.json());
};
const runsOf = async ({ url }: TestServer, study: string): Promise<RunSummary[]> =>
  runSummarySchema.array().parse(await (await fetch(`${url}/api/studies/${study}/runs`)).json());
async function over(server: TestServer, id: string): Promise<Experiment> {
  for (;;) {
    const read = experimentSchema.parse(await (await fetch(`${server.url}/api/experiments/${id}`)).json());
    if (!["queued", "running"].includes(read.state)) return read;
    await new Promise((resolve) => setTimeout(resolve, 40));
  }
}
const responses = async (
  { url }: TestServer,
  runs: readonly string[],
  measures: readonly string[],
): Promise<Responses> =>
  responsesSchema.parse(await (await fetch(`${url}/api/responses`, json("POST", { runs, measures }))).json());

/** A measure that every design of the demo has, with its place among all of a design's. */
function someMeasure(study: Study): string {
  const { program } = compile(study, study.designs[0].id);
  return measuresOf(program!).find(({ key }) => key.endsWith("/timeInSystem.mean"))!.key;
}

describe("scenarios of an experiment", () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startServer();
  }, 60_000);
  afterAll(() => server.stop());

  test("run with the values of their factors, to the bits of the core, and tell what they are", async () => {
    const study = planned(3, 2);
    const id = await opened(server, study);
    const { id: experiment } = await made(await started(server, id, ["s2", "s0"]));
    const { points } = await over(server, experiment);
    expect(points.map(({ plan, scenario, name, factors, state }) => [plan, scenario, name, factors, state])).toEqual([
      ["e", "s2", "Desks 3", { Desks: "3" }, "done"],
      ["e", "s0", "Desks 1", { Desks: "1" }, "done"],
    ]);
    const key = someMeasure(study);
    const found = await responses(server, [points[1].id, points[0].id], [key, "no/such"]);
    const [plan] = study.experiments!;
    const computed = [0, 2].map((i) => {
      const applied = scenarioStudy(study, plan, plan.scenarios[i]);
      if (!applied.ok) throw new Error("It can be applied.");
      const { program } = compile(applied.study, applied.design.id);
      const at = measuresOf(program!).findIndex((m) => m.key === key);
      return [1, 2].map((replication) => run(program!, { seed: study.run.seed, replication })!.values[at]);
    });
    expect(found.map(({ values }) => values[0])).toEqual(computed);
    expect(found.map(({ replications, values }) => [replications, values[1]])).toEqual([
      [[1, 2], null],
      [[1, 2], null],
    ]);
    expect(computed[0]).not.toEqual(computed[1]);
  });

  test("are not queued where one has problems; all of these are told, with the scenario they are of", async () => {
    const study = planned(3, 2);
    const [plan] = study.experiments!;
    plan.scenarios[0].values = { c: "many" };
    plan.scenarios[2].design = "gone";
    const id = await opened(server, study);
    const response = await started(server, id, ["s0", "s1", "s2"]);
    expect(response.status).toBe(422);
    const { title, problems } = problemDocumentSchema.parse((await response.json()) as ProblemDocument);
    expect(title).toBe("2 scenarios have problems and cannot run.");
    expect(new Set(problems!.map(({ scenario }) => scenario))).toEqual(new Set(["s0", "s2"]));
    expect(await runsOf(server, id)).toEqual([]);
    expect((await started(server, id, ["s1"], "gone")).status).toBe(404);
    expect((await started(server, id, ["nobody"])).status).toBe(404);
  });

  test("that were stopped go on, and those that are over are made longer, with the numbers they had", async () => {
    const study = planned(1, 400, "20 h");
    const id = await opened(server, study);
    const { points } = await made(await started(server, id, ["s0"]));
    const [{ id: point }] = points;
    await fetch(`${server.url}/api/runs/${point}/cancel`, { method: "POST" });
    const stopped = (await over(server, point)).points[0];
    expect(stopped.state).toBe("cancelled");
    const key = someMeasure(study);
    const [before] = await responses(server, [point], [key]);
    const goOn = (replications?: number) =>
      fetch(`${server.url}/api/runs/${point}/continue`, json("POST", { replications }));
    expect((await goOn(2)).status).toBe(409);
    expect((await goOn()).status).toBe(202);
    expect((await goOn()).status).toBe(409);
    expect((await over(server, point)).points[0]).toMatchObject({ state: "done", finished: 400 });
    expect((await goOn(402)).status).toBe(202);
    const longer = (await over(server, point)).points[0];
    expect(longer).toMatchObject({ state: "done", finished: 402, settings: { replications: 402 } });
    const [after] = await responses(server, [point], [key]);
    expect(after.replications).toEqual(Array.from({ length: 402 }, (_, i) => i + 1));
    before.replications.forEach((r, i) => expect(after.values[0]![r - 1]).toBe(before.values[0]![i]));
  });

  test("are taken away and brought back", async () => {
    const id = await opened(server, planned(2, 1));
    const { points } = await made(await started(server, id, ["s0", "s1"]));
    await over(server, points[0].id);
    expect((await fetch(`${server.url}/api/runs/${points[0].id}`, { method: "DELETE" })).status).toBe(204);
    expect((await runsOf(server, id)).map((r) => r.id)).toEqual([points[1].id]);
    expect((await fetch(`${server.url}/api/runs/${points[0].id}/restore`, { method: "POST" })).status).toBe(200);
    expect((await runsOf(server, id)).map((r) => r.id)).toEqual([points[0].id, points[1].id]);
  });
});

test("a server that is killed five times loses nothing of an experiment and does nothing twice", async () => {
  const study = planned(20, 50, "2 h");
  const scenarios = study.experiments![0].scenarios.map(({ id }) => id);
  const key = someMeasure(study);
  const whole = async (server: TestServer, points: readonly RunSummary[]) =>
    (
      await responses(
        server,
        points.map(({ id }) => id),
        [key],
      )
    ).map(({ replications, values }) => ({ replications, values }));

  const calm = await startServer();
  const undisturbed = await made(await started(calm, await opened(calm, study), scenarios));
  const expected = await whole(calm, (await over(calm, undisturbed.id)).points);
  await calm.stop();

  let server = await startServer();
  const { data } = server;
  const { id: experiment } = await made(await started(server, await opened(server, study), scenarios));
  const finished = async () => {
    const read = experimentSchema.parse(await (await fetch(`${server.url}/api/experiments/${experiment}`)).json());
    return read.points.reduce((sum, point) => sum + point.finished, 0);
  };
  let known = 0;
  for (let kill = 1; kill <= 5; kill++) {
    while (known < kill * 150) {
      await new Promise((resolve) => setTimeout(resolve, 20));
      known = await finished();
    }
    expect(known).toBeLessThan(1000);
    await server.stop("SIGKILL");
    server = await startServer(data);
    // What had ended is still there.
    expect(await finished()).toBeGreaterThanOrEqual(known);
  }
  const { points, state } = await over(server, experiment);
  expect(state).toBe("done");
  expect(await whole(server, points)).toEqual(expected);
  await server.stop();
}, 120_000);

describe("a run to a precision", () => {
  const settings = (to: string, most = 5000) => ({
    precision: { goals: [{ measure: "commuter/timeInSystem.mean", to, relative: false }], most },
  });
  const start = async ({ url }: TestServer, study: string, design: string, more: object) =>
    fetch(`${url}/api/studies/${study}/runs`, json("POST", { designId: design, settings: more }));

  test("ends at the first replication at which the half-width is small enough, also when it is killed meanwhile", async () => {
    const study = planned(1, 40, "10 h");
    let server = await startServer();
    const { data } = server;
    const design = study.designs[0].id;
    const response = await start(server, await opened(server, study), design, settings("30 s"));
    expect(response.status).toBe(201);
    const { id } = runSummarySchema.parse(await response.json());
    let known = 0;
    while (known < 20) {
      await new Promise((resolve) => setTimeout(resolve, 20));
      known = (await runNow(server, id)).finished;
    }
    await server.stop("SIGKILL");
    server = await startServer(data);
    const { points } = await over(server, id);
    const { program } = compile({ ...study, run: { ...study.run } }, design);
    const at = measuresOf(program!).findIndex(({ key }) => key === "commuter/timeInSystem.mean");
    const values: number[] = [];
    for (let replication = 1; ; replication++) {
      values.push(run(program!, { seed: study.run.seed, replication })!.values[at]);
      if (replication >= 10 && meanInterval(values, 0.95).halfWidth <= 30) break;
    }
    expect(values.length).toBeGreaterThan(20);
    expect(points[0]).toMatchObject({
      state: "done",
      finished: values.length,
      settings: { replications: values.length },
    });
    const [kept] = await responses(server, [id], ["commuter/timeInSystem.mean"]);
    expect(kept.values[0]).toEqual(values);
    await server.stop();
  }, 60_000);

  test("that cannot be read is refused at its place", async () => {
    const server = await startServer();
    const study = planned(1, 5);
    const response = await start(server, await opened(server, study), study.designs[0].id, settings("3 m"));
    expect(response.status).toBe(422);
    const { problems } = problemDocumentSchema.parse(await response.json());
    expect(problems?.[0]).toMatchObject({ path: ["run", "precision", "goals", 0, "to"] });
    await server.stop();
  });
});

describe("the best of several scenarios", () => {
  const selection: Selection = {
    method: "kim and nelson",
    measure: "commuter/timeInSystem.mean",
    better: "less",
    p: 0.95,
    indifference: 20,
    firstStage: 10,
    most: 500,
  };
  const select = ({ url }: TestServer, study: string, scenarios: readonly string[], more: Partial<Selection> = {}) =>
    fetch(
      `${url}/api/studies/${study}/experiments`,
      json("POST", { plan: "e", scenarios, selection: { ...selection, ...more } }),
    );
  const chosen = async (server: TestServer, id: string): Promise<Experiment> => {
    for (;;) {
      const read = experimentSchema.parse(await (await fetch(`${server.url}/api/experiments/${id}`)).json());
      const { state, selectionState } = read;
      if (state === "done" && selectionState?.selected !== null) return read;
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  };

  test("is selected by replications where they are needed, as the core does it, also when killed meanwhile", async () => {
    const study = planned(5, 40);
    const [plan] = study.experiments!;
    // Desks 3 to 7, of which the last are hard to tell apart.
    plan.scenarios.forEach((s, i) => (s.values = { c: String(3 + i) }));
    let server = await startServer();
    const { data } = server;
    const ids = plan.scenarios.map(({ id }) => id);
    const { id } = await made(await select(server, await opened(server, study), ids));
    await new Promise((resolve) => setTimeout(resolve, 400));
    await server.stop("SIGKILL");
    server = await startServer(data);
    const { points, selectionState } = await chosen(server, id);

    const programs = plan.scenarios.map((s) => {
      const applied = scenarioStudy(study, plan, s);
      if (!applied.ok) throw new Error("It can be applied.");
      return compile(applied.study, applied.design.id).program!;
    });
    const at = measuresOf(programs[0]).findIndex(({ key }) => key === selection.measure);
    const values: number[][] = programs.map(() => []);
    let step = selectionStep(values, selection);
    while (step.selected === undefined) {
      step.wanted.forEach((n, i) => {
        while (values[i].length < n)
          values[i].push(run(programs[i], { seed: study.run.seed, replication: values[i].length + 1 })!.values[at]);
      });
      step = selectionStep(values, selection);
    }
    expect(selectionState).toEqual({
      wanted: step.wanted,
      inPlay: step.inPlay,
      selected: step.selected,
      holds: step.holds,
    });
    expect(points.map(({ finished }) => finished)).toEqual(step.wanted);
    // Some were put out after the first stage; others took more.
    expect(new Set(step.wanted).size).toBeGreaterThan(1);
    await server.stop();
  }, 60_000);

  test("is not begun by a measure that a design does not have", async () => {
    const server = await startServer();
    const id = await opened(server, planned(2, 5));
    const refused = await select(server, id, ["s0", "s1"], { measure: "no/such" });
    expect(refused.status).toBe(422);
    expect((await select(server, id, ["s0", "s1"], { p: 2 })).status).toBe(400);
    expect(await runsOf(server, id)).toEqual([]);
    await server.stop();
  });
});

describe("a search over ranges of the factors", () => {
  const search = {
    design: "shared",
    ranges: { c: { from: "1", to: "8" }, m: { from: "1", to: "4" } },
    measure: "commuter/timeInSystem.mean",
    matters: "20 s",
    budget: 600,
  };
  const ranged = (more: object = {}): Study => {
    const study = planned(1, 5);
    const [plan] = study.experiments!;
    plan.factors.push({ id: "m", name: "Machines", at: ["elements", "machine", "capacity"] });
    plan.search = searchPlanSchema.parse({ ...search, ...more });
    return study;
  };
  const begin = ({ url }: TestServer, study: string) =>
    fetch(`${url}/api/studies/${study}/searches`, json("POST", { search: "e" }));
  const ended = async (server: TestServer, id: string): Promise<Experiment> => {
    for (;;) {
      const read = experimentSchema.parse(await (await fetch(`${server.url}/api/experiments/${id}`)).json());
      const { phase, problem } = read.searchState!;
      if (read.state === "done" && (phase === "over" || problem)) return read;
      await new Promise((resolve) => setTimeout(resolve, 60));
    }
  };

  test("ends where the core does, stopped and gone on, killed and taken up again meanwhile", async () => {
    const study = ranged();
    let server = await startServer();
    const { data } = server;
    const { id, points: first } = await made(await begin(server, await opened(server, study)));
    expect(first.length).toBeGreaterThan(3);
    await server.stop("SIGKILL");
    server = await startServer(data);
    // A person stops it, and has it go on.
    const order = async (what: "stop" | "continue") =>
      experimentSchema.parse(
        await (await fetch(`${server.url}/api/experiments/${id}/${what}`, { method: "POST" })).json(),
      );
    expect((await order("stop")).searchState).toMatchObject({ stopped: true });
    const stopped = await over(server, id);
    await new Promise((resolve) => setTimeout(resolve, 300));
    // Nothing more is begun.
    expect((await over(server, id)).points.length).toBe(stopped.points.length);
    expect((await order("continue")).searchState).toMatchObject({ stopped: false });
    const { points, searchState } = await ended(server, id);
    await server.stop();

    const { program } = compile(study, "shared");
    const found = readSearch(study, study.experiments![0], measuresOf(program!));
    if (!found.ok) throw new Error(JSON.stringify(found.problems));
    const { settings, texts } = found.search;
    const at = measuresOf(program!).findIndex(({ key }) => key === search.measure);
    const programs = new Map<string, NonNullable<typeof program>>();
    const history: { values: number[] }[] = [];
    let step = searchStep(history, settings);
    while (step.phase !== "over") {
      step.wanted.forEach(({ point, replications }, i) => {
        const values = { c: texts[0][point[0]], m: texts[1][point[1]] };
        const key = JSON.stringify(values);
        if (!programs.has(key)) {
          const applied = scenarioStudy(study, study.experiments![0], { id: "x", name: "", design: "shared", values });
          if (!applied.ok) throw new Error("It can be applied.");
          programs.set(key, compile(applied.study, "shared").program!);
        }
        history[i] ??= { values: [] };
        for (let r = history[i].values.length + 1; r <= replications; r++)
          history[i].values.push(run(programs.get(key)!, { seed: study.run.seed, replication: r })!.values[at]);
      });
      step = searchStep(history, settings);
    }
    const { best, path, finalists, holds } = step;
    expect(searchState).toMatchObject({ phase: "over", best, path, finalists, holds });
    expect(points.map(({ finished }) => finished)).toEqual(step.wanted.map(({ replications }) => replications));
    const [c, m] = step.wanted[best!].point;
    expect(points[best!]).toMatchObject({
      factors: { Desks: texts[0][c], Machines: texts[1][m] },
      name: `Desks ${texts[0][c]}, Machines ${texts[1][m]}`,
      plan: "e",
      scenario: "",
    });
  }, 90_000);

  test("says what it lacks, by its place", async () => {
    const server = await startServer();
    const wrong = ranged({ matters: "20 kg", ranges: { c: { from: "8", to: "1" }, m: { choices: "1" } } });
    const response = await begin(server, await opened(server, wrong));
    expect(response.status).toBe(422);
    const { problems } = problemDocumentSchema.parse(await response.json());
    expect(problems?.map(({ field }) => field).sort()).toEqual(["c", "m", "matters"]);
    const none = planned(1, 5);
    expect((await begin(server, await opened(server, none))).status).toBe(404);
    await server.stop();
  });
});

/** One run as it stands. */
const runNow = async ({ url }: TestServer, id: string): Promise<RunSummary> =>
  runSummarySchema.parse(await (await fetch(`${url}/api/runs/${id}`)).json());
