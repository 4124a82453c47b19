import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { performance } from "node:perf_hooks";
import { compile, readStudyText, run, type Study, writeStudy } from "../core/src/index.ts";

/** A server of its own on so many threads. */
async function served<T>(threads: number, work: (url: string) => Promise<T>): Promise<T> {
  const data = mkdtempSync(join(tmpdir(), "harbor-bench-"));
  const child: ChildProcess = spawn(process.execPath, ["server/dist/main.mjs"], {
    env: { ...process.env, PORT: "0", HARBOR_DATA: data, HARBOR_THREADS: String(threads) },
    stdio: ["ignore", "pipe", "inherit"],
  });
  try {
    const url = await new Promise<string>((resolve, reject) => {
      child.once("exit", () => reject(new Error("The server ended.")));
      child.stdout!.on("data", (text: Buffer) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(text.toString());
        if (found) resolve(found[0]);
      });
    });
    return await work(url);
  } finally {
    const ended = new Promise((resolve) => child.once("exit", resolve));
    child.kill();
    await ended;
    rmSync(data, { recursive: true, force: true });
  }
}

const post = async (url: string, body: unknown): Promise<{ readonly id: string }> => {
  const headers = { "content-type": "application/json" };
  const response = await fetch(url, { method: "POST", headers, body: JSON.stringify(body) });
  if (!response.ok) throw new Error(await response.text());
  return (await response.json()) as { readonly id: string };
};

/** Milliseconds until so many runs are kept whole, as the server tells by itself: from the request, or the start. */
async function timed(url: string, study: string, path: "runs" | "experiments", body: object, runs: number) {
  const events = await fetch(`${url}/api/studies/${study}/events`);
  const reader = events.body!.pipeThrough(new TextDecoderStream()).getReader();
  const start = performance.now();
  await post(`${url}/api/studies/${study}/${path}`, body);
  const done = new Set<string>();
  let begun = 0;
  let text = "";
  while (done.size < runs) {
    text += (await reader.read()).value ?? "";
    const told = text.split("\n\n");
    text = told.pop()!;
    for (const event of told) {
      const data = /^data: (.*)$/m.exec(event)?.[1];
      const run = data ? (JSON.parse(data) as { readonly id: string; readonly state: string }) : undefined;
      if (run?.state === "failed") throw new Error("A run failed.");
      if (run?.state === "running" && begun === 0) begun = performance.now();
      if (run?.state === "done") done.add(run.id);
    }
  }
  const end = performance.now();
  await reader.cancel();
  return { whole: end - start, running: end - begun };
}

function demo(length: string | undefined, replications: number, scenarios: number): Study {
  const read = readStudyText(readFileSync("demo/foot-passengers.json", "utf8"));
  if (!read.ok) throw new Error("The demo cannot be read.");
  const { study } = read;
  const [design] = study.designs;
  const station = design.elements.find(({ kind }) => kind === "station")!;
  return {
    ...study,
    run: { ...study.run, ...(length === undefined ? {} : { length }), replications },
    experiments: [
      {
        id: "e",
        name: "Desks",
        note: "",
        baseline: "",
        measures: [],
        random: "common",
        factors: [{ id: "c", name: "", at: ["elements", station.id, "capacity"] }],
        scenarios: Array.from({ length: scenarios }, (_, i) => ({
          id: `s${i}`,
          name: "",
          design: design.id,
          values: { c: String(1 + (i % 5)) },
        })),
      },
    ],
  };
}

/** The least of several tries: what else the machine did adds, and never takes away. */
async function quickest(time: () => Promise<number>): Promise<number> {
  let least = Infinity;
  for (let i = 0; i < 6; i++) least = Math.min(least, await time());
  return least;
}

const opened = async (url: string, study: Study): Promise<string> =>
  (await post(`${url}/api/studies`, { study: JSON.parse(writeStudy(study)) as unknown })).id;

/**
 * How much faster twenty scenarios of fifty replications are on two threads than on one: tries by turns, so that what
 * else the machine does meets both.
 */
export async function experimentSpeedup(): Promise<number> {
  const study = demo("60 h", 50, 20);
  const request = { plan: "e", scenarios: study.experiments![0].scenarios.map(({ id }) => id) };
  const least = [Infinity, Infinity];
  for (let i = 0; i < 3; i++)
    for (const threads of [1, 2])
      await served(threads, async (url) => {
        const id = await opened(url, study);
        await timed(url, id, "experiments", { plan: "e", scenarios: ["s0"] }, 1);
        const { whole } = await timed(url, id, "experiments", request, request.scenarios.length);
        least[threads - 1] = Math.min(least[threads - 1], whole);
      });
  return least[0] / least[1];
}

/** What storing and telling of progress add to computing a thousand replications, as a share of it. */
export async function experimentOverhead(): Promise<number> {
  const study = demo(undefined, 1000, 1);
  const { program } = compile(study, study.designs[0].id);
  const compute = (): number => {
    const start = performance.now();
    for (let replication = 1; replication <= 1000; replication++) run(program!, { seed: study.run.seed, replication });
    return performance.now() - start;
  };
  const kept = await served(1, async (url) => {
    const id = await opened(url, study);
    const time = async () => (await timed(url, id, "runs", { designId: study.designs[0].id }, 1)).running;
    await time();
    return quickest(time);
  });
  compute();
  return kept / (await quickest(() => Promise.resolve(compute()))) - 1;
}
