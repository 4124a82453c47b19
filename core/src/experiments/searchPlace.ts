import type { ExperimentPlan } from "../document/experiment.ts";
import type { Study } from "../study/schema.ts";
import { factorWords, wordsOfValue } from "./describe.ts";
import { type Applied, scenarioStudy, type ScenarioProblem } from "./scenarioStudy.ts";
import type { SearchRead } from "./searchPlan.ts";

/** A place of a search: what it is called, its factors in words, and the study as it has it. */
export interface SearchPlace {
  readonly name: string;
  /** By the title of a factor, its value as it is told. */
  readonly factors: Readonly<Record<string, string>>;
  readonly applied: Applied;
}

/** By the id of a factor, what is written for it at a place given by the steps of each. */
export const placeValues = ({ factors, texts }: SearchRead, point: readonly number[]): Record<string, string> =>
  Object.fromEntries(factors.map((factor, f) => [factor, texts[f][point[f]]]));

/** The study with the values of a place of an experiment's search, to be run with so many replications. */
export function searchPlace(
  study: Study,
  experiment: ExperimentPlan,
  design: string,
  values: Readonly<Record<string, string>>,
  replications: number,
):
  | ({ readonly ok: true } & SearchPlace)
  | { readonly ok: false; readonly name: string; readonly problems: readonly ScenarioProblem[] } {
  const told = factorWords(study, experiment).filter(({ factor }) => values[factor.id] !== undefined);
  const worded = told.map((words) => [words.title, wordsOfValue(words, values[words.factor.id])] as const);
  const name = worded
    .map(([title, value]) => `${title} ${value}`)
    .join(", ")
    .slice(0, 120);
  const applied = scenarioStudy(study, experiment, { id: name, name, design, values });
  if (!applied.ok) return { ok: false, name, problems: applied.problems };
  const run = { ...applied.study.run, replications, precision: undefined };
  return {
    ok: true,
    name,
    factors: Object.fromEntries(worded.map(([title, value]) => [title.slice(0, 80), value.slice(0, 400)])),
    applied: { study: { ...applied.study, run }, design: applied.design },
  };
}
