import { createHash } from "node:crypto";
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { gunzipSync, gzipSync } from "node:zlib";
import fc from "fast-check";
import { z } from "zod";
import { compile, readStudyText, run, runLong, type Study, writeStudy, measuresOf } from "../core/src/index.ts";
import { fullModels, plainModels } from "../core/test/randomModels.ts";

/** Figures of one study: bits of each measure over its replications, by key; or why there are none. */
const entrySchema = z.object({
  name: z.string(),
  text: z.string(),
  design: z.string(),
  replications: z.int(),
  figures: z.record(z.string(), z.string()),
});
const fileSchema = z.array(entrySchema);
type Entry = z.infer<typeof entrySchema>;

const RANDOM_MODELS = 500;

/** Bits of every measure of a design, hashed over a few replications; what fails has its message instead. */
function figuresOf(text: string, design: string, replications: number): Record<string, string> {
  const read = readStudyText(text);
  if (!read.ok) return { "": JSON.stringify(read.problems[0]) };
  const { program, problems } = compile(read.study, design);
  if (!program) return { "": JSON.stringify(problems.find((p) => p.severity === "error")) };
  const { seed, kind } = read.study.run;
  const results =
    kind === "long"
      ? runLong(program, { seed, batches: replications })!
      : Array.from({ length: replications }, (_, r) => run(program, { seed, replication: r + 1 })!);
  const bits = (values: number[]) =>
    createHash("sha256")
      .update(new Uint8Array(Float64Array.from(values).buffer))
      .digest("hex")
      .slice(0, 16);
  const figures = Object.fromEntries(
    measuresOf(program).map(({ key }, i) => [key, bits(results.map((r) => r.values[i]))]),
  );
  return {
    ...figures,
    events: bits(results.map((r) => r.events)),
    failure: results.map((r) => r.failure?.code ?? "").join(),
  };
}

/** A run of at most some thousand events, where the file would take long. */
const shortened = (study: Study, share: number): Study => {
  const { program } = compile(study);
  if (!program || share === 1) return study;
  const { length, warmUp } = program.model;
  return { ...study, run: { ...study.run, length: `${warmUp + (length - warmUp) * share} s` } };
};

function studies(): Omit<Entry, "figures">[] {
  const found: Omit<Entry, "figures">[] = [];
  const add = (name: string, study: Study, replications: number) => {
    for (const { id } of study.designs)
      found.push({ name: `${name}, ${id}`, text: writeStudy(study), design: id, replications });
  };
  for (const [folder, share] of [
    ["demo", 1],
    ["demo/known-answers", 0.02],
  ] as const) {
    for (const file of readdirSync(folder)
      .filter((f) => f.endsWith(".json") && f !== "answers.json")
      .sort()) {
      const read = readStudyText(readFileSync(join(folder, file), "utf8"));
      if (read.ok) add(`${folder}/${file}`, shortened(read.study, share), 5);
    }
  }
  for (const [name, models] of [
    ["plain", plainModels],
    ["full", fullModels],
  ] as const) {
    fc.sample(models, { numRuns: RANDOM_MODELS, seed: 1 }).forEach((study, i) => add(`${name} model ${i}`, study, 2));
  }
  return found;
}

/**
 * Makes a file of studies and the bits of their figures, or runs those of such a file and tells what came out
 * otherwise.
 */
function main([what, file]: readonly string[]): number {
  if (what === "make" && file) {
    const made = studies().map((entry): Entry => ({
      ...entry,
      figures: figuresOf(entry.text, entry.design, entry.replications),
    }));
    writeFileSync(file, gzipSync(JSON.stringify(made)));
    console.log(`studies: ${made.length}\nfigures: ${made.reduce((sum, e) => sum + Object.keys(e.figures).length, 0)}`);
    return 0;
  }
  if (what === "compare" && file) {
    const before = fileSchema.parse(JSON.parse(gunzipSync(readFileSync(file)).toString()));
    const changed = new Map<string, string[]>();
    let same = 0;
    let added = 0;
    for (const { name, text, design, replications, figures } of before) {
      const now = figuresOf(text, design, replications);
      added += Object.keys(now).filter((key) => !(key in figures)).length;
      for (const [key, bits] of Object.entries(figures)) {
        if (now[key] === bits) same += 1;
        else changed.set(name, [...(changed.get(name) ?? []), key in now ? key : `${key} (gone)`]);
      }
    }
    for (const [name, keys] of changed)
      console.log(
        `changed in ${name}: ${keys.slice(0, 12).join(" ")}${keys.length > 12 ? ` and ${keys.length - 12} more` : ""}`,
      );
    const byMeasure = new Map<string, number>();
    for (const key of [...changed.values()].flat())
      byMeasure.set(key.replace(/^.*\//, ""), (byMeasure.get(key.replace(/^.*\//, "")) ?? 0) + 1);
    console.log(
      `changed measures: ${
        [...byMeasure]
          .sort((a, b) => b[1] - a[1])
          .map(([id, n]) => `${id} (${n})`)
          .join(", ") || "none"
      }`,
    );
    console.log(
      `same: ${same}\nchanged: ${[...changed.values()].flat().length}\nchanged-studies: ${changed.size}\nnew: ${added}`,
    );
    return changed.size === 0 ? 0 : 1;
  }
  console.error("Use: npm run figures -- make FILE, or: npm run figures -- compare FILE");
  return 2;
}

process.exitCode = main(process.argv.slice(2));
