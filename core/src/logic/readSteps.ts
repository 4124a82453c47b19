import { z } from "zod";
import type { DesignOf } from "../document/design.ts";
import type { StepBase } from "../document/logic.ts";
import { type Setting, settingsIn } from "../settings/setting.ts";
import type { StepKind } from "./kind.ts";
import { namedIn, sentenceParts, stepText } from "./sentence.ts";
import { stepKinds } from "./steps/index.ts";

export type StepsRead =
  | { readonly ok: true; readonly steps: readonly StepBase[] }
  /** The number of the first line, from 1, that is no step, and what it says. */
  | { readonly ok: false; readonly line: number; readonly text: string };

/**
 * Reads lines of text as the steps that would be written so: the other way round of `stepsText`. Ids are of no
 * meaning. A line that says nothing is left out.
 */
export function readSteps(text: string, design: DesignOf): StepsRead {
  const top: StepBase[] = [];
  const open: { readonly indent: number; readonly step: StepBase }[] = [];
  let made = 0;
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    if (raw.trim() === "") continue;
    const indent = raw.replaceAll("\t", "    ").search(/\S/);
    while (open.length > 0 && open[open.length - 1].indent >= indent) open.pop();
    const under = open.at(-1)?.step;
    const step = readStep(raw.trim(), `s${++made}`, design);
    if (!step || (under && !under.steps)) return { ok: false, line: i + 1, text: raw.trim() };
    (under?.steps ?? top).push(step);
    open.push({ indent, step });
  }
  return { ok: true, steps: top };
}

function readStep(line: string, id: string, design: DesignOf): StepBase | undefined {
  const [, off, said, note] = /^(\(off\) )?(.*?)(?: {2}\/\/ (.*))?$/.exec(line)!;
  for (const kind of wordiestFirst()) {
    const found = patternOf(kind).exec(said);
    if (!found) continue;
    const step = stepOf(kind, found.groups ?? {}, id, design);
    // Only what would be written just so is meant.
    if (step && stepText(step, design) === said)
      return { ...step, ...(off ? { off: true } : {}), ...(note ? { note } : {}) };
  }
  return undefined;
}

let sorted: readonly StepKind[] | undefined;

/** Those with the most words of their own first: they are mistaken for others the least. */
const wordiestFirst = (): readonly StepKind[] =>
  (sorted ??= [...stepKinds].sort((a, b) => wordsIn(b.sentence) - wordsIn(a.sentence)));

const wordsIn = (sentence: string): number => sentence.replace(/\([^)]*\)|\{\w+\}/g, "").length;

const patterns = new Map<string, RegExp>();

const literally = (words: string): string => words.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

/** What may stand where a setting does: any text, but for what is chosen. */
const lookOf = (setting: { readonly form: string }): string => {
  const { form, sentence, choices } = setting as Setting & {
    sentence?: string;
    choices?: readonly (readonly string[])[];
  };
  if (form === "flag") return literally(sentence ?? "");
  return form === "choice" ? (choices ?? []).map(([, words]) => literally(words)).join("|") : ".*?";
};

/** What a sentence looks like: each setting is a group by its name. */
function patternOf({ kind, sentence, settings }: StepKind): RegExp {
  let pattern = patterns.get(kind);
  if (!pattern) {
    const piece = (part: { readonly words: string } | { readonly field: string }) =>
      "words" in part ? literally(part.words) : `(?<${part.field}>${lookOf(settings[part.field])})`;
    const source = sentenceParts(sentence)
      .map((part) => ("optional" in part ? `(?:${part.optional.map(piece).join("")})?` : piece(part)))
      .join("");
    patterns.set(kind, (pattern = new RegExp(`^${source}$`)));
  }
  return pattern;
}

/** A step of a kind with what stands in its sentence; undefined where that names what is not there. */
function stepOf(
  kind: StepKind,
  said: Readonly<Record<string, string | undefined>>,
  id: string,
  design: DesignOf,
): StepBase | undefined {
  const values: Record<string, unknown> = { id, do: kind.kind, ...(kind.holdsSteps ? { steps: [] } : {}) };
  for (const setting of settingsIn(kind.settings)) {
    const text = said[setting.name];
    if (text === undefined) continue;
    const value = valueOf(setting, text, values, design);
    if (value === undefined) return undefined;
    values[setting.name] = value;
  }
  const read = kind.schemaOf(z.unknown()).safeParse(values);
  return read.success ? (read.data as StepBase) : undefined;
}

function valueOf(setting: Setting, text: string, step: Readonly<Record<string, unknown>>, design: DesignOf): unknown {
  const idOf = (list: readonly { readonly id: string; readonly name: string }[], name: string) =>
    name === "…" ? "" : list.find((one) => one.name === name)?.id;
  switch (setting.form) {
    case "choice":
      return setting.choices.find(([, words]) => words === text)?.[0];
    case "flag":
      return text === setting.sentence ? true : undefined;
    case "reference": {
      return idOf(namedIn(design, setting.to), text);
    }
    case "resources":
      return text === "all" ? [] : allOf(text.split(" or ").map((name) => idOf(design.elements, name)));
    case "rows":
      return text === "…" ? [] : allOf(text.split("; ").map((row, i) => rowOf(setting.name, row, i, step, design)));
    default:
      return text === "…" ? "" : text;
  }
}

function rowOf(list: string, text: string, i: number, step: Readonly<Record<string, unknown>>, design: DesignOf) {
  const id = `r${i + 1}`;
  const empty = (value: string) => (value === "…" ? "" : value);
  if (list === "needs") {
    const [, count, names, which, can] = /^(\S+) (.*?)(?: named (.*?))?(?: where (.*))?$/.exec(text) ?? [];
    const anyOf = allOf((names ?? "").split(" or ").map((name) => design.elements.find((e) => e.name === name)?.id));
    return anyOf && { id, anyOf, count, ...(which && { which }), ...(can && { can }) };
  }
  if (list === "args") {
    const { parameters = [] } = design.procedures?.find((one) => one.id === step.procedure) ?? {};
    const [, name, value] = /^(.*?) = (.*)$/.exec(text) ?? [];
    const parameter = parameters.find((one) => one.name === name);
    return parameter && { id: parameter.id, value };
  }
  const [, column, value] = /^(.*?) = (.*)$/.exec(text) ?? [];
  const [, what, to] = /^(.*?) to (.*)$/.exec(text) ?? [];
  if (step.do === "write") return column === undefined ? undefined : { id, column: empty(column), to: empty(value) };
  return what === undefined ? undefined : { id, what: empty(what), to: empty(to) };
}

const allOf = <T>(list: readonly (T | undefined)[]): T[] | undefined => {
  const found = list.filter((one) => one !== undefined);
  return found.length === list.length ? found : undefined;
};
