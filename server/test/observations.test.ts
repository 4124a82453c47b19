import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { readStudyText } from "@busy-harbor/core";
import { runSummarySchema } from "@busy-harbor/core/contract";
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

describe("observations of a run", () => {
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
