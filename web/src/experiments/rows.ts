import {
  displayUnit,
  type ExperimentPlan,
  formatNumber,
  type Interval,
  meanInterval,
  type MeasureInfo,
  readDeciding,
  type Scenario,
  type Study,
  usuallyBetter,
} from "@busy-harbor/core";
import type { Column } from "../state/figures.ts";
import type { ScenarioRun } from "./scenarioRuns.ts";
import type { ColumnOf } from "./useResponses.ts";

/** A measure by which scenarios are read. */
export interface Response {
  readonly key: string;
  /** Undefined where no design of the experiment has it. */
  readonly info: MeasureInfo | undefined;
  readonly better: "more" | "less";
  readonly unit: { readonly symbol: string; readonly factor: number };
  /** In SI units, where it decides. */
  readonly target: number | undefined;
  readonly matters: number | undefined;
  readonly decides: boolean;
}

/** A row of an experiment with what is known of it. */
export interface ScenarioRow {
  readonly scenario: Scenario;
  readonly name: string;
  readonly of: ScenarioRun | undefined;
  readonly state: string;
  readonly isBaseline: boolean;
  /** By response; null where it is not measured, undefined where nothing has been fetched. */
  readonly columns: readonly (Column | null | undefined)[];
  /** In the unit shown. */
  readonly intervals: readonly (Interval | undefined)[];
}

export const titleOf = ({ key, info }: Response): string => (info ? `${info.owner}: ${info.label}` : key);

/** The deciding measures, then those that were chosen besides. */
export function responsesOf(
  study: Study,
  experiment: ExperimentPlan,
  measures: readonly MeasureInfo[],
): readonly Response[] {
  const byKey = new Map(measures.map((info) => [info.key, info]));
  const deciding = readDeciding(study.frame?.deciding ?? [], measures);
  const of = (key: string, decides: boolean): Response => {
    const info = byKey.get(key);
    const one = deciding.find((d) => d.deciding.measure === key);
    return {
      key,
      info,
      better: one?.deciding.better ?? (info ? usuallyBetter(info) : "less"),
      unit: info ? displayUnit(info.dimension, study.units) : { symbol: "", factor: 1 },
      target: one?.target,
      matters: one?.matters,
      decides,
    };
  };
  const keys = deciding.map(({ deciding: { measure } }) => measure).filter((key) => key !== "");
  return [
    ...keys.map((key) => of(key, true)),
    ...experiment.measures.filter((key) => !keys.includes(key)).map((key) => of(key, false)),
  ];
}

/** What is known of each row. */
export function rowsOf(
  study: Study,
  experiment: ExperimentPlan,
  names: ReadonlyMap<string, string>,
  runs: ReadonlyMap<string, ScenarioRun>,
  responses: readonly Response[],
  columnOf: ColumnOf,
  stateOf: (scenario: Scenario, of: ScenarioRun | undefined) => string,
): readonly ScenarioRow[] {
  const baseline = baselineOf(experiment)?.id;
  const { level } = study.run;
  return experiment.scenarios.map((scenario) => {
    const of = runs.get(scenario.id);
    const columns = responses.map(({ key }) => (of && of.run.finished > 0 ? columnOf(of.run.id, key) : undefined));
    return {
      scenario,
      name: names.get(scenario.id) ?? "",
      of,
      state: stateOf(scenario, of),
      isBaseline: scenario.id === baseline,
      columns,
      intervals: columns.map((column, i) => (column ? intervalOf(column, responses[i], level) : undefined)),
    };
  });
}

/** The scenario others are held against. */
export const baselineOf = ({ scenarios, baseline }: ExperimentPlan): Scenario | undefined =>
  scenarios.find(({ id, off }) => id === baseline && !off) ?? scenarios.find(({ off }) => !off);

const known = new WeakMap<Column, { readonly level: number; readonly factor: number; readonly interval: Interval }>();

function intervalOf(column: Column, { unit: { factor } }: Response, level: number): Interval {
  const before = known.get(column);
  if (before?.level === level && before.factor === factor) return before.interval;
  const interval = meanInterval(
    column.values.map((v) => v / factor),
    level,
  );
  known.set(column, { level, factor, interval });
  return interval;
}

/** A mean with its half-width, as it is shown and copied. */
export function intervalText(interval: Interval | undefined): string {
  if (!interval || interval.n === 0 || !Number.isFinite(interval.mean)) return "";
  const mean = formatNumber(interval.mean);
  return interval.n > 1 && Number.isFinite(interval.halfWidth)
    ? `${mean} ± ${formatNumber(interval.halfWidth, 2)}`
    : mean;
}
