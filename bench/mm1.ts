import { run } from "../core/src/index.ts";
import { handWrittenMm1 } from "./handWritten.ts";
import { mm1 } from "./models.ts";

const SECONDS = 37_500_000; // about 1,000,000 events
const ROUNDS = 9;

const timed = (work: () => unknown): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};
const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];

/** Time of the kernel over time of the hand-written loop, in turn, so that a drift of the machine's speed hits both. */
export function benchMm1(): { ratio: number; eventsPerSecond: number } {
  const program = mm1(`${SECONDS} s`);
  const ratios: number[] = [];
  const rates: number[] = [];
  for (let round = 0; round <= ROUNDS; round++) {
    let events = 0;
    const byHand = timed(() => handWrittenMm1(1, round + 1, 75, 60, SECONDS));
    const byKernel = timed(() => (events = run(program, { seed: 1, replication: round + 1 })!.events));
    if (round === 0) continue; // compiles both
    ratios.push(byKernel / byHand);
    rates.push((events / byKernel) * 1000);
  }
  return { ratio: median(ratios), eventsPerSecond: median(rates) };
}
