import type { Problem } from "../document/problem.ts";
import type { Element } from "../elements/index.ts";
import type { Study } from "../study/schema.ts";
import type { Model } from "../model/model.ts";
import { checkAttributeUse } from "./attributeUse.ts";
import { problemsOfDocument } from "./families/problemsOfDocument.ts";
import { resolve } from "./resolve/index.ts";
import { checkStructure } from "./structure.ts";

/** A design that can run: immutable, and good for any number of replications. */
export interface Program {
  readonly model: Model<Element>;
}

export interface Compilation {
  /** Everything wrong with the design; errors keep it from running. */
  readonly problems: readonly Problem[];
  /** As far as it could be read: what read-back sentences and drawings use. */
  readonly model: Model<Element>;
  readonly program?: Program;
}

/** Reads and checks a design of a study (the first unless told). Never throws on a study that the schema accepts. */
export function compile(study: Study, designId: string = study.designs[0].id): Compilation {
  const index = study.designs.findIndex((design) => design.id === designId);
  if (index < 0) throw new RangeError(`The study has no design "${designId}".`);
  const { model, problems } = resolve(study, index);
  const all = problemsOfDocument(
    [...problems, ...checkStructure(model, index), ...checkAttributeUse(model, index)],
    model.families,
    index,
  );
  if (all.some((p) => p.severity === "error")) return { problems: all, model };
  return { problems: all, model, program: { model } };
}
