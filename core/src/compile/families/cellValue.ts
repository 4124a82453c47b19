import { settingsIn, type Setting, type SettingsSpec } from "../../settings/setting.ts";
import { nameKey } from "../../expression/index.ts";

/** Things by their names, that a cell may name. */
export interface Named {
  readonly id: string;
  readonly name: string;
}

export interface ThingsToName {
  readonly elements: readonly Named[];
  readonly entityTypes: readonly Named[];
  readonly calendars: readonly Named[];
  readonly tables: readonly Named[];
}

/** What a cell says of a setting, as the document holds it; or why it cannot be read. */
export type CellValue = { readonly value: unknown } | { readonly refused: string };

const list = (words: readonly string[]) => words.map((w) => `“${w}”`).join(", ");

/** Reads a cell as the value of a setting that is no expression. */
export function cellValue(setting: Setting, text: string, things: ThingsToName): CellValue {
  const wanted = text.trim();
  switch (setting.form) {
    case "choice": {
      const found = setting.choices.find(
        ([value, words]) => nameKey(value) === nameKey(wanted) || nameKey(words) === nameKey(wanted),
      );
      return found
        ? { value: found[0] }
        : { refused: `“${wanted}” is none of ${list(setting.choices.map(([, words]) => words))}.` };
    }
    case "flag": {
      const key = nameKey(wanted);
      if (["yes", "true", "1"].includes(key)) return { value: true };
      if (["no", "false", "0"].includes(key)) return { value: false };
      return { refused: `“${wanted}” is neither yes nor no.` };
    }
    case "reference": {
      const among =
        setting.to === "element"
          ? things.elements
          : setting.to === "entity type"
            ? things.entityTypes
            : setting.to === "table"
              ? things.tables
              : things.calendars;
      const found = byName(wanted, among);
      return found ? { value: found.id } : { refused: `nothing is called “${wanted}”.` };
    }
    case "resources": {
      const names = parts(wanted);
      const found = names.map((name) => byName(name, things.elements));
      const missing = names.filter((_, i) => !found[i]);
      return missing.length > 0
        ? { refused: `no resource is called ${list(missing)}.` }
        : { value: found.map((f) => f!.id) };
    }
    case "several": {
      const names = parts(wanted);
      const found = names.map((name) => setting.choices.find((c) => nameKey(c) === nameKey(name)));
      const missing = names.filter((_, i) => found[i] === undefined);
      return missing.length > 0
        ? { refused: `${list(missing)} is none of ${list(setting.choices)}.` }
        : { value: found };
    }
    case "attribute":
    case "text":
      return { value: wanted };
    default:
      return { refused: "this setting cannot come from a table." };
  }
}

const parts = (text: string): string[] =>
  text
    .split(/[,;]/)
    .map((part) => part.trim())
    .filter((part) => part !== "");

const byName = (name: string, among: readonly Named[]): Named | undefined =>
  among.find((thing) => nameKey(thing.name) === nameKey(name));

const FROM_CELLS: ReadonlySet<Setting["form"]> = new Set([
  "choice",
  "flag",
  "reference",
  "resources",
  "several",
  "attribute",
]);

/** The settings of a kind that members may have from a column, besides those that are expressions. */
export const settingsFromCells = (spec: SettingsSpec): readonly Setting[] =>
  settingsIn(spec).filter(({ form }) => FROM_CELLS.has(form));
