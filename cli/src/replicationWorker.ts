import { parentPort, workerData } from "node:worker_threads";
import { compile, runWhole } from "@busy-harbor/core";
import type { Share } from "./replications.ts";
import { RowFiles } from "./rowFiles.ts";

const { study, designId, replications, rows } = workerData as Share;
const { program } = compile(study, designId);
if (!program) throw new Error("The design has problems.");
const files = rows === undefined ? undefined : new RowFiles(program, rows);
const results = runWhole(program, replications, files && ((replication) => files.begin(replication)));
files?.end();
parentPort?.postMessage(results);
