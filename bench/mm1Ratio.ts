import { dirname, join } from "node:path";
import { Worker } from "node:worker_threads";
import type { Mm1Times } from "./mm1.ts";

const THREADS = 5;

/**
 * The middle of several fresh threads, one after the other, as how well both loops get compiled is a matter of luck.
 */
export async function benchMm1(): Promise<Mm1Times> {
  const times: Mm1Times[] = [];
  for (let i = 0; i < THREADS; i++) {
    const worker = new Worker(join(dirname(process.argv[1]), "mm1Thread.cjs"));
    times.push(await new Promise<Mm1Times>((resolve, reject) => worker.once("message", resolve).once("error", reject)));
    await worker.terminate();
  }
  return times.sort((a, b) => a.ratio - b.ratio)[THREADS >> 1];
}
