import { type Types, typesByCondition } from "../expression/index.ts";
import type { LogicModel, StepModel } from "../model/logic.ts";
import type { TypeFlow } from "./typeFlow.ts";

type TypeNamed = (name: string) => number | undefined;

/** Every step under these, with the entity types of which the entity at hand may be there: branches tell them apart. */
export function* stepsWithTypes(
  steps: readonly StepModel[],
  types: Types,
  typeNamed: TypeNamed,
): Generator<readonly [StepModel, Types]> {
  // Those for whom no condition of the chain at hand has held.
  let left = types;
  for (const model of steps) {
    const { step } = model;
    const isOther = step.do === "else if" || step.do === "else";
    const here = isOther ? left : types;
    yield [model, here];
    if (step.do === "if" || step.do === "else if") {
      const { yes, no } = typesByCondition(String((step as { condition?: string }).condition ?? ""), here, typeNamed);
      yield* stepsWithTypes(model.steps, yes, typeNamed);
      left = no;
    } else {
      yield* stepsWithTypes(model.steps, here, typeNamed);
      if (!isOther) left = types;
    }
  }
}

/** Entity types at hand in each rule, and by its id in each procedure: those of all that call it. */
export function typesOfLogic(
  { rules, procedures }: LogicModel,
  flow: TypeFlow,
  typeNamed: TypeNamed,
): { readonly rules: readonly Types[]; readonly procedures: ReadonlyMap<string, Types> } {
  const heard = rules.map(({ nodes, types, rule }): Types => {
    if (rule.of === "system") return new Set();
    return new Set([...types, ...nodes.flatMap((index) => [...flow.at[index]])]);
  });
  const ofRules = rules.map(({ rule }, i) => typesByCondition(rule.condition || "yes", heard[i], typeNamed).yes);
  const called = new Map(procedures.map(({ procedure }) => [procedure.id, new Set<number>()]));
  const give = (steps: readonly StepModel[], some: Types): boolean => {
    let grew = false;
    for (const [{ step }, types] of stepsWithTypes(steps, some, typeNamed)) {
      const { procedure, alongside } = step as { procedure?: string; alongside?: boolean };
      const known = step.do === "call" && !alongside ? called.get(procedure ?? "") : undefined;
      if (known) for (const type of types) grew = known.size < known.add(type).size || grew;
    }
    return grew;
  };
  rules.forEach(({ steps }, i) => give(steps, ofRules[i]));
  for (let grew = true; grew;) {
    grew = false;
    for (const { procedure, steps } of procedures) grew = give(steps, called.get(procedure.id)!) || grew;
  }
  return { rules: ofRules, procedures: called };
}
