import { type ExperimentPlan, fingerprint, type Scenario, type Study } from "@busy-harbor/core";
import { scenarioStudy } from "@busy-harbor/core/experiments";
import type { RunSummary } from "@busy-harbor/core/contract";

/** The run that a scenario shows. */
export interface ScenarioRun {
  readonly run: RunSummary;
  /** Whether it was made with other values, another design or other settings than the row has now. */
  readonly isOld: boolean;
}

interface Known {
  readonly of: readonly unknown[];
  readonly fingerprint: string | undefined;
}
const known = new WeakMap<Scenario, Known>();

/** The fingerprint that a run of the row would have now; undefined where its values cannot be. */
export function fingerprintNow(study: Study, experiment: ExperimentPlan, scenario: Scenario): string | undefined {
  const design = study.designs.find(({ id }) => id === scenario.design);
  const { run, calendars, tables, streams, variables } = study;
  // Immer keeps what did not change: only rows that were edited are worked out anew.
  const of = [design, run, calendars, tables, streams, variables, experiment.factors, experiment.random];
  const before = known.get(scenario);
  if (before?.of.every((part, i) => part === of[i])) return before.fingerprint;
  const applied = scenarioStudy(study, experiment, scenario);
  const now = applied.ok ? fingerprint(applied.design, applied.study.run, applied.study) : undefined;
  known.set(scenario, { of, fingerprint: now });
  return now;
}

/** How many replications a row wants. */
export const replicationsOf = (study: Study, { replications }: Scenario): number =>
  replications ?? study.run.replications;

/** For each row the latest run that fits it as it is, or else its latest; rows that never ran have none. */
export function scenarioRuns(
  study: Study,
  experiment: ExperimentPlan,
  runs: readonly RunSummary[],
): ReadonlyMap<string, ScenarioRun> {
  const byScenario = new Map<string, RunSummary[]>();
  for (const run of runs) {
    if (run.plan !== experiment.id) continue;
    const of = byScenario.get(run.scenario);
    if (of) of.push(run);
    else byScenario.set(run.scenario, [run]);
  }
  const found = new Map<string, ScenarioRun>();
  for (const scenario of experiment.scenarios) {
    const of = byScenario.get(scenario.id);
    if (!of) continue;
    const now = fingerprintNow(study, experiment, scenario);
    // The latest come first.
    const fitting = of.find((run) => run.fingerprint === now);
    found.set(scenario.id, { run: fitting ?? of[0], isOld: fitting === undefined });
  }
  return found;
}

export const isActive = ({ state }: RunSummary): boolean => state === "queued" || state === "running";

/** What a row lacks: a run, the rest of one, or nothing. */
export function lackOf(
  study: Study,
  scenario: Scenario,
  of: ScenarioRun | undefined,
): "nothing" | "all" | "more" | "under way" {
  if (!of || of.isOld) return of && isActive(of.run) ? "under way" : "all";
  if (isActive(of.run)) return "under way";
  if (of.run.state === "failed") return "all";
  // One that runs to a precision has as many as that takes.
  const isMet = of.run.settings.precision !== undefined && of.run.state === "done";
  if (isMet || of.run.finished >= replicationsOf(study, scenario)) return "nothing";
  return of.run.settings.kind === "long" ? "all" : "more";
}

/** How a row stands, in words. */
export function stateWords(study: Study, scenario: Scenario, of: ScenarioRun | undefined): string {
  if (scenario.off) return "off";
  if (!of) return "not run";
  const { run, isOld } = of;
  const isExact = isOld || run.settings.precision !== undefined;
  const wanted = Math.max(run.settings.replications, isExact ? 0 : replicationsOf(study, scenario));
  const words = {
    queued: "waiting",
    running: `${run.finished} of ${run.settings.replications}`,
    done: run.finished < wanted ? `${run.finished} of ${wanted}` : "done",
    cancelled: `stopped at ${run.finished}`,
    failed: "failed",
  }[run.state];
  const held = run.held ? "held" : words;
  return isOld ? (run.state === "done" ? "out of date" : `${held}, out of date`) : held;
}
