import { compile, type ExperimentPlan, type Problem, type Scenario, type Study } from "@busy-harbor/core";
import { scenarioStudy } from "@busy-harbor/core/experiments";
import { useEffect, useMemo, useState } from "react";
import { useRuns } from "../state/runs.ts";

/** Problems of a row, by the id of the factor whose cell is at fault, `design`, or `state` for all others. */
export type RowProblems = ReadonlyMap<string, readonly Problem[]>;

interface Known {
  readonly of: readonly unknown[];
  readonly problems: RowProblems;
}
const known = new WeakMap<Scenario, Known>();
const NONE: RowProblems = new Map();
const NOTHING: readonly Problem[] = [];

/** Rows of larger designs are checked when they are run. */
const MOST_ELEMENTS = 500;
/** Milliseconds of checking at a time. */
const SLICE = 12;

const partsOf = (study: Study, experiment: ExperimentPlan, scenario: Scenario): readonly unknown[] => {
  const { run, calendars, tables, variables } = study;
  return [study.designs.find((d) => d.id === scenario.design), run, calendars, tables, variables, experiment.factors];
};
const isKnown = (parts: readonly unknown[], scenario: Scenario): boolean =>
  known.get(scenario)?.of.every((part, i) => part === parts[i]) ?? false;

/** By the column in which they are shown. */
function placed(problems: readonly (Problem & { readonly scenario?: string })[], { factors }: ExperimentPlan) {
  const found = new Map<string, Problem[]>();
  for (const problem of problems) {
    if (problem.severity !== "error") continue;
    const { id, field = "" } = problem;
    const factor = factors.find(
      (f) => f.id === field || (id !== undefined && f.at[1] === id && f.at.slice(2).join(".") === field),
    );
    const column = factor?.id ?? (field === "design" ? "design" : "state");
    found.set(column, [...(found.get(column) ?? []), problem]);
  }
  return found;
}

function check(study: Study, experiment: ExperimentPlan, scenario: Scenario): RowProblems {
  const applied = scenarioStudy(study, experiment, scenario);
  if (!applied.ok) return placed(applied.problems, experiment);
  if (applied.design.elements.length > MOST_ELEMENTS) return NONE;
  return placed(compile(applied.study, applied.design.id).problems, experiment);
}

/** What is wrong with the cells of an experiment: rows are checked while nothing else is to do. */
export function useProblems(
  study: Study,
  experiment: ExperimentPlan,
): (scenario: string, column: string) => readonly Problem[] {
  const [checked, setChecked] = useState(0);
  const refused = useRuns((s) => s.refusal?.problems);
  useEffect(() => {
    const waiting = experiment.scenarios.filter((s) => !isKnown(partsOf(study, experiment, s), s));
    if (waiting.length === 0) return;
    let timer: ReturnType<typeof setTimeout>;
    const work = () => {
      const end = performance.now() + SLICE;
      while (waiting.length > 0 && performance.now() < end) {
        const scenario = waiting.shift()!;
        known.set(scenario, {
          of: partsOf(study, experiment, scenario),
          problems: check(study, experiment, scenario),
        });
      }
      if (waiting.length > 0) timer = setTimeout(work, SLICE);
      else setChecked((n) => n + 1);
    };
    timer = setTimeout(work, 150);
    return () => clearTimeout(timer);
  }, [study, experiment]);
  return useMemo(() => {
    void checked;
    const byRow = new Map<string, RowProblems>();
    for (const scenario of experiment.scenarios) {
      const said = (refused ?? []).filter((p) => p.scenario === scenario.id);
      const own = isKnown(partsOf(study, experiment, scenario), scenario) ? known.get(scenario)!.problems : NONE;
      byRow.set(scenario.id, own.size > 0 || said.length === 0 ? own : placed(said, experiment));
    }
    return (scenario, column) => byRow.get(scenario)?.get(column) ?? NOTHING;
  }, [study, experiment, refused, checked]);
}
