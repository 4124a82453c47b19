import { parentPort } from "node:worker_threads";
import { run } from "../core/src/index.ts";
import { mm1 } from "./models.ts";

const program = mm1("3750000 s");

parentPort!.on("message", (replications: number[]) => {
  for (const replication of replications) run(program, { seed: 1, replication });
  parentPort!.postMessage("done");
});
