import { run } from "../core/src/index.ts";
import { handWrittenMm1 } from "./handWritten.ts";
import { mm1 } from "./models.ts";

const SECONDS = 18_750_000; // about 500,000 events
const ROUNDS = 40;

const timed = (work: () => unknown): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};

/**
 * Time of the kernel over time of the hand-written loop: the shortest of many
 * short runs of each, taken in turn, as whatever else the machine does only ever
 * adds to a time.
 */
export function benchMm1(): { ratio: number; eventsPerSecond: number } {
  const program = mm1(`${SECONDS} s`);
  let byHand = Infinity;
  let byKernel = Infinity;
  let eventsPerSecond = 0;
  for (let round = 1; round <= ROUNDS; round++) {
    byHand = Math.min(byHand, timed(() => handWrittenMm1(1, round, 75, 60, SECONDS)));
    let events = 0;
    const time = timed(() => (events = run(program, { seed: 1, replication: round })!.events));
    if (time < byKernel) eventsPerSecond = (events / time) * 1000;
    byKernel = Math.min(byKernel, time);
  }
  return { ratio: byKernel / byHand, eventsPerSecond };
}
