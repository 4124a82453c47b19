import { readFileSync } from "node:fs";
import { request } from "node:http";
import { type AddressInfo, connect } from "node:net";
import { join } from "node:path";
import express from "express";
import { rateLimit } from "express-rate-limit";
import { tooMany } from "../src/api/problems.ts";
import { startServer, type TestServer } from "./startServer.ts";

jest.setTimeout(60_000);
const demo = JSON.parse(readFileSync(join(process.cwd(), "demo/foot-passengers.json"), "utf8")) as {
  run: object;
  designs: { id: string; name: string; elements: Record<string, unknown>[] }[];
};
let server: TestServer;
beforeAll(async () => {
  server = await startServer();
});
afterAll(() => server.stop());

interface Answer {
  readonly status: number;
  readonly type: string;
  readonly body: Record<string, unknown> & { id: string; problems: { code: string; path: unknown[] }[] };
}

/** A request as it is written, with heads that browsers would not send. */
function raw(
  method: string,
  path: string,
  headers: Record<string, string> = {},
  body?: string | Buffer,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const sent = request(`${server.url}`, { method, path, headers }, (response) => {
      let text = "";
      response.on("data", (chunk: Buffer) => (text += chunk.toString()));
      response.on("end", () =>
        resolve({
          status: response.statusCode ?? 0,
          type: response.headers["content-type"] ?? "",
          body: (/json/.test(response.headers["content-type"] ?? "") && text
            ? JSON.parse(text)
            : { text }) as Answer["body"],
        }),
      );
    });
    sent.on("error", reject);
    sent.end(body);
  });
}
const send = (method: string, path: string, body?: unknown) =>
  raw(
    method,
    `/api${path}`,
    { "content-type": "application/json" },
    body === undefined ? undefined : JSON.stringify(body),
  );
const create = async (study: unknown = demo) => (await send("POST", "/studies", { study })).body;

describe("what cannot be read is refused as what it is", () => {
  const json = { "content-type": "application/json" };
  test.each<[string, string, string, Record<string, string>, string | Buffer | undefined, number]>([
    ["an address that cannot be decoded", "GET", "/api/studies/%", {}, undefined, 400],
    ["an address that cannot be decoded, of a run", "GET", "/api/runs/%E0%A4%A/results", {}, undefined, 400],
    [
      "an unknown character set",
      "POST",
      "/api/studies/x/runs",
      { "content-type": "application/json; charset=bogus" },
      "{}",
      415,
    ],
    ["an unknown encoding", "POST", "/api/studies", { ...json, "content-encoding": "bogus" }, "{}", 415],
    ["bytes that are no gzip", "POST", "/api/studies", { ...json, "content-encoding": "gzip" }, "{}", 400],
    ["bytes that are no UTF-8", "POST", "/api/studies", json, Buffer.from([0x7b, 0x22, 0xff, 0x22, 0x7d]), 400],
    ["no JSON", "PUT", "/api/studies/x", json, "{nothing", 400],
    ["another type of content", "POST", "/api/studies", { "content-type": "text/plain" }, "{}", 415],
    ["a file that is none", "PUT", "/api/files/zz", { "content-type": "application/octet-stream" }, "x", 400],
    ["columns of nothing", "GET", "/api/runs/x/columns", {}, undefined, 400],
    ["columns that are no positions", "GET", "/api/runs/x/columns?measures=1,b", {}, undefined, 400],
    ["an unknown method", "PATCH", "/api/studies", {}, undefined, 404],
  ])("%s", async (_, method, path, headers, body, status) => {
    const answer = await raw(method, path, headers, body);
    expect({ status: answer.status, type: answer.type }).toEqual({
      status,
      type: expect.stringContaining("application/problem+json"),
    });
    expect(answer.body.title).toEqual(expect.any(String));
  });

  test("an upload that breaks off is no error of the server, which answers on", async () => {
    const { hostname, port } = new URL(server.url);
    await new Promise<void>((resolve) => {
      const socket = connect(Number(port), hostname, () => {
        socket.write(
          `POST /api/studies HTTP/1.1\r\nHost: ${hostname}:${port}\r\nContent-Type: application/json\r\nContent-Length: 100000\r\n\r\n{"study":`,
        );
        setTimeout(() => {
          socket.destroy();
          resolve();
        }, 50);
      });
    });
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect((await send("GET", "/studies")).status).toBe(200);
    expect(server.errors()).not.toMatch(/request failed|aborted/);
  });

  test("foreign requests are refused and not counted", async () => {
    const foreign = await Promise.all(
      Array.from({ length: 30 }, () => raw("GET", "/api/studies", { origin: "http://elsewhere.example" })),
    );
    expect(new Set(foreign.map((a) => a.status))).toEqual(new Set([403]));
    // The budget begins anew every ten seconds: what spans that says nothing.
    const left = async () => Number((await fetch(`${server.url}/api/openapi.json`)).headers.get("ratelimit-remaining"));
    let used = 0;
    for (let i = 0; i < 3 && used !== 1; i++) {
      const before = await left();
      await Promise.all(
        Array.from({ length: 20 }, () => raw("GET", "/api/studies", { origin: "http://elsewhere.example" })),
      );
      used = before - (await left());
    }
    expect(used).toBe(1);
  });

  test("who asks too often hears when to come back, as a problem", async () => {
    const app = express().use(
      rateLimit({ windowMs: 10_000, limit: 2, standardHeaders: true, legacyHeaders: false, handler: tooMany }),
      (_request, response) => void response.send("fine"),
    );
    const listening = app.listen(0, "127.0.0.1");
    await new Promise((resolve) => listening.once("listening", resolve));
    const ask = () => fetch(`http://127.0.0.1:${(listening.address() as AddressInfo).port}/`);
    const answers = [await ask(), await ask(), await ask()];
    expect(answers.map((a) => a.status)).toEqual([200, 200, 429]);
    expect(answers[2].headers.get("content-type")).toContain("application/problem+json");
    expect(Number(answers[2].headers.get("retry-after"))).toBeGreaterThan(0);
    listening.closeAllConnections();
    await new Promise((resolve) => listening.close(resolve));
  });
});

describe("what is taken can be kept", () => {
  test.each<[string, (study: typeof demo) => void, string]>([
    ["two designs with one id", (s) => (s.designs[1].id = s.designs[0].id), "duplicate-id"],
    ["NUL in a name", (s) => (s.designs[0].name = "One\u0000line"), "unkeepable-text"],
  ])("%s is a named problem, when opened and when saved", async (_, change, code) => {
    const bad = structuredClone(demo);
    change(bad);
    expect(await send("POST", "/studies", { study: bad })).toMatchObject({
      status: 422,
      body: { problems: [{ code }] },
    });
    const { id } = await create();
    expect(await send("PUT", `/studies/${id}`, { revision: 1, study: bad })).toMatchObject({
      status: 400,
      body: { problems: [{ code }] },
    });
    expect((await send("GET", `/studies/${id}`)).body.study).toEqual(demo);
  });

  test("streams beyond the largest number are given out below it, and the study opens again", async () => {
    const high = structuredClone(demo);
    (high.designs[0].elements[0].streams as Record<string, number>).between = 1e9;
    high.designs[0].elements.push({ kind: "dwell", id: "new", name: "New dwell", at: [90, 90] });
    const { id } = await create(high);
    expect((await send("GET", `/studies/${id}`)).status).toBe(200);
  });

  test("a study of 20,000 elements is saved while others are answered, and takes little room however often", async () => {
    const big = structuredClone(demo);
    const [design] = big.designs;
    design.elements.push(
      ...Array.from({ length: 19_900 }, (_, i) => ({
        kind: "dwell",
        id: `d${i}`,
        name: `Dwell ${i}`,
        at: [i % 200, Math.floor(i / 200)],
      })),
    );
    const { id } = await create(big);
    let answered = 0;
    let going = true;
    const others = (async () => {
      while (going) {
        await send("GET", "/openapi.json");
        answered += 1;
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    })();
    try {
      for (let revision = 1; revision <= 3; revision++) {
        design.elements[5].name = `Renamed ${revision}`;
        expect((await send("PUT", `/studies/${id}`, { revision, study: big })).status).toBe(200);
      }
    } finally {
      going = false;
      await others;
    }
    // Reading it takes a thread a second or more; were that the one that answers, about one other would get through
    // beside each save.
    expect(answered).toBeGreaterThan(6);
    const { designs } = (await send("GET", `/studies/${id}`)).body.study as typeof demo;
    expect([designs[0].elements.length, designs[0].elements[5].name, designs[0].elements.at(-1)!.id]).toEqual([
      design.elements.length,
      "Renamed 3",
      "d19899",
    ]);
  });
});

describe("figures of a run", () => {
  const finished = async (id: string) => {
    for (;;) {
      const { body } = await send("GET", `/runs/${id}`);
      if (body.state !== "running" && body.state !== "queued") return body;
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  };

  test("statistics, columns and the whole agree", async () => {
    const { id } = await create();
    const { body: run } = await send("POST", `/studies/${id}/runs`, {
      designId: "shared",
      settings: { replications: 25, length: "1 h" },
    });
    await finished(run.id);
    const { body: whole } = await send("GET", `/runs/${run.id}/results`);
    const rows = whole.replications as { number: number; values: (number | null)[] }[];
    expect(rows.map((r) => r.number)).toEqual(Array.from({ length: 25 }, (_, i) => i + 1));
    const statistics = new Float64Array(
      await (await fetch(`${server.url}/api/runs/${run.id}/statistics`)).arrayBuffer(),
    );
    const { body: measures } = (await send("GET", `/runs/${run.id}/measures`)) as unknown as {
      body: { key: string }[];
    };
    expect(statistics.length).toBe(8 * measures.length);
    measures.forEach((_, m) => {
      const values = rows.map((r) => r.values[m]).filter((v): v is number => v !== null);
      const [n, mean, squares, least, most] = statistics.subarray(8 * m, 8 * m + 5);
      expect(n).toBe(values.length);
      if (n === 0) return;
      const exact = values.reduce((a, b) => a + b, 0) / n;
      expect(Math.abs(mean - exact)).toBeLessThanOrEqual(1e-12 * Math.max(1, Math.abs(exact)));
      expect(squares).toBeCloseTo(
        values.reduce((a, b) => a + (b - exact) ** 2, 0),
        6,
      );
      expect([least, most]).toEqual([Math.min(...values), Math.max(...values)]);
    });
    const { body: columns } = await send("GET", `/runs/${run.id}/columns?measures=3,0&after=20`);
    expect(columns).toMatchObject({
      replications: [21, 22, 23, 24, 25],
      values: [3, 0].map((m) => rows.slice(20).map((r) => r.values[m])),
    });
    const csv = await (await fetch(`${server.url}/api/runs/${run.id}/results.csv`)).text();
    expect(csv.trim().split("\r\n")).toHaveLength(26);
    expect(csv.split("\r\n")[25].split(",").slice(0, 2)).toEqual(["25", String(rows[24].values[0])]);
  });

  test("a run that is stopped in the instant in which it was started stops", async () => {
    const { id } = await create();
    for (let i = 0; i < 5; i++) {
      const { body: run } = await send("POST", `/studies/${id}/runs`, {
        designId: "shared",
        settings: { replications: 500, length: "30 d" },
      });
      await send("POST", `/runs/${run.id}/cancel`);
      expect(await finished(run.id)).toMatchObject({ state: "cancelled" });
    }
  });
});
