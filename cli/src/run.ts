import { availableParallelism } from "node:os";
import {
  changedRunSettingsSchema,
  compile,
  COUNTED_IN,
  type Design,
  dimensionSymbol,
  displayUnit,
  formatNumber,
  meanInterval,
  type MeasureInfo,
  problemText,
  type Problem,
  type ReplicationResult,
  type RunSettings,
  type Study,
  measuresOf,
  writtenTables,
} from "@busy-harbor/core";
import { report } from "./check.ts";
import { type Console, EXIT, UsageError } from "./console.ts";
import { runReplications } from "./replications.ts";
import { readStudyFile } from "./studyFile.ts";

export interface RunOptions {
  readonly design?: string;
  readonly replications?: number;
  readonly seed?: number;
  readonly length?: string;
  readonly warmUp?: string;
  readonly level?: number;
  readonly threads?: number;
  readonly json?: boolean;
  /** Folder for the rows that steps write. */
  readonly rows?: string;
}

/** `harbor run`: replications of one design on worker threads. */
export async function runCommand(file: string, options: RunOptions, console: Console): Promise<number> {
  const read = await readStudyFile(file);
  if (!read.ok) {
    report(read.problems, options.json, console);
    return EXIT.problems;
  }
  const design = chooseDesign(read.study, options.design);
  const { replications, seed, length, warmUp, level } = options;
  const changed = changedRunSettingsSchema.safeParse(definedOnly({ replications, seed, length, warmUp, level }));
  if (!changed.success) {
    const [{ path, message }] = changed.error.issues;
    throw new UsageError(`The ${path.join(".")} given cannot be taken: ${message}.`);
  }
  const settings: RunSettings = { ...read.study.run, ...changed.data };
  const study: Study = { ...read.study, run: settings };
  const { program, problems } = compile(study, design.id);
  const wrongCall = problems.find(
    (p) =>
      p.path[0] === "run" &&
      ((p.field === "length" && length !== undefined) || (p.field === "warmUp" && warmUp !== undefined)),
  );
  if (wrongCall) throw new UsageError(`${wrongCall.message}${wrongCall.hint ? ` ${wrongCall.hint}` : ""}`);
  if (!program) {
    report(problems, options.json, console);
    return EXIT.problems;
  }
  if (options.rows !== undefined && writtenTables(program.model).length === 0)
    throw new UsageError("No step of the design writes rows.");
  const threads = options.threads ?? availableParallelism();
  const results = await runReplications(study, design.id, settings, threads, options.rows);
  const failures = results.flatMap((r) => (r.failure ? [failureProblem(r, design)] : []));
  if (options.json) printJson(design, settings, measuresOf(program), results, failures, console);
  else printTable(study, design, settings, measuresOf(program), results, failures, console);
  return failures.length > 0 ? EXIT.problems : EXIT.ok;
}

const definedOnly = <T extends object>(values: T): Partial<T> =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as Partial<T>;

function chooseDesign(study: Study, wanted: string | undefined): Design {
  if (wanted === undefined) return study.designs[0];
  const found = study.designs.find((d) => d.name === wanted) ?? study.designs.find((d) => d.id === wanted);
  if (!found)
    throw new UsageError(
      `There is no design "${wanted}". There is ${study.designs.map((d) => `"${d.name}"`).join(", ")}.`,
    );
  return found;
}

function failureProblem({ failure, replication }: ReplicationResult, design: Design): Problem {
  const { code, message, hint, id, field, time } = failure!;
  return {
    code,
    severity: "error",
    message: `Replication ${replication} stopped at ${time} s: ${message}`,
    hint,
    path: [],
    designId: design.id,
    id,
    field,
  };
}

function printJson(
  design: Design,
  settings: RunSettings,
  measures: readonly MeasureInfo[],
  results: readonly ReplicationResult[],
  problems: readonly Problem[],
  console: Console,
): void {
  const finite = (value: number) => (Number.isFinite(value) ? value : null);
  const document = {
    design: design.name,
    settings,
    measures: measures.map((measure, i) => {
      const values = results.map((r) => r.values[i]);
      const { mean, halfWidth } = meanInterval(values, settings.level);
      return {
        element: measure.owner,
        kind: measure.ownerKind,
        measure: measure.id,
        label: measure.label,
        unit: dimensionSymbol(measure.dimension),
        mean: finite(mean),
        halfWidth: finite(halfWidth),
        values: values.map(finite),
      };
    }),
    ...(problems.length > 0 ? { problems } : {}),
  };
  console.out(`${JSON.stringify(document, null, 2)}\n`);
}

function printTable(
  study: Study,
  design: Design,
  settings: RunSettings,
  measures: readonly MeasureInfo[],
  results: readonly ReplicationResult[],
  problems: readonly Problem[],
  console: Console,
): void {
  const single = results.length === 1;
  console.out(
    `${design.name}: ${results.length} ${settings.kind === "long" ? "batches of one long run" : COUNTED_IN[settings.kind][single ? 0 : 1]} of ${settings.length}, warm-up ${settings.warmUp}, seed ${settings.seed}\n`,
  );
  console.out(
    single
      ? `One ${COUNTED_IN[settings.kind][0]} only: these figures carry no interval.\n`
      : `Mean ± half-width at ${formatNumber(settings.level * 100)} %\n`,
  );
  let owner = "";
  measures.forEach((measure, i) => {
    if (measure.owner !== owner) {
      owner = measure.owner;
      console.out(`\n${owner} (${measure.ownerKind})\n`);
    }
    const { symbol, factor } = displayUnit(measure.dimension, study.units);
    const { mean, halfWidth } = meanInterval(
      results.map((r) => r.values[i]),
      settings.level,
    );
    const interval = Number.isFinite(halfWidth) ? ` ± ${formatNumber(halfWidth / factor, 3)}` : "";
    console.out(
      `  ${measure.label.padEnd(44)} ${formatNumber(mean / factor).padStart(12)}${interval} ${symbol}`.trimEnd() + "\n",
    );
  });
  for (const problem of problems) console.err(`${problemText(problem)}\n`);
}
