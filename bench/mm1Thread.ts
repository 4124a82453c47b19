import { parentPort } from "node:worker_threads";
import { timeMm1 } from "./mm1.ts";

parentPort!.postMessage(timeMm1());
