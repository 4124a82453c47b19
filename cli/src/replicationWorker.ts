import { parentPort, workerData } from "node:worker_threads";
import { compile, runWhole } from "@busy-harbor/core";
import type { Share } from "./replications.ts";

const { study, designId, replications } = workerData as Share;
const { program } = compile(study, designId);
if (!program) throw new Error("The design has problems.");
parentPort?.postMessage(runWhole(program, replications));
