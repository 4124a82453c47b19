import { entityTypeSchema } from "../document/entityType.ts";
import { everyStep, type StepBase } from "../document/logic.ts";
import { linkSchema } from "../document/link.ts";
import { isFollowed, mayCountOtherwise } from "../document/road.ts";
import { type RunSettings, runSettingsSchema } from "../document/runSettings.ts";
import { type Table, tablesOf } from "../document/table.ts";
import { type Variable, variablesOf } from "../document/variable.ts";
import { kindOf } from "../elements/index.ts";
import { ownHours } from "../elements/memberHours.ts";
import { nameKey } from "../expression/index.ts";
import { mentionsOf } from "../settings/references.ts";
import { settingsIn } from "../settings/setting.ts";
import { type Design, elementSchema, type Study } from "./schema.ts";

/** What is always told: which thing it is, and where. */
const ALWAYS = new Set(["id", "name", "kind", "at"]);
/** What is drawn or told but not run. Positions count only through the length of walkways, so they stay. */
const NOT_RUN = new Set(["look", "colour", "picture", "colouring", "colourAttribute", "bands", "group", "locked"]);

/**
 * A short text that is equal for designs and settings that give the same numbers. What is
 * drawn but not run, names of designs, notes, displays, the number of replications and the
 * confidence level are left out, and so are calendars that the design does not use; so are settings as they are by
 * default, and the streams of settings that are empty, so that a run is not out of date because a later version has
 * more settings. (Within a version of the study file, defaults never change.)
 */
export function fingerprint(
  design: Design,
  settings: RunSettings,
  {
    calendars = [],
    tables = [],
    streams = [],
    variables,
  }: Partial<Pick<Study, "calendars" | "tables" | "streams" | "variables">> = {},
): string {
  const {
    length,
    warmUp,
    seed,
    start,
    ends,
    endDate,
    count,
    condition,
    mostEntities,
    mostEvents,
    nights,
    opens,
    closes,
    kind,
    replications,
  } = settings;
  // What ends a replication counts only as far as it is used.
  const end = ends === "time" ? [] : [{ ends, with: ends === "date" ? endDate : ends === "count" ? count : condition }];
  const guards =
    mostEntities === DEFAULTS.mostEntities && mostEvents === DEFAULTS.mostEvents ? [] : [{ mostEntities, mostEvents }];
  const measures = design.measures.length > 0 ? [{ measures: design.measures }] : [];
  const entityTypes = design.entityTypes.map((type) => told(type, TYPE));
  const elements = design.elements.map((element) => told(element, defaultsOf(element.kind), drawnOnly(element.kind)));
  const links = design.links.map((link) => told(link, LINK));
  const roads = roadsOf(design);
  const used = calendarsOf(design, calendars);
  const byName = mayNameCalendars(design);
  const goesAlong = design.elements.some((element) => "wayOut" in element && element.wayOut === "route");
  const kept = calendars
    .filter(({ id }) => used.has(id))
    .map((calendar) => (byName ? calendar : { ...calendar, name: "" }));
  const logic = logicOf(design);
  const asked = [design.measures, logic, condition, length, warmUp, count, ...kept.map(({ from }) => from?.table)];
  const text = JSON.stringify([entityTypes, elements, links, roads, ...asked]);
  const ofDesign = tablesOf(tables, design.tables);
  const named = variablesRead(variablesOf(variables, design.variables), ofDesign, text);
  const read = tablesRead(ofDesign, text + JSON.stringify(named), goesAlong);
  const own = streams
    .filter(({ seed: of, again }) => of !== null || again)
    .map(({ name: _, ...of }) => of)
    .sort((a, b) => a.stream - b.stream);
  return mixed(
    JSON.stringify([
      ENGINE,
      entityTypes,
      elements,
      links,
      length,
      warmUp,
      seed,
      start,
      ...(kept.length > 0 ? [kept] : []),
      ...end,
      ...(kind === "pairs" ? [{ pairs: true }] : []),
      ...(kind === "long" ? [{ batches: replications }] : []),
      ...(nights === "skipped" ? [{ opens, closes }] : []),
      ...guards,
      ...measures,
      ...(own.length > 0 ? [{ streams: own }] : []),
      ...(read.length > 0 ? [{ tables: read.map(contentsOf) }] : []),
      ...(named.length > 0 ? [{ variables: named }] : []),
      ...(logic.length > 0 ? [{ logic }] : []),
      ...(roads.length > 0 ? [{ roads }] : []),
    ]),
  );
}

/** Ways that are drawn, which count only where something goes over them. */
function roadsOf({ elements, links, roads = [], procedures = [], rules = [] }: Design): object[] {
  const isGoneOver =
    links.some(({ kind }) => kind === "ways") ||
    elements.some(
      (element) =>
        // What a from-to table leaves empty is gone over them too.
        ("over" in element && element.over !== "straight") || ("walks" in element && element.walks === "over ways"),
    ) ||
    [...procedures, ...rules].some(({ steps }) =>
      [...everyStep(steps)].some((step) => "over" in step && step.over === "over ways"),
    );
  if (!isGoneOver) return [];
  return roads.map((road) => {
    const { id, name: _, kind: __, width: ___, ...run } = road;
    // What is measured of it is kept by its id.
    return isFollowed(road) || mayCountOtherwise(road) ? { ...run, id } : run;
  });
}

/** Procedures and rules as far as they are done: without remarks, names and what is switched off. */
function logicOf({ procedures = [], rules = [] }: Design): object[] {
  return [...procedures, ...rules.filter(({ off }) => !off)].map(({ name: _, note: __, ...of }) => ({
    ...of,
    steps: stepsDone(of.steps),
  }));
}

/** Steps that are seen or told alone, and change no number. */
const TOLD: ReadonlySet<string> = new Set(["look", "log"]);

const stepsDone = (steps: readonly StepBase[]): object[] =>
  steps
    .filter((step) => !step.off && !TOLD.has(step.do))
    .map(({ note: _, pause: __, steps: inner, ...step }) => ({
      ...step,
      ...(inner ? { steps: stepsDone(inner) } : {}),
    }));

/** Ids of the calendars that elements keep, or may. */
function calendarsOf(design: Design, calendars: Study["calendars"]): ReadonlySet<string> {
  const used = new Set(
    design.elements.flatMap((element) =>
      mentionsOf(element, kindOf(element).settings).flatMap(({ to, id, used }) =>
        to === "shift calendar" || (to === "demand profile" && used) ? [id] : [],
      ),
    ),
  );
  for (const { calendar } of design.rules ?? []) used.add(calendar);
  for (const { calendar } of [...design.links, ...(design.roads ?? [])]) if (calendar) used.add(calendar);
  if (mayNameCalendars(design)) for (const { id } of calendars) used.add(id);
  return used;
}

/** Whether which calendars members keep may stand in a table, by their names. */
const mayNameCalendars = ({ elements }: Design): boolean =>
  elements.some((element) => ownHours(element) !== "" || Object.keys(element.family?.columns ?? {}).length > 0);

/** The variables that a text, expressions of tables or variables that are read may read: who is named may be read. */
function variablesRead(variables: readonly Variable[], tables: readonly Table[], text: string) {
  if (variables.length === 0) return [];
  const cells = tables.map(({ columns, rows }) => (columns.some((c) => c.holds === "expression") ? rows : []));
  const texts = [nameKey(text), nameKey(JSON.stringify(cells))];
  const read = new Set<Variable>();
  for (let i = 0; i < texts.length; i++)
    for (const variable of variables) {
      if (read.has(variable) || !texts[i].includes(nameKey(variable.name))) continue;
      read.add(variable);
      texts.push(nameKey(variable.value));
    }
  return variables
    .filter((variable) => read.has(variable))
    .map(({ name, value, table, streams }) => ({ name, value, table, streams }));
}

/** The tables that a text may read, and those that their expressions may read in turn: who is named may be read. */
function tablesRead(tables: readonly Table[], text: string, goesAlong: boolean): Table[] {
  const read = new Set<Table>();
  const texts = [nameKey(text)];
  for (let i = 0; i < texts.length; i++)
    for (const table of tables) {
      const isNamed = [table.name, table.id].some((name) => texts[i].includes(nameKey(name)));
      if (read.has(table) || !(isNamed || (goesAlong && table.route))) continue;
      read.add(table);
      const further = table.columns.some(({ holds }) => holds === "expression" || holds === "row");
      if (further) texts.push(nameKey(JSON.stringify([table.columns, table.rows])));
      for (const { of } of table.columns) texts.push(nameKey(tables.find(({ id }) => id === of)?.name ?? ""));
    }
  return tables.filter((table) => read.has(table));
}

const contents = new WeakMap<Table, string>();

/** A table in few characters, worked out once: it may have many rows. */
function contentsOf(table: Table): string {
  let text = contents.get(table);
  if (text === undefined) contents.set(table, (text = mixed(JSON.stringify({ ...table, note: "", link: undefined }))));
  return text;
}

/**
 * Raised when the same design gives other numbers than before: runs of earlier engines then show as out of date,
 * which they are.
 */
const ENGINE = 5;

const DEFAULTS = runSettingsSchema.parse({});
const bare = (defaults: object): Readonly<Record<string, string>> =>
  Object.fromEntries(Object.entries(defaults).map(([key, value]) => [key, JSON.stringify(value)]));
const TYPE = bare(entityTypeSchema.parse({ id: "x", name: "x" }));
const LINK = bare(linkSchema.parse({ id: "x", from: "x", to: "x" }));

const byKind = new Map<string, Readonly<Record<string, string>>>();
function defaultsOf(kind: string): Readonly<Record<string, string>> {
  let defaults = byKind.get(kind);
  if (!defaults) byKind.set(kind, (defaults = bare(elementSchema.parse({ kind, id: "x", name: "x", at: [0, 0] }))));
  return defaults;
}

/** Settings of a kind that are drawn and change no number. */
const drawnOnly = (kind: string): ReadonlySet<string> =>
  new Set(settingsIn(kindOf({ kind }).settings).flatMap(({ name, unrun }) => (unrun ? [name] : [])));

/** The entries of an element, link or entity type that are run and are not as by default. */
function told(
  item: object,
  defaults: Readonly<Record<string, string>>,
  drawn: ReadonlySet<string> = new Set(),
): object {
  const entries = Object.entries(item as Record<string, unknown>).flatMap(([key, value]): [string, unknown][] => {
    if (key === "streams") return [[key, usedStreams(item, value as Record<string, number>)]];
    return NOT_RUN.has(key) || drawn.has(key) || (!ALWAYS.has(key) && JSON.stringify(value) === defaults[key])
      ? []
      : [[key, key === "needs" ? (value as object[]).map(withoutNew) : value]];
  });
  return Object.fromEntries(entries);
}

/** A row of needs without what a later version added and this one does not say. */
const withoutNew = (row: object): object => ("which" in row && row.which === "" ? { ...row, which: undefined } : row);

/** The streams of settings that are there and say something, by setting. */
const usedStreams = (item: object, streams: Record<string, number>): [string, number][] =>
  Object.entries(streams)
    .filter(([setting]) => {
      const value = (item as Record<string, unknown>)[setting];
      return value !== "" && !(Array.isArray(value) && value.length === 0);
    })
    .sort(([a], [b]) => (a < b ? -1 : 1));

/**
 * Two 32-bit mixes of a text by multiplying and exclusive or, as 16 hexadecimal digits: enough to tell versions of a
 * design apart, and no protection against somebody who wants two to look alike.
 */
function mixed(text: string): string {
  let a = 0x811c9dc5;
  let b = 0xcbf29ce4;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 0x01000193);
    b = Math.imul(b ^ code, 0x01000197) ^ (a >>> 15);
  }
  return [a, b].map((half) => (half >>> 0).toString(16).padStart(8, "0")).join("");
}
