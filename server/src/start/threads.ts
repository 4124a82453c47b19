import { availableParallelism } from "node:os";
import { StartProblem } from "./startProblem.ts";

/** How many threads run replications, from HARBOR_THREADS; as many as the machine has cores where it says nothing. */
export function threadsOf(text: string | undefined): number {
  if (text === undefined || text.trim() === "") return availableParallelism();
  const threads = Number(text);
  if (!Number.isInteger(threads) || threads < 1 || threads > 256)
    throw new StartProblem(`HARBOR_THREADS is "${text}": write a whole number from 1 to 256, or leave it out.`);
  return threads;
}
