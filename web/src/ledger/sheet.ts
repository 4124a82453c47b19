import {
  type Design,
  type Element,
  type ElementKindName,
  elementKinds,
  ENTITY_LOOKS,
  type EntityType,
  type FieldSpec,
  kindOf,
  type Link,
  CONVEYOR_DEFAULTS,
  LINK_SETTINGS,
  type Point,
  type ReferenceSetting,
  type Road,
  ROAD_KINDS,
  ROAD_SETTINGS,
  roadSchema,
  type Setting,
  settingsIn,
  type Study,
  WORK_PHASES,
} from "@busy-harbor/core";
import { ESCORT_WORDS, takersAlong } from "../build/ways.ts";
import { readLength, showLength } from "../build/length.ts";
import type { ExpressionOf } from "../expressions/names.ts";
import { addElement, addEntityType, addLink, isResource, linkRefusal, newId, placed, setNeed } from "../state/edits.ts";

/** A thing that is a row: all have an id by which problems and the floor know them. */
export type Item = Element | Link | Road | EntityType;

/** Where a row stands. */
export interface Place {
  readonly design: Design;
  readonly units: Study["units"];
  readonly calendars: Study["calendars"];
  readonly tables: Study["tables"];
}

export const placeIn = (study: Study, design: Design): Place => ({
  design,
  units: study.units,
  calendars: study.calendars,
  tables: study.tables,
});

export interface Column {
  readonly id: string;
  readonly label: string;
  readonly help?: string;
  /** Pixels, until a person changes it. */
  readonly width: number;
  readonly mono?: boolean;
  /** It holds expressions, and this is where they stand. */
  readonly expression?: ExpressionOf;
  /** Values offered, as they are shown. */
  readonly choices?: (place: Place) => readonly string[];
  read(item: Item, place: Place): string;
  /** Puts text into a draft of the item; returns why it cannot, if so. */
  write(item: Item, text: string, place: Place): string | undefined;
}

/** A tab of the ledger: the rows of one kind of thing, and its columns. */
export interface Sheet {
  readonly id: string;
  readonly label: string;
  readonly one: string;
  /** It is there though it has no rows. */
  readonly common: boolean;
  readonly columns: readonly Column[];
  rows(design: Design): readonly Item[];
  /** Adds a row to a draft; returns it, or why none can be added. */
  add(design: Design, at: Point): Item | string;
}

const MOST_IN_NAME = 80;
const MOST_IN_EXPRESSION = 4000;

const value = (item: Item, field: string): string => String((item as unknown as Record<string, unknown>)[field] ?? "");
const put = (item: Item, field: string, content: unknown): undefined => void Object.assign(item, { [field]: content });

const nameColumn: Column = {
  id: "name",
  label: "Name",
  width: 170,
  read: (item) => value(item, "name"),
  write(item, text) {
    const name = text.trim();
    if (name === "") return "A name is needed.";
    if (name.length > MOST_IN_NAME) return `A name has at most ${MOST_IN_NAME} characters.`;
    return put(item, "name", name);
  },
};

const expressionColumn = (
  id: string,
  label: string,
  help: string,
  expression: ExpressionOf = {},
  width = 160,
): Column => ({
  id,
  label,
  help,
  width,
  mono: true,
  expression,
  read: (item) => value(item, id),
  write: (item, text) =>
    text.length > MOST_IN_EXPRESSION ? `At most ${MOST_IN_EXPRESSION} characters.` : put(item, id, text.trim()),
});

/** A column that is empty where its setting is as at first and the row has no use for it. */
function whereUsed(column: Column, { used }: FieldSpec, initial: string): Column {
  if (!used) return column;
  const idle = (item: Item) => !used(item as unknown as Record<string, unknown>) && value(item, column.id) === initial;
  return {
    ...column,
    read: (item, place) => (idle(item) ? "" : column.read(item, place)),
    write: (item, text, place) => (idle(item) && text.trim() === "" ? undefined : column.write(item, text, place)),
  };
}

/** A column whose values are a few, shown as words; `words` are pairs of value and label. */
function choiceColumn(
  id: string,
  label: string,
  words: (place: Place) => ReadonlyArray<readonly [value: unknown, label: string]>,
  width = 130,
): Column {
  return {
    id,
    label,
    width,
    choices: (place) => words(place).map(([, shown]) => shown),
    read: (item, place) => words(place).find(([v]) => String(v) === value(item, id))?.[1] ?? value(item, id),
    write(item, text, place) {
      const wanted = text.trim().toLowerCase();
      const found = words(place).find(
        ([v, shown]) => shown.toLowerCase() === wanted || String(v).toLowerCase() === wanted,
      );
      return found
        ? put(item, id, found[0])
        : `${label} is one of: ${
            words(place)
              .map(([, shown]) => shown)
              .join(", ") || "none yet"
          }.`;
    },
  };
}

function placeColumn(label: string, axis: 0 | 1): Column {
  return {
    id: label.toLowerCase(),
    label,
    help: "Place on the floor.",
    width: 90,
    mono: true,
    read: (item, { units }) => ("at" in item ? showLength(item.at[axis], units) : ""),
    write(item, text, { units }) {
      const metres = readLength(text, units);
      if (metres === undefined) return "This is not a length, or too far away.";
      if ("at" in item) item.at = placed(axis === 0 ? [metres, item.at[1]] : [item.at[0], metres]);
      return undefined;
    },
  };
}

const yesNo = () =>
  [
    [true, "yes"],
    [false, "no"],
  ] as const;

/** A column of a mark that stands in the document only where it holds. */
function markColumn(id: string, label: string, width: number): Column {
  const column = choiceColumn(id, label, yesNo, width);
  return {
    ...column,
    read: (item) => (value(item, id) === "true" ? "yes" : "no"),
    write(item, text, place) {
      const problem = column.write(item, text, place);
      if (problem === undefined && value(item, id) !== "true") put(item, id, undefined);
      return problem;
    },
  };
}

/** What a setting may name, with what stands for none. */
function referenceWords(
  { to, none }: ReferenceSetting,
  { design, calendars, tables }: Place,
): (readonly [string, string])[] {
  const there =
    to === "entity type"
      ? design.entityTypes
      : to === "element"
        ? design.elements
        : to === "table"
          ? tables
          : calendars.filter(({ gives }) => gives === (to === "shift calendar" ? "capacity" : "rate"));
  const nothing = to === "shift calendar" || to === "demand profile" ? "none" : (none ?? "none");
  return [["", nothing] as const, ...there.map(({ id, name }) => [id, name] as const)];
}

/** The column of a setting; none for those that are lists or drawn on the floor. */
function columnOf(setting: Setting): Column | undefined {
  const { name, label, help, column = label, width } = setting;
  switch (setting.form) {
    case "expression":
      return whereUsed(
        expressionColumn(name, column, help, { entity: setting.entity, words: setting.words }, width ?? 120),
        setting,
        String(setting.schema.parse(undefined)),
      );
    case "choice":
      return choiceColumn(
        name,
        column,
        () => setting.choices.map(([v, words]) => [v, setting.cells === "words" ? words : v] as const),
        width,
      );
    case "flag":
      return choiceColumn(name, column, yesNo, width);
    case "reference":
      return choiceColumn(name, column, (place) => referenceWords(setting, place), width);
    default:
      return undefined;
  }
}

const TAKES = () =>
  [
    ["done", "those who are done"],
    ["turned away", "those turned away"],
    ["scrapped", "those scrapped"],
    ["parts", "parts or copies"],
  ] as const;

function elementSheet(kind: ElementKindName): Sheet {
  const { label, plural, settings, common = false } = kindOf({ kind });
  return {
    id: kind,
    label: plural,
    one: label.toLowerCase(),
    common,
    columns: [
      nameColumn,
      ...settingsIn(settings).flatMap((setting) => columnOf(setting) ?? []),
      placeColumn("Across", 0),
      placeColumn("Down", 1),
      choiceColumn("locked", "Locked", yesNo, 80),
    ],
    rows: (design) => design.elements.filter((e) => e.kind === kind),
    add: (design, at) => addElement(design, kind, at),
  };
}

/** Column of an element at one end of a link, by its name. */
function endColumn(end: "from" | "to", label: string): Column {
  const nameOf = ({ design }: Place, id: string) => design.elements.find((e) => e.id === id)?.name ?? "";
  const can = (e: Element) => (end === "from" ? kindOf(e).hasWayOut : kindOf(e).hasWayIn);
  return {
    id: end,
    label,
    width: 160,
    choices: ({ design }) => design.elements.filter(can).map((e) => e.name),
    read: (item, place) => nameOf(place, value(item, end)),
    write(item, text, { design }) {
      const wanted = text.trim().toLowerCase();
      const element = design.elements.find((e) => e.name.toLowerCase() === wanted);
      if (!element) return `No element is called "${text.trim()}".`;
      if (!can(element))
        return end === "from" ? `Nothing goes on from ${element.name}.` : `Nothing enters ${element.name}.`;
      return put(item, end, element.id);
    },
  };
}

/** Those who may carry or escort along links. */
const takers = (design: Design) => [...takersAlong(design, "carried"), ...takersAlong(design, "escorted")];

/** Column of the vehicles that carry along a link, or the crew that escorts; empty where none do. */
const carrierColumn: Column = {
  id: "by",
  label: "Carried or escorted by",
  width: 176,
  choices: ({ design }) => takers(design).map((e) => e.name),
  read: (item, { design }) => design.elements.find((e) => e.id === value(item, "by"))?.name ?? "",
  write(item, text, { design }) {
    const wanted = text.trim().toLowerCase();
    if (wanted === "") return put(item, "by", undefined);
    const found = takers(design).find((e) => e.name.toLowerCase() === wanted);
    return found ? put(item, "by", found.id) : `No vehicles and no crew are called "${text.trim()}".`;
  },
};

/** Column of how those are escorted whom a crew escorts. */
const escortColumn: Column = {
  id: "how",
  label: "Escorted: how",
  width: 120,
  choices: () => ESCORT_WORDS.map(([, words]) => words),
  read: (item) =>
    value(item, "kind") === "escorted"
      ? (ESCORT_WORDS.find(([how]) => how === ((item as Link).how ?? "beside"))?.[1] ?? "")
      : "",
  write(item, text) {
    const wanted = text.trim().toLowerCase();
    const found = ESCORT_WORDS.find(([how, words]) => wanted === how || wanted === words);
    if (wanted !== "" && !found) return `Write ${ESCORT_WORDS.map(([, words]) => words).join(", ")}.`;
    return put(item, "how", !found || found[0] === "beside" ? undefined : found[0]);
  },
};

/** A column of what only conveyors have: what is empty is as at first. */
function conveyorColumn(field: keyof typeof LINK_SETTINGS): Column {
  const { label, help, entity } = LINK_SETTINGS[field];
  const column = expressionColumn(field, `Conveyor: ${label.toLowerCase()}`, help, { entity }, 150);
  const initial = (CONVEYOR_DEFAULTS as Readonly<Record<string, string>>)[field] ?? "";
  const isConveyor = (item: Item) => value(item, "kind") === "conveyor";
  return {
    ...column,
    read: (item) => String((item as Link)[field] ?? (isConveyor(item) ? initial : "")),
    write: (item, text, place) =>
      text.trim() === (isConveyor(item) ? initial : "") ? put(item, field, undefined) : column.write(item, text, place),
  };
}

const STAND = "stand";
const CLOSE_UP = "close up";

/** Column of what those behind one do that waits at the end of a conveyor. */
const othersColumn: Column = {
  id: "accumulates",
  label: "Conveyor: others",
  width: 130,
  choices: () => [CLOSE_UP, STAND],
  read: (item) => (value(item, "kind") !== "conveyor" ? "" : (item as Link).accumulates === false ? STAND : CLOSE_UP),
  write(item, text) {
    const wanted = text.trim().toLowerCase();
    if (!["", CLOSE_UP, STAND].includes(wanted)) return `Write ${CLOSE_UP} or ${STAND}.`;
    return put(item, "accumulates", wanted === STAND ? false : undefined);
  },
};

/** Column of the calendar by which a conveyor runs, or a way is open. */
const hoursColumn = (label: string): Column => ({
  id: "calendar",
  label,
  width: 140,
  choices: ({ calendars }) => calendars.map(({ name }) => name),
  read: (item, { calendars }) => calendars.find(({ id }) => id === (item as Link | Road).calendar)?.name ?? "",
  write(item, text, { calendars }) {
    const wanted = text.trim().toLowerCase();
    if (wanted === "") return put(item, "calendar", undefined);
    const found = calendars.find(({ name }) => name.toLowerCase() === wanted);
    return found ? put(item, "calendar", found.id) : `No calendar is called "${text.trim()}".`;
  },
});

const linkSheet: Sheet = {
  id: "links",
  label: "Links",
  one: "link",
  common: true,
  columns: [
    endColumn("from", "From"),
    endColumn("to", "To"),
    choiceColumn("takes", "Takes", TAKES, 140),
    choiceColumn(
      "kind",
      "Kind",
      () =>
        [
          ["direct", "direct"],
          ["timed", "timed"],
          ["walkway", "walkway"],
          ["ways", "over the ways"],
          ["carried", "carried"],
          ["conveyor", "conveyor"],
          ["escorted", "escorted"],
        ] as const,
      100,
    ),
    carrierColumn,
    escortColumn,
    ...(["time", "length", "share", "condition", "cost"] as const).map((f) =>
      expressionColumn(
        f,
        LINK_SETTINGS[f].label,
        LINK_SETTINGS[f].help,
        { entity: LINK_SETTINGS[f].entity },
        f === "condition" ? 220 : 130,
      ),
    ),
    ...(["radius", "beltSpeed", "beltRoom", "beltStands", "beltEvery", "beltRepair", "precedence"] as const).map(
      conveyorColumn,
    ),
    othersColumn,
    hoursColumn("Conveyor: runs by"),
  ],
  rows: (design) => design.links,
  add(design) {
    const from = design.elements.find((e) => kindOf(e).hasWayOut);
    const to = design.elements.find((e) => from && e !== from && !linkRefusal(from, e));
    return from && to ? addLink(design, from.id, to.id) : "A link needs two elements: one to leave and one to lead to.";
  },
};

/** Column of an element at which a way begins or ends; empty where it is at none. */
function wayEndColumn(end: "from" | "to", label: string): Column {
  return {
    id: end,
    label,
    width: 160,
    choices: ({ design }) => design.elements.map((e) => e.name),
    read: (item, { design }) => design.elements.find((e) => e.id === value(item, end))?.name ?? "",
    write(item, text, { design }) {
      const wanted = text.trim().toLowerCase();
      if (wanted === "") return put(item, end, "");
      const element = design.elements.find((e) => e.name.toLowerCase() === wanted);
      return element ? put(item, end, element.id) : `No element is called "${text.trim()}".`;
    },
  };
}

const roadSheet: Sheet = {
  id: "roads",
  label: "Ways",
  one: "way",
  common: false,
  columns: [
    {
      ...nameColumn,
      write: (item, text) =>
        text.length > 120 ? "A name has at most 120 characters." : put(item, "name", text.trim()),
    },
    choiceColumn("kind", "Kind", () => ROAD_KINDS.map((kind) => [kind, kind] as const), 110),
    wayEndColumn("from", "Begins at"),
    wayEndColumn("to", "Ends at"),
    choiceColumn("oneWay", "One way", yesNo, 90),
    ...(["limit", "room", "factor", "radius", "every", "repair"] as const).map((field) =>
      expressionColumn(field, ROAD_SETTINGS[field].label, ROAD_SETTINGS[field].help, {}, 120),
    ),
    markColumn("oneAtATime", "One direction at a time", 150),
    markColumn("roomEach", "Room each way", 120),
    markColumn("keepsOrder", "Nobody passes", 120),
    hoursColumn("Open by"),
    expressionColumn("closedWhile", ROAD_SETTINGS.closedWhile.label, ROAD_SETTINGS.closedWhile.help, {}, 150),
    markColumn("follow", "Measured", 90),
  ],
  rows: (design) => design.roads ?? [],
  add(design) {
    const [from, to] = design.elements;
    if (!to) return "A way needs two elements to lead from one to the other, or is drawn on the floor.";
    const road = roadSchema.parse({
      id: newId("walkway"),
      points: [from.at, to.at],
      from: from.id,
      to: to.id,
    });
    design.roads = [...(design.roads ?? []), road];
    return road;
  },
};

const typeSheet: Sheet = {
  id: "entityTypes",
  label: "Entity types",
  one: "entity type",
  common: true,
  columns: [
    nameColumn,
    expressionColumn("speed", "Speed", "Speed on walkways."),
    choiceColumn("look", "Look", () => ENTITY_LOOKS.map((l) => [l, l] as const), 110),
    {
      id: "colour",
      label: "Colour",
      width: 110,
      mono: true,
      read: (item) => value(item, "colour"),
      write: (item, text) =>
        /^#[0-9a-f]{6}$/i.test(text.trim()) ? put(item, "colour", text.trim()) : "A colour is written as #0B6E8A.",
    },
  ],
  rows: (design) => design.entityTypes,
  add(design) {
    addEntityType(design);
    return design.entityTypes[design.entityTypes.length - 1];
  },
};

/** Resources by stations: how many of each the work at each needs. */
function needsSheet(elements: Design["elements"]): Sheet {
  return {
    id: "needs",
    label: "Needs",
    one: "element",
    common: true,
    columns: [nameColumn, ...elements.filter(isResource).map(needColumn)],
    rows: (design) => design.elements.filter((e) => "needs" in e),
    add: () => "Stations are added on the floor, or under Stations.",
  };
}

const needColumn = ({ id, name }: Element): Column => ({
  id,
  label: name,
  help: `How many of ${name} the work needs; for other phases than work: 1 setup, work. Empty: none.`,
  width: Math.max(140, name.length * 8 + 24),
  mono: true,
  read(item, { design }) {
    const need = "needs" in item ? item.needs.find((n) => n.anyOf.includes(id)) : undefined;
    if (!need) return "";
    const others = need.anyOf
      .filter((other) => other !== id)
      .map((other) => design.elements.find((e) => e.id === other)?.name ?? "another");
    return [
      need.count,
      ...(need.phases.join() === "work" ? [] : [need.phases.join(", ")]),
      ...(others.length > 0 ? [`or ${others.join(" or ")}`] : []),
    ].join(" ");
  },
  write(item, text) {
    if (!("needs" in item)) return "Only stations need resources.";
    const said = text.replace(/\s+or\s.*$/, "").trim();
    const phases = WORK_PHASES.filter((phase) => new RegExp(`(^|[\\s,])${phase}($|[\\s,])`).test(said));
    const count = said.replace(/[\s,]*\b(setup|work|teardown)\b/g, "").trim();
    if (phases.length > 0 && count === "") return "Write how many, such as 1 setup, work.";
    if (count.length > MOST_IN_EXPRESSION) return `At most ${MOST_IN_EXPRESSION} characters.`;
    setNeed(item, id, count, phases.length > 0 ? phases : undefined);
    return undefined;
  },
});

const FIXED: readonly Sheet[] = [
  ...(Object.keys(elementKinds) as ElementKindName[]).map(elementSheet),
  linkSheet,
  roadSheet,
  typeSheet,
];
const byElements = new WeakMap<readonly Element[], readonly Sheet[]>();

/** All tabs for a design: one an element kind, the needs of resources, links and entity types. */
export function sheetsOf({ elements }: Design): readonly Sheet[] {
  let sheets = byElements.get(elements);
  if (!sheets)
    byElements.set(
      elements,
      (sheets = elements.some(isResource) ? [...FIXED.slice(0, -2), needsSheet(elements), ...FIXED.slice(-2)] : FIXED),
    );
  return sheets;
}
