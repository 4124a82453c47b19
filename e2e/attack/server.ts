import { mkdtempSync, readFileSync } from "node:fs";
import { request } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startServer } from "../../server/test/startServer.ts";
import type { Outcome } from "./outcome.ts";

const demo = () =>
  JSON.parse(readFileSync(join(process.cwd(), "demo/foot-passengers.json"), "utf8")) as { question: string };

interface Reply {
  readonly status: number;
  readonly type: string;
  readonly text: string;
}

/** A request as it is written, also one that no browser would send; undefined where the connection broke. */
function send(
  url: string,
  method: string,
  path: string,
  body?: string | Buffer,
  headers: Record<string, string> = { "content-type": "application/json" },
): Promise<Reply | undefined> {
  return new Promise((resolve) => {
    const sent = request(url, { method, path, headers }, (response) => {
      let text = "";
      response.on("data", (chunk: Buffer) => (text += chunk.toString()));
      response.on("end", () =>
        resolve({ status: response.statusCode ?? 0, type: response.headers["content-type"] ?? "", text }),
      );
      response.on("error", () => resolve(undefined));
    });
    sent.setTimeout(20_000, () => sent.destroy());
    sent.on("error", () => resolve(undefined));
    sent.end(body);
  });
}

const read = <T>(reply: Reply | undefined): T => JSON.parse(reply?.text ?? "null") as T;

/**
 * Kills the server in the midst of runs and saves: what was answered as saved is there, and each run ends with the
 * numbers it would have had.
 */
export async function attackByKills(kills: number): Promise<Outcome> {
  const data = mkdtempSync(join(tmpdir(), "harbor-attack-"));
  const failures: string[] = [];
  let server = await startServer(data);
  const { id } = read<{ id: string }>(
    await send(server.url, "POST", "/api/studies", JSON.stringify({ study: demo() })),
  );
  const start = async () =>
    read<{ id: string }>(
      await send(
        server.url,
        "POST",
        `/api/studies/${id}/runs`,
        JSON.stringify({ designId: "shared", settings: { replications: 40, length: "20 d" } }),
      ),
    ).id;
  const run = await start();
  let revision = 1;
  let saves = 0;
  let answered = demo().question;
  for (let kill = 0; kill < kills; kill++) {
    // Saves go on until the blow falls.
    let going = true;
    let sent = answered;
    const saving = (async () => {
      for (let i = 0; going; i++) {
        sent = `Save ${kill}.${i}`;
        const reply = await send(
          server.url,
          "PUT",
          `/api/studies/${id}`,
          JSON.stringify({ revision, study: { ...demo(), question: sent } }),
        );
        if (reply?.status !== 200) return;
        ({ revision } = read<{ revision: number }>(reply));
        answered = sent;
        saves += 1;
      }
    })();
    await new Promise((resolve) => setTimeout(resolve, 100 + ((kill * 137) % 400)));
    await server.stop("SIGKILL");
    going = false;
    await saving;
    server = await startServer(data);
    const found = read<{ revision: number; study: { question: string } }>(
      await send(server.url, "GET", `/api/studies/${id}`),
    );
    // The last save may have been made without its answer getting out.
    if (found.study.question !== answered && found.study.question !== sent)
      failures.push(`after kill ${kill} the study says "${found.study.question}", not "${answered}"`);
    ({ revision } = found);
    answered = found.study.question;
  }
  const ended = async (which: string) => {
    for (let i = 0; i < 1200; i++) {
      const { state } = read<{ state: string }>(await send(server.url, "GET", `/api/runs/${which}`));
      if (state !== "queued" && state !== "running") return state;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    return "endless";
  };
  const states = [await ended(run)];
  const again = await start();
  states.push(await ended(again));
  if (states.some((state) => state !== "done")) failures.push(`runs ended as ${states.join(" and ")}`);
  const numbers = async (which: string) =>
    JSON.stringify(
      read<{ replications: unknown }>(await send(server.url, "GET", `/api/runs/${which}/results`)).replications,
    );
  if ((await numbers(run)) !== (await numbers(again)))
    failures.push("the run that was killed has other numbers than one that was not");
  await server.stop();
  return { counts: { kills, saves }, failures };
}

const ODD_IDS = [
  "%",
  "%00",
  "%2e%2e%2f",
  "..",
  "x".repeat(4000),
  "%F0%9F%9A%A2",
  "'; DROP TABLE studies; --",
  "null",
  "-1",
  "%E0%A4%A",
  "%252e",
  "a%2Fb",
].map((id) => id.replace(/[ ']/g, (c) => encodeURIComponent(c)));
const ODD_BODIES: readonly (string | Buffer)[] = [
  "",
  "{",
  "[]",
  "null",
  "0",
  '"text"',
  '{"study":null}',
  '{"study":{"format":"busy-harbor-study","version":1e99}}',
  `{"revision":1,"study":${"[".repeat(5000)}${"]".repeat(5000)}}`,
  '{"__proto__":{"polluted":1}}',
  '{"designId":{}}',
  Buffer.from([0xff, 0xfe, 0x00]),
  `{"designId":"${"x".repeat(100_000)}"}`,
];
const ODD_HEADERS: readonly Record<string, string>[] = [
  { "content-type": "application/json" },
  { "content-type": "application/json; charset=klingon" },
  { "content-type": "text/xml" },
  { "content-type": "application/json", "content-encoding": "gzip" },
  { "content-type": "application/octet-stream" },
  {},
];

/**
 * Odd addresses, bodies and heads: all are refused as problem documents that say what is wrong with the request, and
 * none stops the server.
 */
export async function attackByRequests(): Promise<Outcome> {
  const server = await startServer();
  const failures: string[] = [];
  const counts: Record<string, number> = { requests: 0 };
  const note = (what: string, reply: Reply | undefined) => {
    counts.requests += 1;
    const kind = reply ? `${Math.floor(reply.status / 100)}xx` : "broken";
    counts[kind] = (counts[kind] ?? 0) + 1;
    if (!reply || reply.status >= 500)
      failures.push(`${what}: ${reply ? `${reply.status} ${reply.text.slice(0, 120)}` : "no answer"}`);
    else if (reply.status >= 400 && !/problem\+json/.test(reply.type))
      failures.push(`${what}: ${reply.status} is no problem document`);
  };
  for (const id of ODD_IDS) {
    for (const [method, path] of [
      ["GET", `/api/studies/${id}`],
      ["DELETE", `/api/studies/${id}`],
      ["GET", `/api/studies/${id}/runs`],
      ["GET", `/api/runs/${id}`],
      ["GET", `/api/runs/${id}/results`],
      ["GET", `/api/runs/${id}/columns?measures=${id}`],
      ["GET", `/api/files/${id}`],
      ["POST", `/api/runs/${id}/cancel`],
    ]) {
      note(`${method} ${path.slice(0, 60)}`, await send(server.url, method, path));
    }
  }
  for (const headers of ODD_HEADERS) {
    for (const body of ODD_BODIES) {
      for (const [method, path] of [
        ["POST", "/api/studies"],
        ["PUT", "/api/studies/x"],
        ["POST", "/api/studies/x/runs"],
        ["PUT", `/api/files/${"a".repeat(64)}`],
      ])
        note(
          `${method} ${path} with ${String(body).slice(0, 30)}`,
          await send(server.url, method, path, body, headers),
        );
    }
  }
  note("GET /api/studies at the end", await send(server.url, "GET", "/api/studies"));
  if (/"request failed"/.test(server.errors())) failures.push("the server logged an error of its own");
  await server.stop();
  return { counts, failures };
}
