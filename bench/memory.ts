import { run } from "../core/src/index.ts";
import { mm1 } from "./models.ts";

const SECONDS_AN_EVENT = 37.5;

/** Heap after the session of so many events is over but still held, in bytes. Needs --expose-gc. */
function heapAfter(events: number): number {
  const result = run(mm1(`${events * SECONDS_AN_EVENT} s`), { seed: 1, replication: 1 });
  globalThis.gc?.();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  if (!result || result.events < events * 0.98) throw new Error("The run was shorter than meant.");
  return heapUsed + arrayBuffers;
}

/** Heap after 10,000,000 events over heap after 1,000,000: 1 when memory does not grow with the length of a run. */
export function memoryGrowth(): number {
  heapAfter(100_000);
  const short = heapAfter(1_000_000);
  return heapAfter(10_000_000) / short;
}
