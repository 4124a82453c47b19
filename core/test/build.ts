import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import { buildSync } from "esbuild";
import {
  compile,
  type MeasureInfo,
  open,
  type Program,
  type ReplicationResult,
  run,
  type Study,
  UNIT_WORDS,
  measuresOf,
} from "../src/index.ts";
import { meanInterval } from "../src/inference/interval.ts";
import { chain, study } from "./study.ts";

export { chain, study };

type Loose = Record<string, unknown>;

export function program(from: Study): Program {
  const { program: compiled, problems } = compile(from);
  if (!compiled) throw new Error(JSON.stringify(problems, null, 1));
  return compiled;
}

/** Measures of one replication by key, for models without chance: expected values follow by hand. */
export function measures(elements: Loose[], links: Loose[], runSettings: Loose, types?: Loose[], more?: Loose) {
  const p = program(study({ elements, links, run: runSettings, types, more }));
  const result = run(p, { seed: 1, replication: 1 })!;
  if (result.failure) throw new Error(result.failure.message);
  return (key: string) => {
    const at = measuresOf(p).findIndex((m) => m.key === key);
    if (at < 0) throw new Error(`No measure ${key}`);
    return result.values[at];
  };
}

/** What a slot or unit of an element does over time, as [from when, what], by stepping through one replication. */
export function timeline(from: Study, id: string, unit = 0): [time: number, state: string][] {
  const session = open(program(from), { seed: 1, replication: 1 });
  const index = from.designs[0].elements.findIndex((e) => e.id === id);
  const found: [number, string][] = [];
  const look = () => {
    const state = UNIT_WORDS[session.frame().units[index][unit]];
    const last = found.at(-1);
    if (last?.[1] === state) return;
    // Several events at one instant: what is so after the last of them counts.
    if (last?.[0] === session.time) found.pop();
    if (found.at(-1)?.[1] !== state) found.push([session.time, state]);
  };
  look();
  while (!session.ended) {
    session.step();
    if (!session.ended) look();
  }
  if (session.failure) throw new Error(session.failure.message);
  return found;
}

let bundled: string | undefined;

/** The core as one plain file: the test runner's sandbox slows every use of Math about eightfold. */
function bundle(): string {
  if (!bundled) {
    bundled = join(mkdtempSync(join(tmpdir(), "core-")), "worker.cjs");
    buildSync({
      entryPoints: [join(__dirname, "nativeWorker.ts")],
      bundle: true,
      platform: "node",
      format: "cjs",
      outfile: bundled,
      logLevel: "error",
    });
  }
  return bundled;
}

const THREADS = 2;

/** Replications 1 to n on two threads; gives the values of any measure in their order. */
export async function replicate(from: Study, replications: number, seed: number) {
  const file = bundle();
  const parts = await Promise.all(
    Array.from({ length: THREADS }, (_, share) => {
      const worker = new Worker(file, { workerData: { study: from, replications, seed, share, of: THREADS } });
      return new Promise<{ measures: MeasureInfo[]; results: ReplicationResult[] }>((resolve, reject) => {
        worker.once("message", resolve);
        worker.once("error", reject);
      });
    }),
  );
  const { measures } = parts[0];
  const results = parts.flatMap((p) => p.results).sort((a, b) => a.replication - b.replication);
  const failed = results.find((r) => r.failure);
  if (failed) throw new Error(failed.failure!.message);
  return {
    results,
    values(key: string): number[] {
      const at = measures.findIndex((m) => m.key === key);
      if (at < 0) throw new Error(`No measure ${key}: ${measures.map((m) => m.key).join(" ")}`);
      return results.map((r) => r.values[at]);
    },
  };
}

/** Asserts that a known value lies in the 99.9 % interval, and that the interval is narrow. */
export function expectInterval(values: number[], exact: number, relativeHalfWidth: number): void {
  const { mean, halfWidth } = meanInterval(values, 0.999);
  const near = `${mean} ± ${halfWidth} for ${exact}`;
  expect({ near, holds: Math.abs(mean - exact) <= halfWidth }).toEqual({ near, holds: true });
  expect({ near, narrow: halfWidth <= relativeHalfWidth * exact }).toEqual({ near, narrow: true });
}
