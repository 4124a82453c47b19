import { z } from "zod";
import { calendarSchema } from "../document/calendar.ts";
import { entityTypeSchema } from "../document/entityType.ts";
import { linkSchema } from "../document/link.ts";
import { runSettingsSchema } from "../document/runSettings.ts";
import { type Design, designSchema, elementSchema, type Study } from "../study/schema.ts";

/** Where something stands in a study: the list, the thing's id, and the setting. */
export type Path = readonly string[];

/** What a factor can set: a text, a number, yes or no, or a list of ids. */
export type Plain = string | number | boolean | readonly string[];

/** Lists that each design has for itself; the others belong to the study. */
const OF_DESIGN: ReadonlySet<string> = new Set(["elements", "links", "entityTypes", "measures", "procedures", "rules"]);
const OF_STUDY: ReadonlySet<string> = new Set(["calendars", "tables", "variables", "run"]);

type Keys = readonly (string | number)[];

/** A place that was found, by the keys that lead there from the design or the study. */
interface Found {
  readonly of: "design" | "study";
  readonly keys: Keys;
  readonly value: Plain;
}

/** What stands at a place in a design of a study; undefined where there is no such place. */
export const valueAt = (study: Study, design: Design, path: Path): Plain | undefined =>
  find(study, design, path)?.value;

/** Things along a path that have a name or an id, the first being the element, table or calendar. */
export function thingAt(study: Study, design: Design, path: Path): object | undefined {
  const [list, id] = path;
  const holder = (OF_DESIGN.has(list) ? design : study) as unknown as Record<string, unknown>;
  const thing = list === "run" ? study.run : stepInto(holder[list], id)?.[1];
  return typeof thing === "object" && thing !== null ? thing : undefined;
}

function find(study: Study, design: Design, path: Path): Found | undefined {
  const [list, id] = path;
  if (list === "variables") return variableAt(study, design, path);
  if (list === "tables") return cellAt(study, design, path);
  const of = OF_DESIGN.has(list) ? "design" : OF_STUDY.has(list) ? "study" : undefined;
  if (!of) return undefined;
  const keys: (string | number)[] = [];
  let holder: unknown = of === "design" ? design : study;
  for (const key of path) {
    const next = stepInto(holder, key);
    if (!next) return undefined;
    keys.push(next[0]);
    holder = next[1];
  }
  const isIdentity = id === undefined || path.at(-1) === "id" || path.at(-1) === "kind";
  return isPlain(holder) && !isIdentity ? { of, keys, value: holder } : undefined;
}

/** A variable's first value is the study's, unless the design has one of its own. */
function variableAt(study: Study, design: Design, [, id, field]: Path): Found | undefined {
  const variable = study.variables?.find((v) => v.id === id);
  if (!variable || field !== "value") return undefined;
  const own = design.variables?.findIndex((o) => o.variable === id) ?? -1;
  const value = own >= 0 ? design.variables![own].value : variable.value;
  return { of: "design", keys: ["variables", own >= 0 ? own : (design.variables?.length ?? 0), "value"], value };
}

/** A cell of a table: of the design's own version where it has one. */
function cellAt(study: Study, design: Design, [, id, row, column]: Path): Found | undefined {
  const own = design.tables.findIndex((t) => t.id === id);
  const position = own >= 0 ? own : study.tables.findIndex((t) => t.id === id);
  const table = own >= 0 ? design.tables[own] : study.tables[position];
  if (!table) return undefined;
  const c = table.columns.findIndex((one) => one.id === column);
  const key = table.columns.findIndex((one) => one.id === table.key);
  const r = key >= 0 ? table.rows.findIndex((cells) => cells[key] === row) : Number(row) - 1;
  const cells = table.rows[r];
  if (c < 0 || !cells) return undefined;
  return { of: own >= 0 ? "design" : "study", keys: ["tables", position, "rows", r, c], value: cells[c] ?? "" };
}

/** The key and what stands under it: items of a list go by their id, or are counted from 0. */
function stepInto(holder: unknown, key: string): readonly [string | number, unknown] | undefined {
  if (Array.isArray(holder)) {
    const items = holder as unknown[];
    const named = items.findIndex((item) => isObject(item) && item.id === key);
    const i = named >= 0 ? named : /^\d{1,6}$/.test(key) && !isObjectWithId(items[Number(key)]) ? Number(key) : -1;
    return i >= 0 && i < items.length ? [i, items[i]] : undefined;
  }
  return isObject(holder) && Object.hasOwn(holder, key) ? [key, holder[key]] : undefined;
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const isObjectWithId = (value: unknown): boolean => isObject(value) && "id" in value;
const isPlain = (value: unknown): value is Plain =>
  ["string", "number", "boolean"].includes(typeof value) ||
  (Array.isArray(value) && value.every((item) => typeof item === "string"));

/** A study and its design after a value was put in; or why it could not be. */
export type Changed =
  | { readonly ok: true; readonly study: Study; readonly design: Design }
  | { readonly ok: false; readonly message: string; readonly hint?: string };

/** Puts what a person typed at a place, in copies of what leads there. */
export function withValue(study: Study, design: Design, path: Path, text: string): Changed {
  const found = find(study, design, path);
  if (!found)
    return {
      ok: false,
      message: `${design.name} does not have what this factor sets.`,
      hint: "Choose another design in this row, or leave the cell empty.",
    };
  const read = readPlain(text, found.value);
  if (!read.ok) return read;
  if (found.of === "study") {
    const changed = put(study, found.keys, read.value) as Study;
    return checked(changed, design, path);
  }
  const changed =
    path[0] === "variables"
      ? ownValue(design, path[1], String(read.value), Number(found.keys[1]))
      : (put(design, found.keys, read.value) as Design);
  return checked(study, changed, path);
}

function ownValue(design: Design, variable: string, value: string, at: number): Design {
  const variables = [...(design.variables ?? [])];
  variables[at] = { variable, value };
  return { ...design, variables };
}

function put(holder: unknown, [key, ...rest]: Keys, value: Plain): unknown {
  const before = (holder as Record<string | number, unknown>)[key];
  const after = rest.length === 0 ? value : put(before, rest, value);
  if (Array.isArray(holder)) {
    const copy = [...(holder as unknown[])];
    copy[Number(key)] = after;
    return copy;
  }
  return { ...(holder as object), [key]: after };
}

/** A text as what stood there before is written: a number, yes or no, several ids, or text. */
function readPlain(
  text: string,
  before: Plain,
): { readonly ok: true; readonly value: Plain } | { readonly ok: false; readonly message: string } {
  if (typeof before === "string") return { ok: true, value: text };
  if (typeof before === "number") {
    const value = Number(text);
    return text.trim() !== "" && Number.isFinite(value)
      ? { ok: true, value }
      : { ok: false, message: `"${text}" is not a number.` };
  }
  if (typeof before === "boolean") {
    const word = text.trim().toLowerCase();
    return ["yes", "no", "true", "false"].includes(word)
      ? { ok: true, value: word === "yes" || word === "true" }
      : { ok: false, message: `"${text}" is neither yes nor no.` };
  }
  return {
    ok: true,
    value: text
      .split(",")
      .map((id) => id.trim())
      .filter((id) => id !== ""),
  };
}

/** What stands at a place as a person types it: the other way round. */
export const plainText = (value: Plain): string =>
  typeof value === "boolean" ? (value ? "yes" : "no") : Array.isArray(value) ? value.join(", ") : String(value);

const SCHEMAS: Readonly<Partial<Record<string, z.ZodType>>> = {
  elements: elementSchema,
  links: linkSchema,
  entityTypes: entityTypeSchema,
  calendars: calendarSchema,
  measures: designSchema.shape.measures.unwrap().element,
  procedures: designSchema.shape.procedures.unwrap().element,
  rules: designSchema.shape.rules.unwrap().element,
};

/** Whether what was changed may stand in a study. */
function checked(study: Study, design: Design, path: Path): Changed {
  const [list] = path;
  const schema = list === "run" ? runSettingsSchema : SCHEMAS[list];
  const result = schema?.safeParse(thingAt(study, design, path));
  if (!result || result.success) return { ok: true, study, design };
  const [issue] = result.error.issues;
  return { ok: false, message: `${issue.message.replace(/\.$/, "")}.` };
}
