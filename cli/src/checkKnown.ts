import { availableParallelism } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import {
  compile,
  formatNumber,
  type KnownAnswer,
  meanInterval,
  readKnownAnswers,
  type Study,
  measuresOf,
} from "@busy-harbor/core";
import { report } from "./check.ts";
import { type Console, EXIT, UsageError } from "./console.ts";
import { runReplications } from "./replications.ts";
import { readStudyFile, readText } from "./studyFile.ts";

export interface CheckKnownOptions {
  readonly effort: number;
  readonly threads?: number;
  readonly json?: boolean;
}

/** The level at which a true value is missed once in a thousand checks. */
const LEVEL = 0.999;

const SHIPPED = fileURLToPath(new URL("../../demo/known-answers/answers.json", import.meta.url));

interface Outcome {
  readonly model: string;
  readonly figure: string;
  readonly exact: number;
  readonly mean: number;
  readonly halfWidth: number;
  readonly inside: boolean;
}

/**
 * `harbor check-known`: runs studies whose figures are known from theory, and tells whether each
 * lies in the 99.9 % interval of what was measured. `effort` is the length of the replications, of 1.
 */
export async function checkKnown(
  file: string | undefined,
  { effort, threads = availableParallelism(), json }: CheckKnownOptions,
  console: Console,
): Promise<number> {
  const path = file ?? SHIPPED;
  const read = readKnownAnswers(await readText(path));
  if (!read.ok) {
    report(read.problems, json, console);
    return EXIT.problems;
  }
  const outcomes: Outcome[] = [];
  for (const answer of read.answers) {
    const found = await checkOne(answer, dirname(path), effort, threads);
    outcomes.push(...found);
    if (!json) for (const outcome of found) console.out(line(outcome));
  }
  const missed = outcomes.filter((o) => !o.inside).length;
  if (json) console.out(`${JSON.stringify({ level: LEVEL, effort, outcomes }, null, 2)}\n`);
  else
    console.out(
      `\n${outcomes.length - missed} of ${outcomes.length} known figures lie in their ${LEVEL * 100} % intervals.\n`,
    );
  return missed > 0 ? EXIT.problems : EXIT.ok;
}

async function checkOne(
  { study: name, name: model, checks }: KnownAnswer,
  folder: string,
  effort: number,
  threads: number,
): Promise<Outcome[]> {
  const read = await readStudyFile(join(folder, name));
  const studied = read.ok ? compile(read.study) : undefined;
  if (!read.ok || !studied?.program)
    throw new UsageError(
      `${name} cannot run: ${(read.ok ? studied!.problems : read.problems)[0]?.message ?? "it has problems."}`,
    );
  const { program } = studied;
  const { length, warmUp } = program.model;
  const study: Study = {
    ...read.study,
    run: { ...read.study.run, length: `${warmUp + (length - warmUp) * effort} s` },
  };
  const results = await runReplications(study, study.designs[0].id, study.run, threads);
  return checks.map(({ name: figure, value: exact, of }) => {
    const parts = Object.entries(of).map(([key, weight]) => ({
      at: measuresOf(program).findIndex((m) => m.key === key),
      weight,
      key,
    }));
    const unknown = parts.find(({ at }) => at < 0);
    if (unknown) throw new UsageError(`${name} has no measure "${unknown.key}".`);
    const values = results.map((r) => parts.reduce((sum, { at, weight }) => sum + weight * r.values[at], 0));
    const { mean, halfWidth } = meanInterval(values, LEVEL);
    return { model, figure, exact, mean, halfWidth, inside: Math.abs(mean - exact) <= halfWidth };
  });
}

const line = ({ model, figure, exact, mean, halfWidth, inside }: Outcome): string =>
  `${inside ? "inside " : "OUTSIDE"} ${model.padEnd(28)} ${figure.padEnd(40)} exact ${formatNumber(exact, 6).padStart(10)}, measured ${formatNumber(mean, 6).padStart(10)} ± ${formatNumber(halfWidth, 2)} (${formatNumber((100 * halfWidth) / exact, 2)} %)\n`;
