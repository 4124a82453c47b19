import { z } from "zod";
import { colour as colourText, id, expression as text, point, type Point } from "./parts.ts";
import { numberOf, PLAIN, type ValueType, YES_NO } from "../expression/index.ts";
import { LENGTH, MONEY, NUMBER, SPEED, TIME } from "../quantity/index.ts";
import type { FieldSpec, Values } from "./field.ts";

/** What a setting of any form tells of itself; everything that shows, keeps or compares settings goes by it. */
interface Common<T> {
  /** Its name in the document. */
  readonly name: string;
  /** On cards and above columns. */
  readonly label: string;
  /** One sentence; it also describes the setting in the JSON Schema. */
  readonly help: string;
  /** What may stand in the document, with the default. */
  readonly schema: z.ZodType<T>;
  /** How it is called in a sentence; its label in small letters unless told. */
  readonly told?: string;
  /** What it is called in sentences is a plural: "breakdowns differ". */
  readonly many?: boolean;
  /** Its column's title, where that is not the label. */
  readonly column?: string;
  /** Pixels of its column. */
  readonly width?: number;
  /**
   * It has a random stream of its own. Streams that a file lacks are given out in the order of these numbers, which
   * therefore never change: the same file gives the same numbers for ever.
   */
  readonly draws?: number;
  /** It has a stream only where this holds: files that are older than the setting keep their numbers. */
  readonly drawsWhere?: (of: Values) => boolean;
  /** It is drawn or told, and changes no number. */
  readonly unrun?: boolean;
  readonly used?: (of: Values) => boolean;
}

export interface ExpressionSetting extends Common<string>, FieldSpec {
  readonly form: "expression";
}

export interface ChoiceSetting<T extends string = string> extends Common<T> {
  readonly form: "choice";
  /** Each value with what it is called. */
  readonly choices: ReadonlyArray<readonly [value: T, words: string]>;
  /** In tables it is shown by these words, not by its values. */
  readonly cells?: "words";
}

export interface FlagSetting extends Common<boolean> {
  readonly form: "flag";
  /** What holds when it is on. */
  readonly sentence: string;
}

/** Some of a few words, one at least. */
export interface SeveralSetting<T extends string = string> extends Common<T[]> {
  readonly form: "several";
  readonly choices: readonly T[];
}

/** What an id may be of. */
export type Target =
  "entity type" | "element" | "shift calendar" | "demand profile" | "table" | "procedure" | "measure";

export interface ReferenceSetting extends Common<string> {
  readonly form: "reference";
  readonly to: Target;
  /** What it means that none is chosen; without it one must be. */
  readonly none?: string;
  /** A new element names the first there is. */
  readonly first?: boolean;
  /** It may be the very element that has it: where vehicles are at home. */
  readonly orItself?: boolean;
  /** A mark of the kind that it must have, where it is an element. */
  readonly of?: "enterable" | "stocked";
}

/** Resources, any one of which will do, the preferred first. */
export interface ResourcesSetting extends Common<string[]> {
  readonly form: "resources";
  /** Only places, whose spots are given out. */
  readonly places?: boolean;
  /** What it means that none is named, where that is allowed. */
  readonly none?: string;
  /** Without one there is a problem. */
  readonly required?: boolean;
}

/** An attribute of an entity type, by its name. */
export interface AttributeSetting extends Common<string> {
  readonly form: "attribute";
}

/** Text of any form, which its kind reads. */
export interface TextSetting extends Common<string> {
  readonly form: "text";
  readonly example: string;
}

/** A line on the floor, drawn there. */
export interface PointsSetting extends Common<Point[]> {
  readonly form: "points";
}

/** A colour, as #rrggbb. */
export interface ColourSetting extends Common<string> {
  readonly form: "colour";
}

export interface RowsSetting<R extends SettingsSpec = SettingsSpec> extends Common<Row<R>[]> {
  readonly form: "rows";
  /** What one row is called on cards, and in problems. */
  readonly one: string;
  readonly row: R;
  /** What a new row says besides its defaults. */
  readonly fresh?: (of: Values) => Readonly<Record<string, unknown>>;
}

export type Setting =
  | ExpressionSetting
  | ChoiceSetting
  | FlagSetting
  | SeveralSetting
  | ReferenceSetting
  | ResourcesSetting
  | AttributeSetting
  | TextSetting
  | PointsSetting
  | ColourSetting
  | RowsSetting;

/** Settings by their names, each of a form that is known where it was made. */
export type SettingsSpec = Readonly<
  Record<string, { readonly form: Setting["form"]; readonly label: string; readonly schema: z.ZodType }>
>;

/** What the document holds of these settings. */
export type ValuesOf<S extends SettingsSpec> = { -readonly [K in keyof S]: z.output<S[K]["schema"]> };
export type Row<R extends SettingsSpec> = { id: string } & ValuesOf<R>;

type Given<S> = Partial<Omit<S, "schema" | "form" | "name" | "label" | "help">>;

/** The settings of one thing by their names. */
export const settingsIn = (spec: SettingsSpec): readonly Setting[] => Object.values(spec) as Setting[];

/** Settings with the names under which the document keeps them. */
export const settings = <const S extends SettingsSpec>(spec: S): S =>
  Object.fromEntries(Object.entries(spec).map(([name, setting]) => [name, { ...setting, name }])) as unknown as S;

/** The shape of the object that holds them. */
export const shapeOf = (spec: SettingsSpec): Record<string, z.ZodType> =>
  Object.fromEntries(settingsIn(spec).map(({ name, schema, help }) => [name, schema.describe(help)]));

export const expression = (
  label: string,
  help: string,
  type: ValueType,
  { initial = "", ...more }: Given<ExpressionSetting> & { readonly initial?: string } = {},
): ExpressionSetting => ({
  form: "expression",
  name: "",
  label,
  help,
  type,
  schema: text.default(initial),
  ...more,
});

type More = Given<ExpressionSetting> & { readonly initial?: string };

/** A time of 0 or more; it may go by the entity unless told otherwise. */
export const time = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, numberOf(TIME), { least: 0, entity: true, ...more });

/** A whole number between two. */
export const count = (label: string, help: string, whole: readonly [number, number], more: More = {}) =>
  expression(label, help, PLAIN, { whole, ...more });

/** A number without unit. */
export const number = (label: string, help: string, more: More = {}) => expression(label, help, PLAIN, more);

/** A number of any unit, a text, an entity type, or yes or no. */
export const value = (label: string, help: string, more: More = {}) =>
  expression(label, help, PLAIN, { any: "value", ...more });

export const condition = (label: string, help: string, more: More = {}) => expression(label, help, YES_NO, more);

/** A cost for time, or for each piece; empty: none. */
export const cost = (label: string, help: string, per: "time" | "piece", more: More = {}) =>
  expression(label, help, numberOf(per === "time" ? [-1, 0, 0, 1] : MONEY), {
    optional: true,
    fixed: true,
    least: 0,
    ...more,
  });

/** A length; fixed. */
export const length = (label: string, help: string, more: More = {}) =>
  expression(label, help, numberOf(LENGTH), { fixed: true, least: 0, ...more });

export const speed = (label: string, help: string, more: More = {}) =>
  expression(label, help, numberOf(SPEED), { above: 0, ...more });

/** A share of a whole, such as 20 %. */
export const share = (label: string, help: string, more: More = {}) =>
  expression(label, help, numberOf(NUMBER), { least: 0, ...more });

/** One of a few words, the first unless `initial` says so. */
export const choice = <const T extends string>(
  label: string,
  help: string,
  choices: ReadonlyArray<readonly [value: T, words: string]>,
  {
    initial = choices[0][0],
    ...more
  }: Given<Omit<ChoiceSetting<T>, "choices">> & { readonly initial?: NoInfer<T> } = {},
): ChoiceSetting<T> => ({
  form: "choice",
  name: "",
  label,
  help,
  choices,
  schema: z.enum(choices.map(([v]) => v) as [T, ...T[]]).default(initial as never) as unknown as z.ZodType<T>,
  ...more,
});

export const flag = (
  label: string,
  sentence: string,
  help: string,
  more: Given<Omit<FlagSetting, "sentence">> = {},
): FlagSetting => ({ form: "flag", name: "", label, sentence, help, schema: z.boolean().default(false), ...more });

export const several = <const T extends string>(
  label: string,
  help: string,
  choices: readonly T[],
  initial: readonly NoInfer<T>[],
): SeveralSetting<T> => ({
  form: "several",
  name: "",
  label,
  help,
  choices,
  schema: z
    .array(z.enum(choices as readonly [T, ...T[]]))
    .min(1)
    .default([...initial] as never) as unknown as z.ZodType<T[]>,
});

export const reference = (
  to: Target,
  label: string,
  help: string,
  more: Given<Omit<ReferenceSetting, "to">> = {},
): ReferenceSetting => ({
  form: "reference",
  name: "",
  to,
  label,
  help,
  schema: z.string().max(200).default(""),
  ...more,
});

export const resources = (label: string, help: string, more: Given<ResourcesSetting> = {}): ResourcesSetting => ({
  form: "resources",
  name: "",
  label,
  help,
  schema: z.array(z.string()).max(20).default([]),
  ...more,
});

export const attribute = (label: string, help: string): AttributeSetting => ({
  form: "attribute",
  name: "",
  label,
  help,
  schema: z.string().max(80).default(""),
});

export const longText = (label: string, help: string, example: string, more: Given<TextSetting> = {}): TextSetting => ({
  form: "text",
  name: "",
  label,
  help,
  example,
  schema: z.string().max(200_000).default(""),
  ...more,
});

export const colour = (label: string, help: string, initial: string): ColourSetting => ({
  form: "colour",
  name: "",
  label,
  help,
  unrun: true,
  schema: colourText.default(initial),
});

export const points = (label: string, help: string): PointsSetting => ({
  form: "points",
  name: "",
  label,
  help,
  unrun: true,
  schema: z.array(point).max(60).default([]),
});

/** A list of rows of settings, such as the breakdowns of a station. Rows are known by their `id`. */
export const rows = <const R extends SettingsSpec>(
  label: string,
  help: string,
  {
    one,
    most,
    row,
    ...more
  }: Given<Omit<RowsSetting<R>, "one" | "row">> & {
    readonly one: string;
    readonly most: number;
    readonly row: R;
  },
): RowsSetting<R> => {
  const named = settings(row);
  return {
    form: "rows",
    name: "",
    label,
    help,
    one,
    row: named,
    many: true,
    schema: z
      .array(z.strictObject({ id, ...shapeOf(named) }))
      .max(most)
      .default([]) as unknown as z.ZodType<Row<R>[]>,
    ...more,
  };
};
