import type { DesignOf } from "../document/design.ts";
import type { StepBase } from "../document/logic.ts";
import { type Setting, settingsIn } from "../settings/setting.ts";
import { stepKindOf } from "./steps/index.ts";

/** A piece of the sentence of a step: words, a setting by its name, or what is left out where its setting is empty. */
export type SentencePart =
  | { readonly words: string }
  | { readonly field: string }
  | { readonly field: string; readonly optional: readonly ({ readonly words: string } | { readonly field: string })[] };

const known = new Map<string, readonly SentencePart[]>();

/** The pieces of a sentence such as `Wait until {condition}(, for at most {patience})`. */
export function sentenceParts(sentence: string): readonly SentencePart[] {
  let parts = known.get(sentence);
  if (!parts) {
    parts = [...sentence.matchAll(/\(([^)]*)\)|[^(]+/g)].flatMap(([text, inner]): SentencePart[] => {
      if (inner === undefined) return pieces(text);
      const optional = pieces(inner);
      const field = optional.find((part) => "field" in part);
      return field ? [{ field: field.field, optional }] : [];
    });
    known.set(sentence, parts);
  }
  return parts;
}

const pieces = (text: string): ({ readonly words: string } | { readonly field: string })[] =>
  [...text.matchAll(/\{(\w+)\}|[^{]+/g)].map(([words, field]) => (field === undefined ? { words } : { field }));

type Values = Readonly<Record<string, unknown>>;

/** Whether a setting of a step says nothing, so that what it adds to the sentence is left out. */
export function isBare(step: StepBase, field: string): boolean {
  const value = (step as unknown as Values)[field];
  const setting = settingsIn(stepKindOf(step).settings).find(({ name }) => name === field);
  if (setting?.used?.(step as unknown as Values) === false) return true;
  if (setting?.form === "choice") return value === setting.choices[0][0];
  return value === undefined || value === "" || value === false || (Array.isArray(value) && value.length === 0);
}

/** A step as a sentence; names stand for what it names by ids. */
export function stepText(step: StepBase, design: DesignOf): string {
  const { sentence, settings } = stepKindOf(step);
  const byName = new Map(settingsIn(settings).map((setting) => [setting.name, setting]));
  const say = (part: { readonly words: string } | { readonly field: string }): string =>
    "words" in part ? part.words : settingText(byName.get(part.field)!, step as unknown as Values, design);
  return sentenceParts(sentence)
    .map((part) => ("optional" in part ? (isBare(step, part.field) ? "" : part.optional.map(say).join("")) : say(part)))
    .join("");
}

/** What of a design a reference may name. */
export function namedIn(design: DesignOf, to: string): readonly { readonly id: string; readonly name: string }[] {
  const lists: Readonly<Record<string, readonly { readonly id: string; readonly name: string }[]>> = {
    procedure: design.procedures ?? [],
    measure: design.measures,
    "entity type": design.entityTypes,
    element: design.elements,
  };
  return lists[to] ?? [];
}

function settingText(setting: Setting, values: Values, design: DesignOf): string {
  const value = values[setting.name];
  const named = (list: readonly { readonly id: string; readonly name: string }[], id: unknown) =>
    list.find((one) => one.id === id)?.name ?? "…";
  switch (setting.form) {
    case "choice":
      return setting.choices.find(([choice]) => choice === value)?.[1] ?? "";
    case "flag":
      return value === true ? setting.sentence : "";
    case "reference": {
      return named(namedIn(design, setting.to), value);
    }
    case "resources":
      return (value as string[]).map((id) => named(design.elements, id)).join(" or ") || "all";
    case "rows":
      return (value as Values[]).map((row) => rowText(setting.name, row, values, design)).join("; ") || "…";
    default:
      return String(value ?? "").trim() || "…";
  }
}

/** A row of a list in a sentence. */
function rowText(list: string, row: Values, step: Values, design: DesignOf): string {
  if (list === "needs") {
    const names = (row.anyOf as string[])
      .map((id) => design.elements.find((e) => e.id === id)?.name ?? "…")
      .join(" or ");
    const [which, can] = [row.which, row.can].map((text) => String(text ?? "").trim());
    return `${String(row.count)} ${names || "…"}${which && ` named ${which}`}${can && ` where ${can}`}`;
  }
  if (list === "args") {
    const procedure = design.procedures?.find(({ id }) => id === step.procedure);
    const name = procedure?.parameters.find(({ id }) => id === row.id)?.name ?? "…";
    return `${name} = ${String(row.value)}`;
  }
  if ("column" in row) return `${String(row.column).trim() || "…"} = ${String(row.to).trim() || "…"}`;
  return `${String(row.what ?? "").trim() || "…"} to ${String(row.to ?? "").trim() || "…"}`;
}

/** Steps as lines of text, those under others indented. */
export const stepsText = (steps: readonly StepBase[], design: DesignOf, indent = ""): string =>
  steps
    .map((step) => {
      const note = step.note ? `  // ${step.note}` : "";
      const own = `${indent}${step.off ? "(off) " : ""}${stepText(step, design)}${note}`;
      return [own, ...(step.steps?.length ? [stepsText(step.steps, design, `${indent}    `)] : [])].join("\n");
    })
    .join("\n");
