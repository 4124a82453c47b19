import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { readStudyText } from "../../core/src/index.ts";
import { type Ending, endingOf, mutatedDocuments } from "../../core/test/mutations.ts";
import type { Outcome } from "./outcome.ts";

/** Longest time for one document, in ms. */
const LONGEST = 5000;

/** So many mutated documents: each is refused, has problems, or runs within its budget; none throws or takes long. */
export function attackDocuments(count: number, seed = 1): Outcome {
  const demo = readStudyText(readFileSync(join(process.cwd(), "demo/foot-passengers.json"), "utf8"));
  if (!demo.ok) throw new Error("The demo cannot be read.");
  const ends: Record<Ending, number> = { refused: 0, problems: 0, ran: 0, failed: 0, wrong: 0 };
  const failures: string[] = [];
  let longest = 0;
  const PART = 1000;
  for (let done = 0; done < count; done += PART) {
    for (const document of fc.sample(mutatedDocuments(demo.study), {
      numRuns: Math.min(PART, count - done),
      seed: seed + done,
    })) {
      const start = performance.now();
      const ending = endingOf(document);
      const took = performance.now() - start;
      longest = Math.max(longest, took);
      ends[ending] += 1;
      if (ending === "wrong" || took > LONGEST)
        failures.push(`${ending} after ${Math.round(took)} ms: ${JSON.stringify(document).slice(0, 300)}`);
    }
  }
  return { counts: { documents: count, ...ends, "longest-ms": Math.round(longest) }, failures };
}
