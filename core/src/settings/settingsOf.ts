import type { ExpressionSetting, RowsSetting, Setting, SettingsSpec } from "./setting.ts";
import { settingsIn } from "./setting.ts";
import type { Values } from "./field.ts";

/** One setting of a thing as it stands in the document, wherever it is kept. */
export interface Occurrence<S extends Setting = Setting> {
  /** By which settings, streams and problems know it: `time`, or `breakdowns.b1.repair` in a row of a list. */
  readonly key: string;
  readonly setting: S;
  readonly value: unknown;
  /** Place inside the thing's document. */
  readonly path: readonly (string | number)[];
  /** The object that has it. */
  readonly holder: Record<string, unknown>;
  /** Whether the thing as it is set has a use for it. */
  readonly used: boolean;
}

/** An expression as it stands in the document. */
export interface FieldOccurrence {
  readonly key: string;
  readonly field: ExpressionSetting;
  readonly text: string;
  readonly path: readonly (string | number)[];
  readonly holder: Record<string, unknown>;
  readonly used: boolean;
}

type ListRow = Record<string, unknown> & { readonly id: string };

const rowsOf = (holder: Values, { name }: RowsSetting): readonly ListRow[] => (holder[name] ?? []) as ListRow[];

/** All settings of a thing: those of its own in their order, then those in rows of its lists. */
export function occurrencesOf(thing: object, spec: SettingsSpec): Occurrence[] {
  const holder = thing as Record<string, unknown>;
  const all = settingsIn(spec);
  const found = all.map((setting): Occurrence => {
    const { name } = setting;
    const used = setting.used?.(holder) ?? true;
    return { key: name, setting, value: holder[name], path: [name], holder, used };
  });
  for (const list of all) {
    if (list.form !== "rows") continue;
    const used = list.used?.(holder) ?? true;
    rowsOf(holder, list).forEach((row, i) => {
      for (const setting of settingsIn(list.row))
        found.push({
          key: `${list.name}.${row.id}.${setting.name}`,
          setting,
          value: row[setting.name],
          path: [list.name, i, setting.name],
          holder: row,
          used: used && (setting.used?.(row) ?? true),
        });
    });
  }
  return found;
}

/** All settings of a thing that hold expressions. */
export const fieldsOf = (thing: object, spec: SettingsSpec): FieldOccurrence[] =>
  occurrencesOf(thing, spec).flatMap(({ key, setting, value, path, holder, used }) =>
    setting.form === "expression" ? [{ key, field: setting, text: String(value ?? ""), path, holder, used }] : [],
  );

/** The settings that hold one expression each, but for those in rows. */
export const expressionsIn = (spec: SettingsSpec): readonly ExpressionSetting[] =>
  settingsIn(spec).filter((setting) => setting.form === "expression");
