import { parentPort, workerData } from "node:worker_threads";
import { compile, run } from "@busy-harbor/core";
import type { Share } from "./replications.ts";

const { study, designId, seed, replications } = workerData as Share;
const { program } = compile(study, designId);
if (!program) throw new Error("The design has problems.");
parentPort?.postMessage(replications.map((replication) => run(program, { seed, replication })));
