import { availableParallelism } from "node:os";
import {
  compile,
  dimensionSymbol,
  type ExperimentPlan,
  formatNumber,
  meanInterval,
  type MeasureInfo,
  measuresOf,
  type Problem,
  type ReplicationResult,
  type RunSettings,
  type Scenario,
  type Study,
} from "@busy-harbor/core";
import {
  type Applied,
  factorWords,
  scenarioNames,
  scenarioStudy,
  valueIn,
  wordsOfValue,
} from "@busy-harbor/core/experiments";
import Papa from "papaparse";
import { report } from "./check.ts";
import { type Console, EXIT, UsageError } from "./console.ts";
import { runAll } from "./replications.ts";
import { searchCommand } from "./search.ts";
import { readStudyFile } from "./studyFile.ts";
import { saveWorkbook } from "./workbook.ts";

export interface ExperimentOptions {
  readonly experiment?: string;
  readonly replications?: number;
  readonly level?: number;
  readonly threads?: number;
  readonly json?: boolean;
  readonly csv?: boolean;
  /** Its search is carried out, in place of its scenarios. */
  readonly search?: boolean;
  /** File of an XLSX spreadsheet. */
  readonly xlsx?: string;
}

/** A scenario that has been run. */
interface Ran {
  readonly name: string;
  readonly design: string;
  /** By factor, as it is told. */
  readonly values: readonly string[];
  readonly settings: RunSettings;
  /** By response; undefined where the design does not measure it. */
  readonly columns: readonly (readonly number[] | undefined)[];
}

/** `harbor experiment`: the scenarios of an experiment of a study, on worker threads. */
export async function experimentCommand(file: string, options: ExperimentOptions, console: Console): Promise<number> {
  const read = await readStudyFile(file);
  if (!read.ok) {
    report(read.problems, options.json, console);
    return EXIT.problems;
  }
  const study = options.level === undefined ? read.study : levelled(read.study, options.level);
  const experiment = choose(study, options.experiment);
  const threads = options.threads ?? availableParallelism();
  if (options.search && options.replications !== undefined)
    throw new UsageError("A search says itself how many replications it wants: its budget stands in the study.");
  if (options.search) return searchCommand(study, experiment, { ...options, threads }, console);
  const chosen = experiment.scenarios
    .filter(({ off }) => !off)
    .map((s) => (options.replications === undefined ? s : { ...s, replications: options.replications }));
  if (chosen.length === 0) throw new UsageError(`${experiment.name} has no scenario that is on.`);
  const { applied, infos, problems } = prepared(study, experiment, chosen);
  if (problems.length > 0) {
    report(problems, options.json, console);
    return EXIT.problems;
  }
  const keys = responseKeys(study, experiment, infos[0]);
  const results = await runAll(
    applied.map((one) => ({ study: one.study, designId: one.design.id })),
    threads,
  );
  const failures = results.flatMap((of, i) => of.flatMap((r) => failureOf(r, applied[i], chosen[i])));
  const ran = runs(study, experiment, chosen, { applied, infos, keys, results });
  const factors = factorWords(study, experiment).map(({ title }) => title);
  const responses = keys.map((key) => infoOf(infos, key)!);
  if (options.xlsx !== undefined)
    await saveWorkbook(options.xlsx, experiment.name, [
      ["Scenarios", scenarioRows(factors, responses, ran, study.run.level)],
      ["Replications", replicationRows(factors, responses, ran)],
    ]);
  if (options.json)
    console.out(`${JSON.stringify(jsonOf(experiment, factors, responses, ran, study.run.level, failures), null, 2)}\n`);
  else if (options.csv) console.out(`${Papa.unparse(replicationRows(factors, responses, ran))}\n`);
  else printTable(experiment, responses, ran, study.run.level, failures, console);
  return failures.length > 0 ? EXIT.problems : EXIT.ok;
}

const levelled = (study: Study, level: number): Study => ({ ...study, run: { ...study.run, level } });

function choose({ experiments = [] }: Study, wanted: string | undefined): ExperimentPlan {
  if (experiments.length === 0) throw new UsageError("The study has no experiment.");
  if (wanted === undefined) return experiments[0];
  const found = experiments.find((e) => e.name === wanted) ?? experiments.find((e) => e.id === wanted);
  if (!found)
    throw new UsageError(
      `There is no experiment "${wanted}". There is ${experiments.map(({ name }) => `"${name}"`).join(", ")}.`,
    );
  return found;
}

function prepared(study: Study, experiment: ExperimentPlan, scenarios: readonly Scenario[]) {
  const applied: Applied[] = [];
  const infos: (readonly MeasureInfo[])[] = [];
  const problems: Problem[] = [];
  for (const scenario of scenarios) {
    const one = scenarioStudy(study, experiment, scenario);
    if (!one.ok) {
      problems.push(...one.problems);
      continue;
    }
    const { program, problems: found } = compile(one.study, one.design.id);
    if (!program) problems.push(...found);
    else {
      applied.push(one);
      infos.push(measuresOf(program));
    }
  }
  return { applied, infos, problems };
}

/** The deciding measures and those chosen besides; of an experiment without any, all. */
function responseKeys({ frame }: Study, { measures }: ExperimentPlan, all: readonly MeasureInfo[]): readonly string[] {
  const deciding = (frame?.deciding ?? []).map(({ measure }) => measure);
  const keys = [...new Set([...deciding, ...measures])].filter((key) => all.some((info) => info.key === key));
  return keys.length > 0 ? keys : all.map(({ key }) => key);
}

const infoOf = (infos: readonly (readonly MeasureInfo[])[], key: string): MeasureInfo | undefined => {
  for (const of of infos) {
    const found = of.find((info) => info.key === key);
    if (found) return found;
  }
  return undefined;
};

function failureOf({ failure, replication }: ReplicationResult, { design }: Applied, scenario: Scenario): Problem[] {
  if (!failure) return [];
  const { code, message, hint, id, field, time } = failure;
  const told = `Scenario ${scenario.name || scenario.id}, replication ${replication} stopped at ${time} s: ${message}`;
  return [{ code, severity: "error", message: told, hint, path: [], designId: design.id, id, field }];
}

function runs(
  study: Study,
  experiment: ExperimentPlan,
  scenarios: readonly Scenario[],
  {
    applied,
    infos,
    keys,
    results,
  }: {
    readonly applied: readonly Applied[];
    readonly infos: readonly (readonly MeasureInfo[])[];
    readonly keys: readonly string[];
    readonly results: readonly (readonly ReplicationResult[])[];
  },
): readonly Ran[] {
  const names = scenarioNames(study, experiment);
  const told = factorWords(study, experiment);
  return scenarios.map((scenario, i) => ({
    name: names.get(scenario.id)!,
    design: applied[i].design.name,
    values: told.map((words) => wordsOfValue(words, valueIn(study, words.factor, scenario))),
    settings: applied[i].study.run,
    columns: keys.map((key) => {
      const at = infos[i].findIndex((info) => info.key === key);
      return at < 0 ? undefined : results[i].map(({ values }) => values[at]);
    }),
  }));
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

function jsonOf(
  experiment: ExperimentPlan,
  factors: readonly string[],
  responses: readonly MeasureInfo[],
  ran: readonly Ran[],
  level: number,
  problems: readonly Problem[],
): object {
  return {
    experiment: experiment.name,
    level,
    factors,
    scenarios: ran.map(({ name, design, values, settings, columns }) => ({
      name,
      design,
      values: Object.fromEntries(factors.map((factor, f) => [factor, values[f]])),
      settings,
      measures: responses.flatMap((info, r) => {
        const column = columns[r];
        if (!column) return [];
        const { mean, halfWidth } = meanInterval(column, level);
        return [
          {
            element: info.owner,
            measure: info.id,
            label: info.label,
            unit: dimensionSymbol(info.dimension),
            mean: finite(mean),
            halfWidth: finite(halfWidth),
            values: column.map(finite),
          },
        ];
      }),
    })),
    ...(problems.length > 0 ? { problems } : {}),
  };
}

const titleOf = ({ owner, label, dimension }: MeasureInfo): string => {
  const unit = dimensionSymbol(dimension);
  return `${owner}: ${label}${unit === "1" || unit === "" ? "" : ` (${unit})`}`;
};

type Cell = string | number;

/** A row a scenario and replication, in SI units. */
function replicationRows(factors: readonly string[], responses: readonly MeasureInfo[], ran: readonly Ran[]): Cell[][] {
  return [
    ["Scenario", "Design", ...factors, "Replication", ...responses.map(titleOf)],
    ...ran.flatMap(({ name, design, values, columns }) =>
      Array.from({ length: Math.max(...columns.map((c) => c?.length ?? 0)) }, (_, r): Cell[] => [
        name,
        design,
        ...values,
        r + 1,
        ...columns.map((column) => (column && Number.isFinite(column[r]) ? column[r] : "")),
      ]),
    ),
  ];
}

/** A row a scenario: its values, and mean and half-width of each response. */
const scenarioRows = (
  factors: readonly string[],
  responses: readonly MeasureInfo[],
  ran: readonly Ran[],
  level: number,
): Cell[][] => [
  [
    "Scenario",
    "Design",
    ...factors,
    "Replications",
    ...responses.flatMap((info) => [titleOf(info), `± at ${formatNumber(level * 100)} %`]),
  ],
  ...ran.map(({ name, design, values, settings, columns }): Cell[] => [
    name,
    design,
    ...values,
    settings.replications,
    ...columns.flatMap((column): Cell[] => {
      const { mean, halfWidth } = meanInterval(column ?? [], level);
      return [finite(mean) ?? "", finite(halfWidth) ?? ""];
    }),
  ]),
];

function printTable(
  experiment: ExperimentPlan,
  responses: readonly MeasureInfo[],
  ran: readonly Ran[],
  level: number,
  problems: readonly Problem[],
  console: Console,
): void {
  console.out(
    `${experiment.name}: ${ran.length} scenarios, ${experiment.random} random numbers. Mean ± half-width at ${formatNumber(level * 100)} %, in SI units.\n`,
  );
  const width = Math.max(...ran.map(({ name }) => name.length));
  responses.forEach((info, r) => {
    console.out(`\n${titleOf(info)}\n`);
    for (const { name, columns } of ran) {
      const { mean, halfWidth, n } = meanInterval(columns[r] ?? [], level);
      const figures = n === 0 ? "not measured" : `${formatNumber(mean)} ± ${formatNumber(halfWidth, 2)}  (${n})`;
      console.out(`  ${name.padEnd(width)}  ${figures}\n`);
    }
  });
  if (problems.length > 0) report(problems, false, console);
}
