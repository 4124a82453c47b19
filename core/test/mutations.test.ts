import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { compile, readStudy, readStudyText, run, type Study } from "../src/index.ts";
import { fullModels } from "./randomModels.ts";

jest.setTimeout(300_000);

/** What a careless hand may type into a setting … */
const typed = fc.constantFrom(
  "", "0", "1", "-1", "1e308", "1/0", "0/0", "entity.size", "entity.size - 2", "clock / 1 s", "exponential(0 s)", "exponential(-5 min)", "normal(1 s, 9 s)", "normal(20 s, 15 s)", "0 s", "1 s", "1 s / (entity.size - 2)",
  "clock - 100 s", "50 %", "entity.size > 1", "out.departed", "crew.busy", "e0n0.busy", "entity", "clock", "in", "((((", "1 min + 2 m", "if(", "99999999", "no limit", "auto", "all", "t1", "t2", "crew", "kit", "shift", "demand",
);
/** … and what a broken program may put there. */
const junk = fc.constantFrom<unknown>(null, true, -1, 0, 1e300, 0.5, [], {}, ["x"], "ä\u0000\uFFFF", "x".repeat(5000));

interface Mutation {
  readonly at: number;
  readonly to: unknown;
  readonly how: "type" | "replace" | "remove" | "double" | "swap";
}

/** Every place of a JSON value at which something stands, as its holder and key. */
function places(value: unknown, found: [holder: Record<string, unknown> | unknown[], key: string | number][] = []): typeof found {
  if (typeof value !== "object" || value === null) return found;
  for (const [key, item] of Object.entries(value)) {
    found.push([value as Record<string, unknown>, Array.isArray(value) ? Number(key) : key]);
    places(item, found);
  }
  return found;
}

function mutate(document: unknown, mutations: readonly Mutation[]): unknown {
  const copy: unknown = JSON.parse(JSON.stringify(document));
  for (const { at, to, how } of mutations) {
    // Settings are texts of elements and links, names and ids aside.
    const settings = ([holder, key]: ReturnType<typeof places>[number]) => typeof (holder as Record<string, unknown>)[key] === "string" && !Array.isArray(holder) && !["id", "name", "kind", "from", "to"].includes(String(key)) && ("streams" in holder || String((holder as { id?: unknown }).id).length < 4);
    const all = how === "type" ? places(copy).filter(settings) : places(copy);
    if (all.length === 0) continue;
    const [holder, key] = all[at % all.length];
    if (how === "remove") {
      if (Array.isArray(holder)) holder.splice(Number(key), 1);
      else delete holder[key];
    } else if (how === "double" && Array.isArray(holder)) holder.push(JSON.parse(JSON.stringify(holder[Number(key)])));
    else if (how === "swap") {
      const [other, otherKey] = all[(at * 7 + 3) % all.length];
      const [a, b] = [(holder as Record<string, unknown>)[key], (other as Record<string, unknown>)[otherKey]];
      if (JSON.stringify(a ?? null).length + JSON.stringify(b ?? null).length > 2000) continue;
      (holder as Record<string, unknown>)[key] = b;
      (other as Record<string, unknown>)[otherKey] = a;
    } else (holder as Record<string, unknown>)[key] = to;
  }
  return JSON.parse(JSON.stringify(copy));
}

const demo = readStudyText(readFileSync(join(__dirname, "../../demo/foot-passengers.json"), "utf8"));
if (!demo.ok) throw new Error("The demo cannot be read.");
const mutation = fc.oneof(
  { weight: 6, arbitrary: fc.record({ at: fc.nat(), to: typed, how: fc.constant("type" as const) }) },
  { weight: 1, arbitrary: fc.record({ at: fc.nat(), to: junk, how: fc.constantFrom("replace" as const, "remove" as const, "double" as const, "swap" as const) }) },
);

test("ten thousand mutated documents: each is refused, has problems, or runs within its budget; none hangs, none throws", () => {
  const ends = { refused: 0, problems: 0, ran: 0, failed: 0 };
  const short = (s: Study): Study => ({ ...s, designs: s.designs.slice(0, 1), plan: [] });
  fc.assert(
    fc.property(fc.oneof({ weight: 4, arbitrary: fullModels }, { weight: 1, arbitrary: fc.constant(short(demo.study)) }), fc.array(mutation, { minLength: 1, maxLength: 4 }), (original, mutations) => {
      const read = readStudy(mutate(original, mutations));
      if (!read.ok) {
        ends.refused += 1;
        expect(read.problems.length).toBeGreaterThan(0);
        return;
      }
      const { program, problems } = compile(read.study);
      for (const problem of problems) expect(problem.message).toMatch(/\S/);
      if (!program) {
        ends.problems += 1;
        expect(problems.some((p) => p.severity === "error")).toBe(true);
        return;
      }
      const result = run(program, { seed: 1, replication: 1, limits: { entities: 2000, events: 3000, stepsAtAnInstant: 5000 } })!;
      expect(result.events).toBeLessThanOrEqual(3000);
      if (result.failure) ends.failed += 1;
      else ends.ran += 1;
      if (result.failure) expect(result.failure.message).toMatch(/\S/);
    }),
    { numRuns: 10_000, seed: 11 },
  );
  // Each way of ending is met often enough to mean something.
  for (const [end, count] of Object.entries(ends)) expect([end, count > 20]).toEqual([end, true]);
});
