import { run } from "../core/src/index.ts";
import { handWrittenMm1 } from "./handWritten.ts";
import { mm1 } from "./models.ts";

const SECONDS = 9_375_000; // about 250,000 events
const ROUNDS = 50;

const timed = (work: () => unknown): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};

/**
 * Shortest times, in ms, of an M/M/1 by the kernel and by the hand-written loop,
 * of many short runs taken in turn: whatever else the machine does only adds.
 */
export function timeMm1() {
  const program = mm1(`${SECONDS} s`);
  let byHand = Infinity;
  let byKernel = Infinity;
  let eventsPerSecond = 0;
  for (let round = 1; round <= ROUNDS; round++) {
    byHand = Math.min(
      byHand,
      timed(() => handWrittenMm1(1, round, 75, 60, SECONDS)),
    );
    let events = 0;
    const time = timed(() => (events = run(program, { seed: 1, replication: round })!.events));
    if (time < byKernel) eventsPerSecond = (events / time) * 1000;
    byKernel = Math.min(byKernel, time);
  }
  return { ratio: byKernel / byHand, eventsPerSecond };
}

export type Mm1Times = ReturnType<typeof timeMm1>;
