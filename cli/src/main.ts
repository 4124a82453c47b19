import { Command, CommanderError, InvalidArgumentError } from "commander";
import { check } from "./check.ts";
import { checkKnown, type CheckKnownOptions } from "./checkKnown.ts";
import { type Console, EXIT, UsageError } from "./console.ts";
import { experimentCommand, type ExperimentOptions } from "./experiment.ts";
import { runCommand, type RunOptions } from "./run.ts";
import { studyJsonSchema } from "@busy-harbor/core";

/** More threads than this help nobody: each needs memory of its own. */
const MOST_THREADS = 64;
const MOST_REPLICATIONS = 100_000;

const wholeNumber =
  (least: number, most = Number.MAX_SAFE_INTEGER) =>
  (text: string) => {
    const value = Number(text);
    if (!/^\d+$/.test(text) || !(value >= least && value <= most))
      throw new InvalidArgumentError(`A whole number from ${least} to ${most} is wanted.`);
    return value;
  };

const level = (text: string) => {
  const value = Number(text);
  if (!(value > 0 && value < 1)) throw new InvalidArgumentError("A level between 0 and 1 is wanted, such as 0.95.");
  return value;
};

const effort = (text: string) => {
  const value = Number(text);
  if (!(value > 0 && value <= 10))
    throw new InvalidArgumentError("A share above 0 is wanted, at most 10, such as 0.1.");
  return value;
};

/** Runs the command line; returns the exit code. */
export async function main(args: readonly string[], console: Console): Promise<number> {
  let code: number = EXIT.ok;
  const program = new Command("harbor")
    .description("Check and run Busy Harbor studies.")
    .exitOverride()
    .configureOutput({ writeOut: console.out, writeErr: console.err });

  program
    .command("run")
    .description("Run replications of a design and print its measures.")
    .argument("<file>", "a study file")
    .option("--design <name>", "name or id of the design (default: the first)")
    .option("--replications <n>", "number of replications", wholeNumber(1, MOST_REPLICATIONS))
    .option("--seed <s>", "seed", wholeNumber(0))
    .option("--length <time>", "length of a replication, such as 12h")
    .option("--warm-up <time>", "warm-up, such as 1h")
    .option("--level <level>", "confidence level", level)
    .option("--threads <n>", "worker threads (default: one a core)", wholeNumber(1, MOST_THREADS))
    .option("--rows <folder>", "write the rows that steps write into CSV files there, one a table and replication")
    .option("--json", "print one JSON document and nothing else")
    .action(async (file: string, options: RunOptions) => {
      code = await runCommand(file, options, console);
    });

  program
    .command("experiment")
    .description("Run the scenarios of an experiment of a study, or its search, and print its responses.")
    .argument("<file>", "a study file")
    .option("--experiment <name>", "name or id of the experiment (default: the first)")
    .option("--search", "carry out its search, in place of its scenarios")
    .option("--replications <n>", "number of replications of every scenario", wholeNumber(1, MOST_REPLICATIONS))
    .option("--level <level>", "confidence level", level)
    .option("--threads <n>", "worker threads (default: one a core)", wholeNumber(1, MOST_THREADS))
    .option("--xlsx <file>", "write a spreadsheet with a row a scenario, and one with a row a replication")
    .option("--csv", "print a row a scenario and replication, and nothing else")
    .option("--json", "print one JSON document and nothing else")
    .action(async (file: string, options: ExperimentOptions) => {
      code = await experimentCommand(file, options, console);
    });

  program
    .command("check")
    .description("List the problems of a study.")
    .argument("<file>", "a study file")
    .option("--json", "print one JSON document and nothing else")
    .action(async (file: string, options: { json?: boolean }) => {
      code = await check(file, options, console);
    });

  program
    .command("check-known")
    .description("Run studies whose figures are known from theory, and tell whether each lies in its 99.9 % interval.")
    .argument("[file]", "a file of known answers (default: those that come with Busy Harbor)")
    .option("--effort <share>", "length of the replications, as a share of the whole", effort, 1)
    .option("--threads <n>", "worker threads (default: one a core)", wholeNumber(1, MOST_THREADS))
    .option("--json", "print one JSON document and nothing else")
    .action(async (file: string | undefined, options: CheckKnownOptions) => {
      code = await checkKnown(file, options, console);
    });

  program
    .command("schema")
    .description("Print the JSON Schema of study files.")
    .action(() => console.out(`${JSON.stringify(studyJsonSchema(), null, 2)}\n`));

  try {
    await program.parseAsync([...args], { from: "user" });
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.ok : EXIT.usage;
    if (error instanceof UsageError) {
      console.err(`${error.message}\n`);
      return EXIT.usage;
    }
    throw error;
  }
  return code;
}
