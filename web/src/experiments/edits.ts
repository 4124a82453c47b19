import {
  type ExperimentPlan,
  experimentSchema,
  type Factor,
  factorSchema,
  freshName,
  MOST_FACTORS,
  MOST_SCENARIOS,
  type Scenario,
  scenarioSchema,
  type Study,
} from "@busy-harbor/core";
import type { Path } from "@busy-harbor/core/experiments";
import { newId } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";

/** Changes an experiment as a step to undo. */
export function editExperiment(
  id: string,
  what: string,
  recipe: (experiment: ExperimentPlan, study: Study) => void,
  mergeKey?: string,
): void {
  useStudy.getState().change(
    what,
    (study) => {
      const experiment = study.experiments?.find((e) => e.id === id);
      if (experiment) recipe(experiment, study);
    },
    mergeKey && `experiments/${id}/${mergeKey}`,
  );
}

/** A new experiment with one scenario, the design as it is; returns its id. */
export function addExperiment(design: string): string {
  const id = newId("experiment");
  useStudy.getState().change("New experiment", (study) => {
    const name = freshName("Experiment", study.experiments ?? []);
    const scenarios = [{ id: newId("scenario"), design }];
    (study.experiments ??= []).push(experimentSchema.parse({ id, name, scenarios }));
  });
  return id;
}

export const newScenario = (more: Omit<Partial<Scenario>, "id"> & { readonly design: string }): Scenario =>
  scenarioSchema.parse({ id: newId("scenario"), ...more });

const isSame = (a: Path, b: Path): boolean => a.length === b.length && a.every((key, i) => key === b[i]);

/** The factor of an experiment that sets a place. */
export const factorAt = ({ factors }: Pick<ExperimentPlan, "factors">, path: Path): Factor | undefined =>
  factors.find(({ at }) => isSame(at, path));

/**
 * Makes a place a factor of an experiment, or of a new one; returns the experiment, or why that cannot be. One that is
 * a factor already stays.
 */
export function addFactor(
  path: Path,
  experiment: string | undefined,
  design: string,
): { readonly id: string } | string {
  const { history } = useStudy.getState();
  const known = history?.present.experiments?.find(({ id }) => id === experiment);
  if (known && known.factors.length >= MOST_FACTORS) return `An experiment has at most ${MOST_FACTORS} factors.`;
  const id = known?.id ?? addExperiment(design);
  editExperiment(id, "Use as factor", (e) => {
    if (!factorAt(e, path)) e.factors.push(factorSchema.parse({ id: newId("factor"), at: [...path] }));
  });
  return { id };
}

/**
 * Puts rows of values, one a factor, behind or in place of those there are; for each of the designs. Rows that are
 * there already stay what they are, with their runs, and come once.
 */
export function putRows(
  experiment: string,
  rows: readonly (readonly string[])[],
  designs: readonly string[],
  replaces: boolean,
): void {
  editExperiment(experiment, `Make ${rows.length * designs.length} scenarios`, (e) => {
    const keyOf = (design: string, values: readonly string[]) => JSON.stringify([design, ...values]);
    const there = new Map(
      e.scenarios.map((s) => [
        keyOf(
          s.design,
          e.factors.map(({ id }) => s.values[id] ?? ""),
        ),
        s,
      ]),
    );
    const made = new Map<string, Scenario>();
    for (const design of designs)
      for (const row of rows) {
        const key = keyOf(design, row);
        const known = there.get(key);
        if (known && !replaces) continue;
        const values = Object.fromEntries(e.factors.map(({ id }, f) => [id, row[f] ?? ""]));
        if (!made.has(key)) made.set(key, known ?? newScenario({ design, values }));
      }
    e.scenarios = [...(replaces ? [] : e.scenarios), ...made.values()].slice(0, MOST_SCENARIOS);
  });
}

/** Copies of rows, behind the last of them. */
export function duplicateRows(experiment: string, ids: readonly string[]): void {
  const chosen = new Set(ids);
  editExperiment(experiment, ids.length === 1 ? "Duplicate scenario" : `Duplicate ${ids.length} scenarios`, (e) => {
    const copies = e.scenarios
      .filter(({ id }) => chosen.has(id))
      .map((s) => ({ ...s, values: { ...s.values }, id: newId("scenario") }));
    const after = e.scenarios.findLastIndex(({ id }) => chosen.has(id)) + 1;
    e.scenarios.splice(after, 0, ...copies.slice(0, MOST_SCENARIOS - e.scenarios.length));
  });
}

/** Moves rows up or down by one place, together. */
export function moveRows(experiment: string, ids: readonly string[], by: -1 | 1): void {
  const chosen = new Set(ids);
  editExperiment(experiment, "Move scenarios", (e) => {
    const list = by < 0 ? e.scenarios : [...e.scenarios].reverse();
    for (let i = 1; i < list.length; i++)
      if (chosen.has(list[i].id) && !chosen.has(list[i - 1].id)) [list[i - 1], list[i]] = [list[i], list[i - 1]];
    if (by > 0) e.scenarios = list.reverse();
  });
}
