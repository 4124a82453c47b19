import type { ExperimentPlan, Factor, Scenario } from "../document/experiment.ts";
import { LINK_SETTINGS } from "../document/link.ts";
import { RUN_SETTINGS } from "../document/runSettings.ts";
import { isClaimable, kindOf } from "../elements/index.ts";
import type { Setting, SettingsSpec, Target } from "../settings/setting.ts";
import { settingsIn } from "../settings/setting.ts";
import type { Design, Study } from "../study/schema.ts";
import { type Path, plainText, thingAt, valueAt } from "./place.ts";

/** What a factor sets, as it is told. */
export interface FactorWords {
  /** What has the setting: an element, a table, a variable; empty for run settings. */
  readonly owner: string;
  /** The setting itself, such as `Capacity`. */
  readonly label: string;
  readonly help: string | undefined;
  /** Where only some values may stand: each as it is kept, and in words. */
  readonly choices: ReadonlyArray<readonly [value: string, words: string]> | undefined;
  /** Whether it is an expression, and not only some text. */
  readonly isExpression: boolean;
}

/** Tells of a place in a design; of one that is not there, what can be told. */
export function describePlace(study: Study, design: Design, path: Path): FactorWords {
  const [list, id, ...rest] = path;
  const thing = thingAt(study, design, path);
  const setting = thing && settingAt(list, thing, list === "run" ? path.slice(1) : rest);
  const value = valueAt(study, design, path);
  return {
    owner: list === "run" ? "" : ownerName(design, list, thing, id),
    label: labelOf(study, design, path, setting),
    help: setting?.help,
    choices: setting ? choicesOf(study, design, setting) : typeof value === "boolean" ? YES_OR_NO : undefined,
    isExpression: setting ? setting.form === "expression" : list === "variables",
  };
}

const YES_OR_NO = [
  ["yes", "yes"],
  ["no", "no"],
] as const;

function ownerName(design: Design, list: string, thing: object | undefined, id: string): string {
  if (!thing) return "something deleted";
  if (list !== "links") return "name" in thing ? String(thing.name) : id;
  const link = thing as { from: string; to: string };
  const nameOf = (end: string) => design.elements.find((e) => e.id === end)?.name ?? "?";
  return `${nameOf(link.from)} to ${nameOf(link.to)}`;
}

function specOf(list: string, thing: object): SettingsSpec | undefined {
  if (list === "elements") return kindOf(thing as { kind: string }).settings;
  if (list === "links") return LINK_SETTINGS;
  return list === "run" ? RUN_SETTINGS : undefined;
}

/** The setting of a thing, or of a row of one of its lists. */
function settingAt(list: string, thing: object, rest: Path): Setting | undefined {
  const spec = specOf(list, thing);
  const setting = spec && settingsIn(spec).find(({ name }) => name === rest[0]);
  if (setting?.form !== "rows") return rest.length === 1 ? setting : undefined;
  return settingsIn(setting.row).find(({ name }) => name === rest[2]);
}

function labelOf(study: Study, design: Design, path: Path, setting: Setting | undefined): string {
  const [list, id, ...rest] = path;
  if (list === "variables") return "First value";
  if (list === "tables") {
    const table = [...design.tables, ...study.tables].find((t) => t.id === id);
    const column = table?.columns.find((c) => c.id === rest[1]);
    return `${column?.name ?? rest[1]} of ${table?.key ? rest[0] : `row ${rest[0]}`}`;
  }
  const named = setting?.label ?? KNOWN[path.at(-1)!] ?? inWords(path.at(-1)!);
  // A row of a list is told by its place, where the list has several.
  const rows = list === "run" ? [] : rest.slice(0, -1).filter((key) => /^\d+$/.test(key));
  return rows.length > 0 ? `${named}, ${rows.map((key) => `row ${Number(key) + 1}`).join(", ")}` : named;
}

const KNOWN: Readonly<Record<string, string>> = { count: "Members", replications: "Replications", value: "Value" };

const inWords = (key: string): string => {
  const words = key.replace(/([A-Z])/g, " $1").toLowerCase();
  return words.charAt(0).toUpperCase() + words.slice(1);
};

function choicesOf(study: Study, design: Design, setting: Setting): FactorWords["choices"] {
  if (setting.form === "choice") return setting.choices.map(([value, words]) => [value, words] as const);
  if (setting.form === "flag") return YES_OR_NO;
  if (setting.form === "resources")
    return design.elements.filter((e) => isClaimable(e)).map(({ id, name }) => [id, name] as const);
  if (setting.form !== "reference") return undefined;
  return [
    ...(setting.none === undefined ? [] : [["", setting.none] as const]),
    ...thingsOf(study, design, setting.to).map(({ id, name }) => [id, name] as const),
  ];
}

function thingsOf(study: Study, design: Design, to: Target): readonly { readonly id: string; readonly name: string }[] {
  switch (to) {
    case "entity type":
      return design.entityTypes;
    case "element":
      return design.elements;
    case "shift calendar":
    case "demand profile":
      return study.calendars.filter(({ gives }) => gives === (to === "shift calendar" ? "capacity" : "rate"));
    case "table":
      return study.tables;
    case "procedure":
      return design.procedures ?? [];
    case "measure":
      return design.measures;
  }
}

/** The factors of an experiment as they are told: by the first design of its rows that has what they set. */
export function factorWords(
  study: Study,
  { factors, scenarios }: Pick<ExperimentPlan, "factors" | "scenarios">,
): (FactorWords & { readonly factor: Factor; readonly title: string })[] {
  const ids = [...new Set(scenarios.map(({ design }) => design))];
  const designs = ids.flatMap((id) => study.designs.find((d) => d.id === id) ?? []);
  if (designs.length === 0) designs.push(study.designs[0]);
  return factors.map((factor) => {
    const having = designs.find((d) => valueAt(study, d, factor.at) !== undefined) ?? designs[0];
    const words = describePlace(study, having, factor.at);
    const title = [words.owner, words.label].filter((part) => part !== "").join(": ");
    return { ...words, factor, title: factor.name || title };
  });
}

/** The value of a factor in a scenario, as it is kept: the design's own where the scenario says none. */
export function valueIn(study: Study, factor: Factor, scenario: Scenario): string {
  const written = scenario.values[factor.id];
  if (written !== undefined && written.trim() !== "") return written;
  const design = study.designs.find((d) => d.id === scenario.design);
  const value = design && valueAt(study, design, factor.at);
  return value === undefined ? "" : plainText(value);
}

/** A value in words: its name where it is one of a few. */
export const wordsOfValue = ({ choices }: Pick<FactorWords, "choices">, value: string): string =>
  choices?.find(([kept]) => kept === value)?.[1] ?? value;

/** What is kept for words that a person typed or chose. */
export const valueOfWords = ({ choices }: Pick<FactorWords, "choices">, words: string): string => {
  const wanted = words.trim().toLowerCase();
  return choices?.find(([, name]) => name.toLowerCase() === wanted)?.[0] ?? words.trim();
};

/** Names of scenarios by their ids: their own, or the values in which they differ. */
export function scenarioNames(
  study: Study,
  experiment: Pick<ExperimentPlan, "factors" | "scenarios">,
): ReadonlyMap<string, string> {
  const { scenarios } = experiment;
  const told = factorWords(study, experiment);
  const values = scenarios.map((s) => told.map(({ factor }) => valueIn(study, factor, s)));
  const differs = told.map((_, f) => new Set(values.map((row) => row[f])).size > 1);
  const severalDesigns = new Set(scenarios.map(({ design }) => design)).size > 1;
  const short = told.map(({ factor, label, owner }) =>
    factor.name !== ""
      ? factor.name
      : told.filter((other) => other.factor.name === "" && other.label === label).length > 1
        ? `${owner} ${label.toLowerCase()}`
        : label.toLowerCase(),
  );
  const used = new Map<string, number>();
  return new Map(
    scenarios.map((scenario, i) => {
      const design = study.designs.find((d) => d.id === scenario.design)?.name ?? "no design";
      const parts = told.flatMap((words, f) =>
        differs[f] ? [`${short[f]} ${wordsOfValue(words, values[i][f]) || "none"}`] : [],
      );
      const text = scenario.name || [...(severalDesigns || parts.length === 0 ? [design] : []), ...parts].join(", ");
      const seen = (used.get(text) ?? 0) + 1;
      used.set(text, seen);
      return [scenario.id, seen === 1 ? text : `${text} (${seen})`];
    }),
  );
}
