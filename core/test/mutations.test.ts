import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { readStudyText } from "../src/index.ts";
import { type Ending, endingOf, mutatedDocuments } from "./mutations.ts";

jest.setTimeout(300_000);

const demo = readStudyText(readFileSync(join(__dirname, "../../demo/foot-passengers.json"), "utf8"));
if (!demo.ok) throw new Error("The demo cannot be read.");
const documents = mutatedDocuments(demo.study);

test("2,500 mutated documents: each is refused, has problems, or runs within its budget; none hangs, none throws", () => {
  const ends: Record<Ending, number> = { refused: 0, problems: 0, ran: 0, failed: 0, wrong: 0 };
  fc.assert(
    fc.property(documents, (document) => {
      const ending = endingOf(document);
      ends[ending] += 1;
      expect(ending).not.toBe("wrong");
    }),
    { numRuns: 2500, seed: 11 },
  );
  // Each way of ending is met often enough to mean something.
  for (const end of ["refused", "problems", "ran", "failed"] as const)
    expect([end, ends[end] > 2]).toEqual([end, true]);
});
