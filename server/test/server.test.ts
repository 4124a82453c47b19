import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { execFile } from "node:child_process";
import { startServer, type TestServer } from "./startServer.ts";

jest.setTimeout(60_000);

const demo = JSON.parse(readFileSync(join(__dirname, "../../demo/foot-passengers.json"), "utf8")) as {
  name: string;
  run: object;
  designs: { elements: Record<string, unknown>[] }[];
};

let server: TestServer;
beforeAll(async () => {
  server = await startServer(mkdtempSync(join(tmpdir(), "harbor-data-")));
});
afterAll(() => server.stop());

interface Answer {
  status: number;
  type: string;
  body: Record<string, unknown> & { id: string; revision: number; problems: { code: string; path: unknown[] }[] };
}

async function call(method: string, path: string, body?: unknown): Promise<Answer> {
  const response = await fetch(`${server.url}/api${path}`, {
    method,
    ...(body === undefined
      ? {}
      : {
          headers: { "content-type": "application/json" },
          body: typeof body === "string" ? body : JSON.stringify(body),
        }),
  });
  const text = await response.text();
  return {
    status: response.status,
    type: response.headers.get("content-type") ?? "",
    body: (text ? JSON.parse(text) : {}) as Answer["body"],
  };
}

/** Values of a run, one row a measure. */
async function valuesOf(run: string): Promise<(number | null)[][]> {
  const { body } = await call("GET", `/runs/${run}/results`);
  const rows = body.replications as { values: (number | null)[] }[];
  return (body.measures as unknown[]).map((_, m) => rows.map((row) => row.values[m]));
}

const create = async () => (await call("POST", "/studies", { study: demo })).body;

async function finished(run: string): Promise<Record<string, unknown>> {
  for (;;) {
    const { body } = await call("GET", `/runs/${run}`);
    if (body.state !== "running" && body.state !== "queued") return body;
    await new Promise((resolve) => setTimeout(resolve, 30));
  }
}

describe("studies", () => {
  test("the demos are there at the first start", async () => {
    const { body } = await call("GET", "/studies");
    const byName = (body as unknown as { name: string }[]).sort((a, b) => (a.name < b.name ? 1 : -1));
    expect(byName).toMatchObject([
      {
        name: "Island parcels",
        designs: ["Two at each depot", "Where the parcels are", "At home anywhere", "Two at each, sails sooner"],
      },
      { name: "Hull workshop", designs: ["As it is", "Second painting bay", "Second rigger"] },
      { name: "Foot passengers for the 9:10", designs: ["One shared line", "A line at each desk"] },
      { name: "Cruise call", designs: ["Three, in turn", "Three, the nearest", "Four, in turn"] },
      { name: "Container workshop", designs: ["As it is", "Second inspector"] },
      {
        name: "Container quay",
        designs: ["Four trucks, one shift", "Six trucks", "Second shift", "Six trucks and a second shift"],
      },
      { name: "Chandlery store", designs: ["Weekly review", "Reorder points"] },
    ]);
  });

  test("what is saved comes back whole", async () => {
    const { id, revision, study } = await create();
    expect(study).toEqual(demo);
    const saved = await call("PUT", `/studies/${id}`, { revision, study: { ...demo, name: "Renamed" } });
    expect(saved).toMatchObject({ status: 200, body: { revision: 2 } });
    expect((await call("GET", `/studies/${id}`)).body.study).toMatchObject({ name: "Renamed" });
  });

  test("a stale write is refused with the present version, and changes nothing", async () => {
    const { id } = await create();
    await call("PUT", `/studies/${id}`, { revision: 1, study: { ...demo, name: "First" } });
    const stale = await call("PUT", `/studies/${id}`, { revision: 1, study: { ...demo, name: "Second" } });
    expect(stale).toMatchObject({
      status: 409,
      type: expect.stringContaining("application/problem+json") as string,
      body: { current: { revision: 2, study: { name: "First" } } },
    });
    expect((await call("GET", `/studies/${id}`)).body).toMatchObject({ revision: 2, study: { name: "First" } });
  });

  test("of many writes at once from one revision, one wins", async () => {
    const { id } = await create();
    const answers = await Promise.all(
      Array.from({ length: 8 }, (_, i) =>
        call("PUT", `/studies/${id}`, { revision: 1, study: { ...demo, name: `Writer ${i}` } }),
      ),
    );
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409, 409, 409, 409, 409, 409]);
  });

  test("a deleted study can be restored", async () => {
    const { id } = await create();
    expect((await call("DELETE", `/studies/${id}`)).status).toBe(204);
    expect((await call("GET", `/studies/${id}`)).status).toBe(410);
    expect(await call("POST", `/studies/${id}/restore`)).toMatchObject({
      status: 200,
      body: { study: { name: demo.name } },
    });
  });

  test.each([
    ["a foreign file", { study: { hello: 1 } }, 422, "foreign-file"],
    ["a newer version", { study: { format: "busy-harbor-study", version: 7 } }, 422, "newer-version"],
    ["a broken study", { study: { ...demo, designs: [{ id: "d" }] } }, 422, "bad-value"],
  ])("%s is refused with its problems", async (_name, body, status, code) => {
    const answer = await call("POST", "/studies", body);
    expect(answer.status).toBe(status);
    expect(answer.body.problems[0].code).toBe(code);
  });

  test("bad requests get problem documents", async () => {
    expect(await call("POST", "/studies", "{not json")).toMatchObject({
      status: 400,
      type: expect.stringContaining("problem+json") as string,
    });
    expect(await call("GET", "/studies/nobody")).toMatchObject({ status: 404 });
    expect(await call("GET", "/nothing")).toMatchObject({ status: 404 });
    const { id } = await create();
    expect(await call("PUT", `/studies/${id}`, { revision: 1, study: { ...demo, name: "" } })).toMatchObject({
      status: 400,
      body: { problems: [{ path: ["study", "name"] }] },
    });
  });
});

describe("runs", () => {
  test("a run ends with the same numbers as the command line, bit for bit", async () => {
    const { id } = await create();
    const started = await call("POST", `/studies/${id}/runs`, {
      designId: "separate",
      settings: { replications: 4, length: "40 min" },
    });
    expect(started).toMatchObject({ status: 201, body: { number: 1, designName: "A line at each desk" } });
    expect(await finished(started.body.id)).toMatchObject({ state: "done", finished: 4 });
    const values = await valuesOf(started.body.id);
    const args = [
      join(__dirname, "../../cli/bin/harbor.mjs"),
      "run",
      join(__dirname, "../../demo/foot-passengers.json"),
      "--json",
      "--design",
      "separate",
      "--replications",
      "4",
      "--length",
      "40 min",
    ];
    const out = await new Promise<string>((resolve, reject) =>
      execFile(process.execPath, args, { maxBuffer: 64e6 }, (error, text) => (error ? reject(error) : resolve(text))),
    );
    expect((JSON.parse(out) as { measures: { values: unknown[] }[] }).measures.map((m) => m.values)).toEqual(values);
  });

  test("progress comes as server-sent events", async () => {
    const { id } = await create();
    const seen: { state: string; finished: number }[] = [];
    const stream = request(`${server.url}/api/studies/${id}/events`, (response) => {
      response.on("data", (chunk: Buffer) => {
        for (const match of chunk.toString().matchAll(/^data: (.*)$/gm))
          seen.push(JSON.parse(match[1]) as (typeof seen)[number]);
      });
    });
    stream.on("error", () => undefined);
    stream.end();
    await new Promise((resolve) => setTimeout(resolve, 200));
    const { body } = await call("POST", `/studies/${id}/runs`, {
      designId: "shared",
      settings: { replications: 40, length: "4 d" },
    });
    const start = Date.now();
    await finished(body.id);
    const seconds = (Date.now() - start) / 1000;
    await new Promise((resolve) => setTimeout(resolve, 500));
    stream.destroy();
    expect(seen.at(-1)).toMatchObject({ state: "done", finished: 40 });
    // The beginning and the end are told whenever they are; between them five times a second at most.
    expect(seen.length).toBeLessThanOrEqual(5 * seconds + 4);
    expect(seen.map((s) => s.finished)).toEqual([...seen.map((s) => s.finished)].sort((a, b) => a - b));
    expect(seen.some((s) => s.state === "running" && s.finished > 0)).toBe(true);
  });

  test("a run is given a name and a note, which stay; nothing else of it can be changed", async () => {
    const { id } = await create();
    const { body: run } = await call("POST", `/studies/${id}/runs`, { designId: "shared" });
    await finished(run.id);
    const named = await call("PATCH", `/runs/${run.id}`, { name: " Third desk  " });
    expect([named.status, named.body.name, named.body.note]).toEqual([200, "Third desk", ""]);
    await call("PATCH", `/runs/${run.id}`, { note: "as told to the harbour board" });
    const { body: again } = await call("GET", `/runs/${run.id}`);
    expect([again.name, again.note]).toEqual(["Third desk", "as told to the harbour board"]);
    expect((await call("PATCH", `/runs/${run.id}`, { state: "done" })).status).toBe(400);
    expect((await call("PATCH", `/runs/${run.id}`, { name: "x".repeat(121) })).status).toBe(400);
    expect((await call("PATCH", "/runs/none", { name: "x" })).status).toBe(404);
  });

  test("a cancelled run stops soon and keeps what is finished", async () => {
    const { id } = await create();
    const { body } = await call("POST", `/studies/${id}/runs`, {
      designId: "shared",
      settings: { replications: 1000, length: "30 d" },
    });
    await new Promise((resolve) => setTimeout(resolve, 500));
    await call("POST", `/runs/${body.id}/cancel`);
    const ended = await finished(body.id);
    expect(ended.state).toBe("cancelled");
    expect(ended.finished).toBeLessThan(1000);
    const { body: results } = await call("GET", `/runs/${body.id}/results`);
    expect(results.replications).toHaveLength(ended.finished as number);
  });

  test("a long run keeps its batches as they end, the same as the command line's, and can be stopped", async () => {
    const { id } = await create();
    const started = await call("POST", `/studies/${id}/runs`, {
      designId: "separate",
      settings: { kind: "long", replications: 6, length: "12 h" },
    });
    expect(await finished(started.body.id)).toMatchObject({ state: "done", finished: 6 });
    const values = await valuesOf(started.body.id);
    const file = join(mkdtempSync(join(tmpdir(), "harbor-long-")), "long.json");
    writeFileSync(file, JSON.stringify({ ...demo, run: { ...demo.run, kind: "long" } }));
    const args = [
      join(__dirname, "../../cli/bin/harbor.mjs"),
      "run",
      file,
      "--json",
      "--design",
      "separate",
      "--replications",
      "6",
      "--length",
      "12 h",
    ];
    const out = await new Promise<string>((resolve, reject) =>
      execFile(process.execPath, args, { maxBuffer: 64e6 }, (error, text) => (error ? reject(error) : resolve(text))),
    );
    expect((JSON.parse(out) as { measures: { values: unknown[] }[] }).measures.map((m) => m.values)).toEqual(values);

    const endless = await call("POST", `/studies/${id}/runs`, {
      designId: "shared",
      settings: { kind: "long", replications: 400, length: "4000 d" },
    });
    let seen = 0;
    for (let i = 0; i < 100 && seen === 0; i++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      seen = ((await call("GET", `/studies/${id}/runs`)).body as unknown as { id: string; finished: number }[]).find(
        (r) => r.id === endless.body.id,
      )!.finished;
    }
    // Progress is seen while it goes on.
    expect(seen).toBeGreaterThan(0);
    await call("POST", `/runs/${endless.body.id}/cancel`);
    const ended = await finished(endless.body.id);
    expect(ended.state).toBe("cancelled");
    expect(ended.finished).toBeLessThan(400);
  });

  test("a long run that fails says in which batch", async () => {
    const broken = structuredClone(demo);
    broken.designs[0].elements[4].time = "2 h - clock";
    const { id } = (await call("POST", "/studies", { study: broken })).body;
    const { body } = await call("POST", `/studies/${id}/runs`, {
      designId: "shared",
      settings: { kind: "long", replications: 4, length: "8 h" },
    });
    expect(await finished(body.id)).toMatchObject({
      state: "failed",
      finished: 1,
      failure: { code: "negative-duration", id: "desks", replication: 2 },
    });
  });

  test("a design with problems is refused with them", async () => {
    const broken = structuredClone(demo);
    broken.designs[0].elements[4].time = "3 m";
    const { id } = (await call("POST", "/studies", { study: broken })).body;
    expect(await call("POST", `/studies/${id}/runs`, { designId: "shared" })).toMatchObject({
      status: 422,
      body: { problems: [{ code: "unit-mismatch", id: "desks", field: "time" }] },
    });
  });

  test("a problem at run time fails the run and names its place", async () => {
    const broken = structuredClone(demo);
    broken.designs[0].elements[4].time = "20 min - clock";
    const { id } = (await call("POST", "/studies", { study: broken })).body;
    const { body } = await call("POST", `/studies/${id}/runs`, { designId: "shared" });
    expect(await finished(body.id)).toMatchObject({
      state: "failed",
      failure: { code: "negative-duration", id: "desks", field: "time" },
    });
  });
});

describe("access", () => {
  const raw = (headers: Record<string, string>) =>
    new Promise<number>((resolve, reject) => {
      const sent = request(`${server.url}/api/studies`, { headers }, (response) => {
        response.resume();
        resolve(response.statusCode ?? 0);
      });
      sent.on("error", reject);
      sent.end();
    });
  test("foreign hosts and origins are refused", async () => {
    expect(await raw({ host: "harbor.example" })).toBe(403);
    expect(await raw({ origin: "http://evil.example" })).toBe(403);
    expect(await raw({ origin: server.url })).toBe(200);
  });
  test("a strict content security policy is sent", async () => {
    const policy = (await fetch(`${server.url}/`)).headers.get("content-security-policy");
    expect(policy).toContain("script-src 'self'");
    expect(policy).not.toContain("unsafe-eval");
  });
  test("the API describes itself", async () => {
    const { body } = await call("GET", "/openapi.json");
    expect(body).toMatchObject({ openapi: "3.1.0" });
    expect(Object.keys(body.paths as object)).toEqual(
      expect.arrayContaining(["/api/studies/{id}", "/api/runs/{id}/results"]),
    );
  });
});
