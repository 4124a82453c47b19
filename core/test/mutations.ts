import fc from "fast-check";
import { compile, readStudy, run, type Study } from "../src/index.ts";
import { fullModels } from "./randomModels.ts";

/** What a careless hand may type into a setting … */
const typed = fc.constantFrom(
  "",
  "0",
  "1",
  "-1",
  "1e308",
  "1/0",
  "0/0",
  "entity.size",
  "entity.size - 2",
  "clock / 1 s",
  "exponential(0 s)",
  "exponential(-5 min)",
  "normal(1 s, 9 s)",
  "normal(20 s, 15 s)",
  "0 s",
  "1 s",
  "1 s / (entity.size - 2)",
  "clock - 100 s",
  "50 %",
  "entity.size > 1",
  "out.departed",
  "crew.busy",
  "e0n0.busy",
  "entity",
  "clock",
  "in",
  "((((",
  "1 min + 2 m",
  "if(",
  "99999999",
  "no limit",
  "auto",
  "all",
  "t1",
  "t2",
  "crew",
  "kit",
  "shift",
  "demand",
);
/** … and what a broken program may put there. */
const junk = fc.constantFrom<unknown>(null, true, -1, 0, 1e300, 0.5, [], {}, ["x"], "ä\u0000\uFFFF", "x".repeat(5000));

interface Mutation {
  readonly at: number;
  readonly to: unknown;
  readonly how: "type" | "replace" | "remove" | "double" | "swap";
}

/** Every place of a JSON value at which something stands, as its holder and key. */
function places(
  value: unknown,
  found: [holder: Record<string, unknown> | unknown[], key: string | number][] = [],
): typeof found {
  if (typeof value !== "object" || value === null) return found;
  for (const [key, item] of Object.entries(value)) {
    found.push([value as Record<string, unknown>, Array.isArray(value) ? Number(key) : key]);
    places(item, found);
  }
  return found;
}

/** A copy of a document, changed here and there. */
function mutate(document: unknown, mutations: readonly Mutation[]): unknown {
  const copy: unknown = JSON.parse(JSON.stringify(document));
  for (const { at, to, how } of mutations) {
    // Settings are texts of elements and links, names and ids aside.
    const settings = ([holder, key]: ReturnType<typeof places>[number]) =>
      typeof (holder as Record<string, unknown>)[key] === "string" &&
      !Array.isArray(holder) &&
      !["id", "name", "kind", "from", "to"].includes(String(key)) &&
      ("streams" in holder || String((holder as { id?: unknown }).id).length < 4);
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

const mutation = fc.oneof(
  { weight: 6, arbitrary: fc.record({ at: fc.nat(), to: typed, how: fc.constant("type" as const) }) },
  {
    weight: 1,
    arbitrary: fc.record({
      at: fc.nat(),
      to: junk,
      how: fc.constantFrom("replace" as const, "remove" as const, "double" as const, "swap" as const),
    }),
  },
);

/** How a mutated document ended; "wrong" where it was neither refused with a reason, nor ran within its budget. */
export type Ending = "refused" | "problems" | "ran" | "failed" | "wrong";

const BUDGET = { entities: 2000, events: 3000, stepsAtAnInstant: 5000 };

/** Reads, checks and runs a document; never throws. */
export function endingOf(document: unknown): Ending {
  const said = (messages: readonly { readonly message: string }[]) =>
    messages.length > 0 && messages.every(({ message }) => /\S/.test(message));
  try {
    const read = readStudy(document);
    if (!read.ok) return said(read.problems) ? "refused" : "wrong";
    const { program, problems } = compile(read.study);
    if (!program) return said(problems) && problems.some((p) => p.severity === "error") ? "problems" : "wrong";
    const result = run(program, { seed: 1, replication: 1, limits: BUDGET })!;
    if (result.events > BUDGET.events) return "wrong";
    if (!result.failure) return "ran";
    return said([result.failure]) ? "failed" : "wrong";
  } catch {
    return "wrong";
  }
}

/** Mutated documents: of random models of everything, and of a demo. */
export const mutatedDocuments = (demo: Study): fc.Arbitrary<unknown> => {
  const short: Study = { ...demo, designs: demo.designs.slice(0, 1), plan: [] };
  return fc
    .tuple(
      fc.oneof({ weight: 4, arbitrary: fullModels }, { weight: 1, arbitrary: fc.constant(short) }),
      fc.array(mutation, { minLength: 1, maxLength: 4 }),
    )
    .map(([original, mutations]) => mutate(original, mutations));
};
