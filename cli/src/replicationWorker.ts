import { parentPort, workerData } from "node:worker_threads";
import { compile, runWhole } from "@busy-harbor/core";
import type { Share } from "./replications.ts";
import { RowFiles } from "./rowFiles.ts";

const { works, rows } = workerData as Share;
const results = works.map(({ study, designId, replications }) => {
  const { program } = compile(study, designId);
  if (!program) throw new Error("The design has problems.");
  const files = rows === undefined ? undefined : new RowFiles(program, rows);
  const found = runWhole(program, replications, files && ((replication) => files.begin(replication)));
  files?.end();
  return found;
});
parentPort?.postMessage(results);
