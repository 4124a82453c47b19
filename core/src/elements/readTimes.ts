import { checkExpression, makeScope, numberOf } from "../expression/index.ts";
import { TIME } from "../quantity/index.ts";

/** The times in a list, one a line or separated by commas, in seconds; or what is wrong with it. */
export function readTimes(text: string): { readonly times: readonly number[]; readonly problem?: string } {
  const entries = text
    .split(/[\n,;]/)
    .map((entry) => entry.trim())
    .filter((entry) => entry !== "");
  if (entries.length === 0) return { times: [], problem: "the list is empty." };
  const times: number[] = [];
  for (const [i, entry] of entries.entries()) {
    const result = checkExpression(entry, NO_NAMES, numberOf(TIME));
    const seconds = result.ok ? result.checked.constant : undefined;
    if (seconds === undefined || !(seconds >= 0 && seconds < Infinity))
      return { times, problem: `entry ${i + 1}, "${entry}", is no fixed time of 0 or more.` };
    times.push(seconds);
  }
  return { times };
}
const NO_NAMES = makeScope(new Map(), () => 0);
