import {
  type Design,
  freshName,
  nameKey,
  renameVariable,
  type Study,
  variableSchema,
  writeName,
} from "@busy-harbor/core";
import { newId } from "../state/edits.ts";

/** Adds a variable to a draft of the study. Returns its id. */
export function addVariable(study: Study): string {
  const variables = (study.variables ??= []);
  const variable = variableSchema.parse({ id: newId("variable"), name: freshName("Variable", variables) });
  variables.push(variable);
  return variable.id;
}

/** Deletes variables from a draft, with the designs' own values of them. */
export function deleteVariables(study: Study, ids: ReadonlySet<string>): void {
  study.variables = study.variables?.filter(({ id }) => !ids.has(id));
  for (const design of study.designs) design.variables = design.variables?.filter((o) => !ids.has(o.variable));
}

/** Puts the first value that a design has of its own; an empty text gives it up. */
export function setOwnValue(design: Design, variable: string, text: string): void {
  const others = (design.variables ?? []).filter((o) => o.variable !== variable);
  design.variables = text === "" ? others : [...others, { variable, value: text }];
}

/** Why something cannot be the name of a variable. */
export function nameRefusal(study: Study, design: Design, id: string, name: string): string | undefined {
  const key = nameKey(name);
  if (key === "" || name.length > 80) return "A name with a letter or digit, of at most 80 characters, is wanted.";
  if (["clock", "entity", "row"].includes(key)) return `${name} has a meaning of its own in expressions.`;
  const others = (study.variables ?? []).filter((v) => v.id !== id);
  const named = [...others, ...study.tables, ...study.designs.flatMap((d) => [...d.elements, ...d.entityTypes])];
  return named.some((other) => nameKey(other.name) === key)
    ? `Something else is called ${name} in ${design.name} or another design.`
    : undefined;
}

/** Calls a variable otherwise, and has all expressions say so. Returns in how many places. */
export function rename(study: Study, id: string, to: string): number {
  const variable = study.variables?.find((v) => v.id === id);
  if (!variable || variable.name === to) return 0;
  const changed = renameVariable(study, variable.name, to);
  variable.name = to;
  return changed;
}

const measuredBy = (design: Design, name: string) =>
  design.measures.find((m) => m.kind === "average" && nameKey(m.value) === nameKey(name));

export const isMeasured = (design: Design, name: string): boolean => measuredBy(design, name) !== undefined;

/** Has the value over time be among the measures of a design, or no longer. */
export function setMeasured(design: Design, name: string, on: boolean): void {
  const known = measuredBy(design, name);
  if (on && !known) design.measures.push({ kind: "average", id: newId("measure"), name, value: writeName(name) });
  if (!on && known) design.measures = design.measures.filter((m) => m !== known);
}
