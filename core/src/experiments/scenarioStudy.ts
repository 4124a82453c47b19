import type { ExperimentPlan, Scenario } from "../document/experiment.ts";
import type { Problem } from "../document/problem.ts";
import type { Design, Study } from "../study/schema.ts";
import { withValue } from "./place.ts";

/** A study as a scenario has it; its only design is the scenario's. */
export interface Applied {
  readonly study: Study;
  readonly design: Design;
}

/** What is wrong with a row; `field` is the factor whose cell is at fault, or `design`. */
export type ScenarioProblem = Problem & { readonly scenario: string };

export type AppliedOrNot =
  ({ readonly ok: true } & Applied) | { readonly ok: false; readonly problems: readonly ScenarioProblem[] };

/**
 * The study with the values of a scenario in it, and its number of replications. Where random numbers are to be
 * independent the seed follows from the scenario's id, so that an order of rows changes no numbers.
 */
export function scenarioStudy(
  study: Study,
  { id, factors, random }: Pick<ExperimentPlan, "id" | "factors" | "random">,
  scenario: Scenario,
): AppliedOrNot {
  const at = (field: string) => ["experiments", id, "scenarios", scenario.id, field];
  const original = study.designs.find((d) => d.id === scenario.design);
  if (!original)
    return {
      ok: false,
      problems: [
        {
          code: "no-design",
          severity: "error",
          message: "The design of this scenario is not there any more.",
          hint: "Choose another in its row.",
          path: at("design"),
          scenario: scenario.id,
          field: "design",
        },
      ],
    };
  let applied: Applied = { study, design: original };
  const problems: ScenarioProblem[] = [];
  for (const factor of factors) {
    const text = scenario.values[factor.id];
    if (text === undefined || text.trim() === "") continue;
    const changed = withValue(applied.study, applied.design, factor.at, text);
    if (changed.ok) applied = changed;
    else
      problems.push({
        code: "factor-value",
        severity: "error",
        message: changed.message,
        hint: changed.hint,
        path: at(factor.id),
        scenario: scenario.id,
        field: factor.id,
      });
  }
  if (problems.length > 0) return { ok: false, problems };
  const run = {
    ...applied.study.run,
    ...(scenario.replications === undefined ? {} : { replications: scenario.replications }),
    ...(random === "independent" ? { seed: seedOf(applied.study.run.seed, scenario.id) } : {}),
  };
  return {
    ok: true,
    // What else is planned changes no number of this one.
    study: { ...applied.study, run, designs: [applied.design], experiments: undefined },
    design: applied.design,
  };
}

/** A seed of 52 bits by the study's and a scenario's id: two 26-bit mixes by multiplying and exclusive or. */
function seedOf(seed: number, id: string): number {
  let [a, b] = [0x811c9dc5, 0xcbf29ce4];
  for (const character of `${seed}/${id}`) {
    const code = character.codePointAt(0)!;
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ code, 0x01000197) ^ (a >>> 15);
  }
  return (a >>> 6) * 2 ** 26 + (b >>> 6);
}
