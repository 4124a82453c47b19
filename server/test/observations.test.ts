import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { readStudyText } from "@busy-harbor/core";
import { distributionSchema, keptInRunSchema, overTimeSchema, runSummarySchema } from "@busy-harbor/core/contract";
import Papa from "papaparse";
import replicate from "../src/replicationWorker.ts";
import { startServer, type TestServer } from "./startServer.ts";

const STUDY = JSON.stringify({
  format: "busy-harbor-study",
  version: 1,
  name: "Desk",
  run: { length: "4 h", replications: 3, seed: 5, observations: true },
  designs: [
    {
      id: "d",
      name: "Base",
      entityTypes: [{ id: "t", name: "Visitor, paying" }],
      elements: [
        { kind: "arrivals", id: "a", name: "A", at: [0, 0], entityType: "t", between: "exponential(5 min)" },
        { kind: "station", id: "s", name: "Desk", at: [8, 0], time: "exponential(3 min)" },
        { kind: "departures", id: "o", name: "Out", at: [16, 0] },
      ],
      links: [
        { id: "l1", from: "a", to: "s" },
        { id: "l2", from: "s", to: "o" },
      ],
    },
  ],
});

let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

const post = async (path: string, body: unknown) =>
  (
    await fetch(`${server.url}/api${path}`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(body),
    })
  ).json();
const finished = async (id: string) => {
  for (let tried = 0; tried < 200; tried++) {
    const run = runSummarySchema.parse(await (await fetch(`${server.url}/api/runs/${id}`)).json());
    if (run.state !== "queued" && run.state !== "running") return run;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error("The run does not end.");
};

describe("observations of a run", () => {
  test("are written to a file of each replication, and are had as one, in their order, with one line of names", async () => {
    const study = (await post("/studies", { study: JSON.parse(STUDY) as unknown })) as { id: string };
    const { id } = (await post(`/studies/${study.id}/runs`, { designId: "d" })) as { id: string };
    expect((await finished(id)).state).toBe("done");
    expect(readdirSync(join(server.data, "observations", id)).sort()).toEqual(["1.csv", "2.csv", "3.csv"]);
    const response = await fetch(`${server.url}/api/runs/${id}/observations.csv`);
    expect(response.headers.get("content-type")).toContain("text/csv");
    const [head, ...rows] = Papa.parse<string[]>((await response.text()).trimEnd()).data;
    expect(head.slice(0, 4)).toEqual(["Replication", "Left at (s)", "By", "Type"]);
    expect([...new Set(rows.map(([replication]) => replication))]).toEqual(["1", "2", "3"]);
    expect(rows.every(([, , by, type]) => by === "Out" && type === "Visitor, paying")).toBe(true);

    // As many as the measure counts in each.
    const results = (await (await fetch(`${server.url}/api/runs/${id}/results`)).json()) as {
      measures: { key: string }[];
      replications: { number: number; values: number[] }[];
    };
    const at = results.measures.findIndex(({ key }) => key === "o/departed");
    for (const { number, values } of results.replications)
      expect(rows.filter(([replication]) => Number(replication) === number)).toHaveLength(values[at]);
  });

  test("rows that steps write are had as a table each, of all replications in their order", async () => {
    const model = JSON.parse(STUDY) as { run: { observations?: boolean }; designs: Record<string, unknown>[] };
    delete model.run.observations;
    const write = (table: string, column: string, to: string) => ({
      id: `step-${column}`,
      do: "write",
      table,
      values: [{ id: "v", column, to }],
    });
    model.designs[0].rules = [
      {
        id: "r",
        of: "element",
        at: "s",
        event: "comes in",
        steps: [write("Came", "line", "Desk.queue.length"), write("Ages, all", "age", "entity.age")],
      },
    ];
    const study = (await post("/studies", { study: model })) as { id: string };
    const { id } = (await post(`/studies/${study.id}/runs`, { designId: "d" })) as { id: string };
    expect((await finished(id)).state).toBe("done");
    const get = (path: string) => fetch(`${server.url}/api/runs/${id}/rows${path}`);
    expect(await (await get("")).json()).toEqual(["Came", "Ages, all"]);
    const response = await get("/1.csv");
    expect(response.headers.get("content-disposition")).toContain("Ages, all.csv");
    const [head, ...rows] = Papa.parse<string[]>((await response.text()).trimEnd()).data;
    expect(head).toEqual(["Replication", "Written at (s)", "age (s)"]);
    expect([...new Set(rows.map(([replication]) => replication))]).toEqual(["1", "2", "3"]);
    expect(rows.every(([, , age]) => Number(age) >= 0)).toBe(true);
    expect((await get("/2.csv")).status).toBe(404);
    expect((await get("/x.csv")).status).toBe(404);
  });

  test("of a run that wrote none there is no file", async () => {
    const plain = JSON.parse(STUDY) as { run: { observations?: boolean } };
    delete plain.run.observations;
    const study = (await post("/studies", { study: plain })) as { id: string };
    const { id } = (await post(`/studies/${study.id}/runs`, { designId: "d" })) as { id: string };
    await finished(id);
    const response = await fetch(`${server.url}/api/runs/${id}/observations.csv`);
    expect(response.status).toBe(404);
    expect(((await response.json()) as { title: string }).title).toBe("There is no such file of observations.");
    expect(await (await fetch(`${server.url}/api/runs/${id}/rows`)).json()).toEqual([]);
  });
});

describe("what is kept of chosen measures", () => {
  const keeping = (run: object = {}) => {
    const model = JSON.parse(STUDY) as { run: object };
    model.run = { ...model.run, observations: undefined, kept: ["s/wait", "s/state", "x/nothing"], ...run };
    return JSON.parse(JSON.stringify(model)) as object;
  };
  const runOf = async (model: object): Promise<string> => {
    const study = (await post("/studies", { study: model })) as { id: string };
    const { id } = (await post(`/studies/${study.id}/runs`, { designId: "d" })) as { id: string };
    expect((await finished(id)).state).toBe("done");
    return id;
  };
  const get = (path: string) => fetch(`${server.url}/api/runs/${path}`);
  const reading = async (path: string): Promise<unknown> => (await get(path)).json();

  test("the distribution of all replications, in bins of one's own, agrees with the rows and with the figures", async () => {
    const id = await runOf(keeping());
    const about = keptInRunSchema.parse(await reading(`${id}/kept`));
    expect(about.replications).toEqual([1, 2, 3]);
    expect(about.sources[3]).toEqual({ id: "s/wait", isLevel: false });
    expect(about.sources.slice(0, 3).map(({ part }) => part)).toEqual(["busy", "blocked", "idle"]);

    const [, ...rows] = Papa.parse<string[]>((await (await get(`${id}/kept/3.csv`)).text()).trimEnd()).data;
    const waits = rows.map(([, , wait]) => Number(wait));
    const found = distributionSchema.parse(
      await reading(`${id}/kept/3/distribution?start=0&width=30&count=4&factor=60`),
    )!;
    expect(found.replications).toBe(3);
    expect(found.weight).toBe(waits.length);
    expect(found.weights).toEqual([0, 30, 60, 90].map((w) => waits.filter((v) => v >= w && v < w + 30).length));
    expect(found.above).toBe(waits.filter((v) => v >= 120).length);
    expect(found.below).toBe(0);
    const rising = [...waits].sort((a, b) => a - b);
    expect(found.quantiles.find(({ p }) => p === 0.9)!.value).toBe(rising[Math.ceil(0.9 * rising.length) - 1]);

    const one = distributionSchema.parse(await reading(`${id}/kept/3/distribution?replication=2`))!;
    const results = (await (await get(`${id}/results`)).json()) as {
      measures: { key: string }[];
      replications: { number: number; values: number[] }[];
    };
    const at = results.measures.findIndex(({ key }) => key === "s/wait.mean");
    expect(one.mean).toBeCloseTo(results.replications[1].values[at], 9);
  });

  test("over time: pieces and hours of the day over replications, and one replication as it was", async () => {
    const id = await runOf(keeping());
    const over = overTimeSchema.parse(await reading(`${id}/kept/0/over-time?pieces=10&replication=2`));
    const idle = overTimeSchema.parse(await reading(`${id}/kept/2/over-time?pieces=10&replication=2`));
    expect(over.pieces.n).toEqual(Array(10).fill(3));
    // Busy and idle make up all of the time, as nothing ever blocks here.
    over.pieces.mean.forEach((busy, i) => expect(busy! + idle.pieces.mean[i]!).toBeCloseTo(1, 9));
    expect(over.one).toHaveLength(10);
    expect(over.times[0]).toBe(0);
    expect(new Set(over.values)).toEqual(new Set([0, 1]));
    expect(over.hours.n.filter((n) => n > 0).length).toBe(Math.ceil((10 * over.width) / 3600));
  });

  test("of a long run all batches are one series; of a run that keeps nothing there is none", async () => {
    const id = await runOf(keeping({ kind: "long" }));
    expect(keptInRunSchema.parse(await reading(`${id}/kept`)).replications).toEqual([1]);
    const nothing = await runOf(keeping({ kept: undefined }));
    expect((await get(`${nothing}/kept`)).status).toBe(404);
    expect((await get(`${id}/kept/9/distribution`)).status).toBe(404);
    expect((await get(`${id}/kept/0/distribution?start=3`)).status).toBe(400);
    expect((await get(`${id}/kept/0/over-time?pieces=0`)).status).toBe(400);
  });
});

test("a run is repeated from all that made it, and compared to the last bit; what made it is told", async () => {
  const study = (await post("/studies", { study: JSON.parse(STUDY) as unknown })) as { id: string };
  const first = (await post(`/studies/${study.id}/runs`, { designId: "d" })) as { id: string; number: number };
  await finished(first.id);
  const again = runSummarySchema.parse(await post(`/runs/${first.id}/repeat`, {}));
  expect([again.repeats, again.number, again.state]).toEqual([first.id, first.number + 1, "queued"]);
  expect((await finished(again.id)).state).toBe("done");
  const same = async (other: string) => (await fetch(`${server.url}/api/runs/${again.id}/same-as/${other}`)).json();
  expect(await same(first.id)).toEqual({ compared: 3, differing: 0 });

  const otherSeed = JSON.parse(STUDY) as { run: { seed: number } };
  otherSeed.run.seed = 6;
  const other = (await post("/studies", { study: otherSeed })) as { id: string };
  const different = (await post(`/studies/${other.id}/runs`, { designId: "d" })) as { id: string };
  await finished(different.id);
  expect(await same(different.id)).toEqual({ compared: 3, differing: 3 });
  expect((await fetch(`${server.url}/api/runs/${again.id}/same-as/nobody`)).status).toBe(404);
  expect((await fetch(`${server.url}/api/runs/nobody/repeat`, { method: "POST" })).status).toBe(404);

  const made = readStudyText(await (await fetch(`${server.url}/api/runs/${different.id}/study`)).text());
  expect(made.ok && [made.study.run.seed, made.study.designs.map(({ id }) => id)]).toEqual([6, ["d"]]);
});

test("where they cannot be written the replication has failed, and says so", () => {
  const folder = mkdtempSync(join(tmpdir(), "harbor-observations-"));
  const taken = join(folder, "taken");
  writeFileSync(taken, "a file where a folder should be");
  const read = readStudyText(STUDY);
  if (!read.ok) throw new Error("The study cannot be read.");
  const job = {
    documentId: "x",
    snapshot: STUDY,
    designId: "d",
    seed: 1,
    replications: [1],
    stop: new Int32Array(new SharedArrayBuffer(4)),
  };
  const [failed] = replicate({ ...job, observations: join(taken, "run") });
  expect(failed.failure).toMatchObject({ code: "not-written" });
  expect(failed.failure?.message).toMatch(/^The observations cannot be written: /);
  // Stopped in the middle it leaves no whole file.
  Atomics.store(job.stop, 0, 1);
  const path = join(folder, "stopped");
  const long = STUDY.replace('"4 h"', '"4000000 h"');
  expect(replicate({ ...job, documentId: "y", snapshot: long, observations: path })).toEqual([]);
  expect(readdirSync(path)).toEqual(["1.csv.part"]);
  expect(readFileSync(join(path, "1.csv.part"), "utf8").length).toBeGreaterThan(0);
  rmSync(folder, { recursive: true });
});
