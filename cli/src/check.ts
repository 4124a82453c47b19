import { compile, type Problem, problemText } from "@busy-harbor/core";
import { type Console, EXIT } from "./console.ts";
import { readStudyFile } from "./studyFile.ts";

/**
 * `harbor check`: problems of every design of a study. Warnings are listed, and a study with nothing worse is in
 * order.
 */
export async function check(file: string, { json }: { json?: boolean }, console: Console): Promise<number> {
  const read = await readStudyFile(file);
  const problems: readonly Problem[] = read.ok
    ? distinct(read.study.designs.flatMap((design) => compile(read.study, design.id).problems))
    : read.problems;
  report(problems, json, console);
  return problems.some((p) => p.severity === "error") ? EXIT.problems : EXIT.ok;
}

/** Problems of the study as a whole turn up with every design; say them once. */
function distinct(problems: readonly Problem[]): Problem[] {
  return [...new Map(problems.map((p) => [JSON.stringify([p.path, p.message]), p])).values()];
}

/** Prints problems: as JSON on standard output, or as lines on standard error. */
export function report(problems: readonly Problem[], json: boolean | undefined, console: Console): void {
  if (json) console.out(`${JSON.stringify({ problems }, null, 2)}\n`);
  else if (problems.length === 0) console.out("No problems.\n");
  else for (const problem of problems) console.err(`${problemText(problem)}\n`);
}
