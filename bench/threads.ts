import { dirname, join } from "node:path";
import { Worker } from "node:worker_threads";

const REPLICATIONS = 40;
const ROUNDS = 3;

/** Time of 40 replications on a pool of threads that are already up, in ms. */
async function timed(threads: readonly Worker[]): Promise<number> {
  const start = performance.now();
  await Promise.all(
    threads.map((worker, t) => {
      const done = new Promise((resolve, reject) => {
        worker.once("message", resolve);
        worker.once("error", reject);
      });
      worker.postMessage(Array.from({ length: REPLICATIONS }, (_, r) => r + 1).filter((r) => r % threads.length === t));
      return done;
    }),
  );
  return performance.now() - start;
}

/** How many times faster two threads are than one, the best of some rounds taken in turn. */
export async function threadsSpeedup(): Promise<number> {
  const threads = [0, 1].map(() => new Worker(join(dirname(process.argv[1]), "thread.cjs")));
  await timed(threads);
  let best = 0;
  for (let round = 0; round < ROUNDS; round++) {
    const one = await timed(threads.slice(0, 1));
    best = Math.max(best, one / (await timed(threads)));
  }
  await Promise.all(threads.map((t) => t.terminate()));
  return best;
}
