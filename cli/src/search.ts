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
  type Study,
} from "@busy-harbor/core";
import {
  type Applied,
  placeValues,
  readSearch,
  searchKeys,
  searchPlace,
  type SearchRead,
  triedOf,
} from "@busy-harbor/core/experiments";
import { searchStep, type SearchStep } from "@busy-harbor/core/inference";
import Papa from "papaparse";
import { report } from "./check.ts";
import { type Console, EXIT, UsageError } from "./console.ts";
import { runPieces } from "./replications.ts";
import { saveWorkbook } from "./workbook.ts";

/** A place that was tried. */
interface Tried {
  readonly name: string;
  readonly factors: Readonly<Record<string, string>>;
  readonly applied: Applied;
  readonly results: ReplicationResult[];
}

export interface SearchOptions {
  readonly threads: number;
  readonly json?: boolean;
  readonly csv?: boolean;
  readonly xlsx?: string;
}

/** Carries out the search of an experiment; the numbers are those of the screen, whatever the number of threads. */
export async function searchCommand(
  study: Study,
  experiment: ExperimentPlan,
  options: SearchOptions,
  console: Console,
): Promise<number> {
  const design = study.designs.find(({ id }) => id === experiment.search?.design);
  if (!experiment.search || !design) throw new UsageError(`${experiment.name} has no search.`);
  const { program, problems } = compile(study, design.id);
  if (!program) {
    report(problems, options.json, console);
    return EXIT.problems;
  }
  const measures = measuresOf(program);
  const read = readSearch(study, experiment, measures);
  if (!read.ok) {
    const told = Object.entries(read.problems).map(([field, message]): Problem => {
      return { code: "search", severity: "error", message, path: ["experiments", experiment.id, "search", field] };
    });
    report(told, options.json, console);
    return EXIT.problems;
  }
  if (study.run.kind === "long") throw new UsageError("A search needs replications as the type of run.");
  const { search } = read;
  const { measure, bound } = experiment.search;
  const keys = searchKeys(measure, bound?.measure ?? null, search);
  const places: Tried[] = [];
  const step = await carriedOut(study, experiment, design.id, search, keys, places, options.threads);
  if ("problems" in step) {
    report(step.problems, options.json, console);
    return EXIT.problems;
  }
  const isFront = search.settings.front !== undefined;
  const infos = keys.map((key) => measures.find((info) => info.key === key)!);
  const columns = places.map((place) => columnsOf(place, keys));
  if (options.xlsx !== undefined)
    await saveWorkbook(options.xlsx, experiment.name, [
      ["Places", placeRows(places, columns, infos, step, isFront, study.run.level)],
      ["Replications", replicationRows(places, columns, infos)],
    ]);
  if (options.json)
    console.out(`${JSON.stringify(jsonOf(experiment, places, columns, infos, step, study.run.level), null, 2)}\n`);
  else if (options.csv) console.out(`${Papa.unparse(replicationRows(places, columns, infos))}\n`);
  else printFound(experiment, places, columns, infos, step, isFront, study.run.level, console);
  return EXIT.ok;
}

/** Goes from round to round until the search is over; a problem of a place or a replication ends it. */
async function carriedOut(
  study: Study,
  experiment: ExperimentPlan,
  designId: string,
  search: SearchRead,
  keys: readonly string[],
  places: Tried[],
  threads: number,
): Promise<SearchStep | { readonly problems: readonly Problem[] }> {
  const isBounded = experiment.search?.bound !== undefined;
  for (;;) {
    const history = places.map((place) => triedOf(columnsOf(place, keys), isBounded, search));
    const step = searchStep(history, search.settings);
    if (step.phase === "over") return step;
    for (const { point, replications } of step.wanted.slice(places.length)) {
      const place = searchPlace(study, experiment, designId, placeValues(search, point), replications);
      if (!place.ok) return { problems: place.problems };
      places.push({ ...place, results: [] });
    }
    const works = places.flatMap(({ applied, results }, i) => {
      const missing = step.wanted[i].replications - results.length;
      const replications = Array.from({ length: Math.max(0, missing) }, (_, r) => results.length + r + 1);
      return missing > 0 ? [{ i, study: applied.study, designId: applied.design.id, replications }] : [];
    });
    const found = await runPieces(works, threads);
    works.forEach(({ i }, w) => places[i].results.push(...found[w]));
    const failed = places.flatMap(({ name, results }) =>
      results.flatMap(({ failure, replication }): Problem[] =>
        failure
          ? [
              {
                code: failure.code,
                severity: "error",
                message: `${name}, replication ${replication} stopped at ${failure.time} s: ${failure.message}`,
                hint: failure.hint,
                path: [],
              },
            ]
          : [],
      ),
    );
    if (failed.length > 0) return { problems: failed };
  }
}

const positions = new WeakMap<Applied, readonly number[]>();

/** A column for each measure of a search, over the replications of a place. */
function columnsOf({ applied, results }: Tried, keys: readonly string[]): number[][] {
  let at = positions.get(applied);
  if (!at) {
    const infos = measuresOf(compile(applied.study, applied.design.id).program!);
    at = keys.map((key) => infos.findIndex((info) => info.key === key));
    positions.set(applied, at);
  }
  return at.map((m) => results.map(({ values }) => values[m] ?? Number.NaN));
}

type Cell = string | number;
const titleOf = ({ owner, label, dimension }: MeasureInfo): string => {
  const unit = dimensionSymbol(dimension);
  return `${owner}: ${label}${unit === "1" || unit === "" ? "" : ` (${unit})`}`;
};
const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);
const standing = (i: number, { best, finalists }: SearchStep, isFront: boolean): string =>
  isFront ? (finalists.includes(i) ? "efficient" : "") : i === best ? "best" : finalists.includes(i) ? "finalist" : "";

function placeRows(
  places: readonly Tried[],
  columns: readonly (readonly number[][])[],
  infos: readonly MeasureInfo[],
  step: SearchStep,
  isFront: boolean,
  level: number,
): Cell[][] {
  const factors = Object.keys(places[0]?.factors ?? {});
  return [
    ["Place", ...factors, "Replications", ...infos.flatMap((info) => [titleOf(info), "±"]), "Stands as"],
    ...places.map(({ name, factors: values, results }, i): Cell[] => [
      name,
      ...factors.map((factor) => values[factor]),
      results.length,
      ...columns[i].flatMap((column): Cell[] => {
        const { mean, halfWidth } = meanInterval(column, level);
        return [finite(mean) ?? "", finite(halfWidth) ?? ""];
      }),
      standing(i, step, isFront),
    ]),
  ];
}

const replicationRows = (
  places: readonly Tried[],
  columns: readonly (readonly number[][])[],
  infos: readonly MeasureInfo[],
): Cell[][] => [
  ["Place", "Replication", ...infos.map(titleOf)],
  ...places.flatMap(({ name, results }, i) =>
    results.map(({ replication }, r): Cell[] => [
      name,
      replication,
      ...columns[i].map((column) => finite(column[r]) ?? ""),
    ]),
  ),
];

function jsonOf(
  experiment: ExperimentPlan,
  places: readonly Tried[],
  columns: readonly (readonly number[][])[],
  infos: readonly MeasureInfo[],
  { best, path, finalists, holds }: SearchStep,
  level: number,
): object {
  return {
    experiment: experiment.name,
    level,
    best: best ?? null,
    path,
    finalists,
    holds,
    places: places.map(({ name, factors }, i) => ({
      name,
      values: factors,
      measures: infos.map((info, m) => {
        const { mean, halfWidth } = meanInterval(columns[i][m], level);
        return {
          element: info.owner,
          measure: info.id,
          label: info.label,
          unit: dimensionSymbol(info.dimension),
          mean: finite(mean),
          halfWidth: finite(halfWidth),
          values: columns[i][m].map(finite),
        };
      }),
    })),
  };
}

function printFound(
  experiment: ExperimentPlan,
  places: readonly Tried[],
  columns: readonly (readonly number[][])[],
  infos: readonly MeasureInfo[],
  step: SearchStep,
  isFront: boolean,
  level: number,
  console: Console,
): void {
  const spent = places.reduce((sum, { results }) => sum + results.length, 0);
  console.out(`${experiment.name}: ${places.length} places, ${spent} replications.\n`);
  if (step.best === undefined) console.out("No place keeps within the bound.\n");
  else if (!isFront)
    console.out(
      `Best: ${places[step.best].name}${step.holds ? ", selected among the finalists with the chance asked for" : "; the budget did not last to promise it"}.\n`,
    );
  const shown = step.finalists.length > 0 ? step.finalists : places.map((_, i) => i);
  const width = Math.max(...shown.map((i) => places[i].name.length));
  for (const i of shown) {
    const figures = columns[i].map((column, m) => {
      const { mean, halfWidth } = meanInterval(column, level);
      const unit = dimensionSymbol(infos[m].dimension);
      return `${formatNumber(mean)} ± ${formatNumber(halfWidth, 2)}${unit === "1" ? "" : ` ${unit}`}`;
    });
    console.out(`  ${places[i].name.padEnd(width)}  ${figures.join("  ")}  ${standing(i, step, isFront)}\n`);
  }
}
