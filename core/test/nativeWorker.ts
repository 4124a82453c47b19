import { parentPort, workerData } from "node:worker_threads";
import { compile, run, type Study, measuresOf } from "../src/index.ts";

/** Runs every second replication of a design, as a worker thread outside the test runner's sandbox. */
const { study, replications, seed, share, of } = workerData as {
  study: Study;
  replications: number;
  seed: number;
  share: number;
  of: number;
};
const { program, problems } = compile(study);
if (!program) throw new Error(JSON.stringify(problems));
const results = [];
for (let r = 1 + share; r <= replications; r += of) results.push(run(program, { seed, replication: r })!);
parentPort!.postMessage({ measures: measuresOf(program), results });
