import type { DesignOf } from "../../document/design.ts";
import type { ElementBase } from "../../document/element.ts";
import type { Family } from "../../document/family.ts";
import type { Link } from "../../document/link.ts";
import type { StudyOf } from "../../document/study.ts";
import { type Table, tablesOf } from "../../document/table.ts";
import { kindOf } from "../../elements/index.ts";
import type { FamilyModel, MemberOf } from "../../model/model.ts";
import { findUnit } from "../../quantity/index.ts";
import type { Point } from "../../settings/parts.ts";
import { settingsIn } from "../../settings/setting.ts";
import { occurrencesOf } from "../../settings/settingsOf.ts";
import { cellValue, type ThingsToName } from "./cellValue.ts";
import { keysOf, type Report, streamsOf } from "./keys.ts";
import { memberStream } from "./memberStream.ts";
import type { FamilyProblem } from "./problem.ts";
import { hasTypeRows, type UnfoldedTypes, unfoldTypes } from "./types.ts";

/** A design with an element for every member of its families, and links to and from each. */
export interface Unfolded<D extends DesignOf = DesignOf> {
  readonly design: D;
  /** By the id of the element that is a member. */
  readonly members: ReadonlyMap<string, MemberOf>;
  readonly families: readonly FamilyModel[];
  /** Place in the document of what stands at each place here; undefined where nothing was unfolded. */
  readonly elementAt: readonly number[] | undefined;
  readonly linkAt: readonly number[] | undefined;
  /** By the id of a link to or from a member: that of the link of the document. */
  readonly linkOwners: ReadonlyMap<string, string>;
  /** Entity types that are rows of a table, by their ids. */
  readonly typeRows: UnfoldedTypes["rows"];
  readonly typeAt: readonly number[] | undefined;
  readonly problems: readonly FamilyProblem[];
}

/** So many problems of a family are told one by one. */
const TOLD = 20;

/** The most links that families unfold to. */
const MOST_LINKS = 40_000;

const hasFamilies = (design: DesignOf): boolean =>
  design.elements.some((e) => e.family !== undefined || countsRows(e)) || hasTypeRows(design);

/** Whether there are as many of its units as a table has rows. */
const countsRows = (element: ElementBase): boolean => (element.table ?? "") !== "" && "count" in element;

const known = new WeakMap<object, { readonly study: StudyOf; readonly unfolded: Unfolded }>();

/**
 * Unfolds the families of a design, and counts units that are rows of a table. The same objects give the same objects,
 * so that little is made anew.
 */
export function unfold<D extends DesignOf>(study: StudyOf, design: D): Unfolded<D> {
  if (!hasFamilies(design)) return foldless(design);
  const before = known.get(design);
  if (before && before.study.tables === study.tables && before.study.calendars === study.calendars)
    return before.unfolded as Unfolded<D>;
  const unfolded = unfoldAnew(study, design);
  known.set(design, { study, unfolded });
  return unfolded as Unfolded<D>;
}

/** What expressions know by name, by the index they have for it: elements, members among them, then whole families. */
export const namedIn = ({ design, families }: Pick<Unfolded, "design" | "families">): readonly ElementBase[] =>
  families.length === 0 ? design.elements : [...design.elements, ...families.map(({ element }) => element)];

const withoutFamilies = new WeakMap<object, Unfolded>();

function foldless<D extends DesignOf>(design: D): Unfolded<D> {
  let found = withoutFamilies.get(design);
  if (!found)
    withoutFamilies.set(
      design,
      (found = {
        design,
        members: NO_MEMBERS,
        families: [],
        elementAt: undefined,
        linkAt: undefined,
        linkOwners: NO_OWNERS,
        typeRows: NO_ROWS,
        typeAt: undefined,
        problems: NO_PROBLEMS,
      }),
    );
  return found as Unfolded<D>;
}

const NO_ROWS: UnfoldedTypes["rows"] = new Map();
const NO_OWNERS: ReadonlyMap<string, string> = new Map();
const NO_MEMBERS: ReadonlyMap<string, MemberOf> = new Map();
const NO_PROBLEMS: readonly never[] = [];

interface Unfolding {
  readonly member: MemberOf;
  readonly element: ElementBase;
}

function unfoldAnew(study: StudyOf, design: DesignOf): Unfolded {
  const problems: FamilyProblem[] = [];
  const tables = tablesOf(study.tables, design.tables);
  const types = unfoldTypes(design, tables, (problem) => problems.push(problem));
  const things: ThingsToName = {
    elements: design.elements,
    entityTypes: types.entityTypes,
    calendars: study.calendars,
    tables,
  };
  const families = new Map<string, readonly Unfolding[]>();
  const members = new Map<string, MemberOf>();
  for (const element of design.elements) {
    if (!element.family) continue;
    const unfolded = membersOf(element, element.family, tables, things, problems);
    families.set(element.id, unfolded);
    for (const { member, element: made } of unfolded) members.set(made.id, member);
  }
  const elements: ElementBase[] = [];
  const elementAt: number[] = [];
  const models: FamilyModel[] = [];
  design.elements.forEach((element, at) => {
    const made = families.get(element.id)?.map((u) => u.element);
    if (made) models.push({ element, members: made.map((_, i) => elements.length + i) });
    for (const each of made ?? [element]) {
      elements.push(withRowsCounted(withMembersNeeded(each, families), tables));
      elementAt.push(at);
    }
  });
  const { links, linkAt } = unfoldLinks(design, families, problems);
  const measures = design.measures.map((measure) =>
    measure.kind === "group"
      ? { ...measure, elements: measure.elements.flatMap((id) => families.get(id)?.map((u) => u.element.id) ?? [id]) }
      : measure,
  );
  const linkOwners = new Map(
    links.flatMap(({ id }, i) =>
      id === design.links[linkAt[i]].id ? [] : [[id, design.links[linkAt[i]].id] as const],
    ),
  );
  return {
    design: { ...design, entityTypes: [...types.entityTypes], elements, links, measures },
    members,
    families: models,
    elementAt,
    linkAt,
    linkOwners,
    typeRows: types.rows,
    typeAt: types.at,
    problems,
  };
}

/** An element whose units are rows of a table says how many there are. */
function withRowsCounted(element: ElementBase, tables: readonly Table[]): ElementBase {
  if (!countsRows(element)) return element;
  const count = tables.find(({ id }) => id === element.table)?.rows.length ?? 1;
  return { ...element, count: String(Math.max(1, count)) } as ElementBase;
}

/** Where an element names resources, the members of a family stand in place of it: any of them will do. */
function withMembersNeeded(element: ElementBase, families: ReadonlyMap<string, readonly Unfolding[]>): ElementBase {
  const names = occurrencesOf(element, kindOf(element).settings).some(
    ({ setting, value }) => setting.form === "resources" && (value as string[]).some((id) => families.has(id)),
  );
  if (!names) return element;
  const copy = JSON.parse(JSON.stringify(element)) as ElementBase;
  for (const { setting, value, holder } of occurrencesOf(copy, kindOf(copy).settings))
    if (setting.form === "resources")
      holder[setting.name] = (value as string[]).flatMap((id) => families.get(id)?.map((u) => u.element.id) ?? [id]);
  return copy;
}

const madeOf = new WeakMap<
  ElementBase,
  { readonly table: Table | undefined; readonly members: readonly Unfolding[] }
>();

function membersOf(
  element: ElementBase,
  family: Family,
  tables: readonly Table[],
  things: ThingsToName,
  problems: FamilyProblem[],
): readonly Unfolding[] {
  let told = 0;
  const report = (code: string, field: string, message: string, hint: string) => {
    told += 1;
    if (told <= TOLD) problems.push({ code, of: element, list: "elements", field, message, hint });
    else if (told === TOLD + 1)
      problems.push({
        code,
        of: element,
        list: "elements",
        field: "family",
        message: "more of its rows cannot be read.",
        hint: "Mend the first ones: the others are often wrong in the same way.",
      });
  };
  const table = family.table === "" ? undefined : tables.find(({ id }) => id === family.table);
  if (family.table !== "" && !table)
    report("missing-table", "family.table", "the table of its members does not exist.", "Choose another on its card.");
  const plain = Object.keys(family.columns).length === 0;
  const before = madeOf.get(element);
  if (plain && before && before.table === table) return before.members;
  const problemsBefore = problems.length;
  const keys = table ? keysOf(table, report) : Array.from({ length: family.count }, (_, i) => String(i + 1));
  const places = placesOf(family, table, keys.length, report);
  const members = keys.map((key, i): Unfolding => {
    const own = table ? settingsFrom(element, family, table, i, things, report) : {};
    const [x, y] = places[i];
    return {
      member: { family: element, number: i + 1, key, row: table && i },
      element: {
        ...element,
        ...own,
        id: `${element.id}/${key}`,
        name: `${element.name} ${key}`,
        at: [element.at[0] + x, element.at[1] + y],
        streams: streamsOf(element.streams, key),
        family: undefined,
      },
    };
  });
  if (plain && problems.length === problemsBefore) madeOf.set(element, { table, members });
  return members;
}

/** Where members lie from the family's own place, in metres. */
function placesOf(
  { lies, step, across, x, y }: Family,
  table: Table | undefined,
  count: number,
  report: Report,
): Point[] {
  const [dx, dy] = step;
  if (lies === "grid") return Array.from({ length: count }, (_, i) => [(i % across) * dx, Math.floor(i / across) * dy]);
  if (lies === "line") return Array.from({ length: count }, (_, i) => [i * dx, i * dy]);
  const columns = [x, y].map((id, axis) => {
    const at = table?.columns.findIndex((c) => c.id === id) ?? -1;
    if (at < 0)
      report(
        "no-places",
        axis === 0 ? "family.x" : "family.y",
        `no column says how far ${axis === 0 ? "from the left" : "down"} its members lie.`,
        "Choose a column, or have them lie in a line or a grid.",
      );
    return at;
  });
  const metres = (row: number, at: number): number => {
    if (at < 0 || !table) return 0;
    const { default: empty, unit } = table.columns[at];
    const text = (table.rows[row][at] || empty).trim();
    const [, number = "", own = ""] = /^([-+]?[\d.]+(?:[eE][-+]?\d+)?)\s*(\S*)$/.exec(text) ?? [];
    const factor = findUnit(own || unit || "m")?.factor ?? 1;
    const value = Number(number) * factor;
    if (text === "" || number === "" || !Number.isFinite(value)) {
      report(
        "no-places",
        "family.x",
        `row ${row + 1} of ${table.name} does not say where its member lies.`,
        "Write a number of metres, or a length.",
      );
      return 0;
    }
    return value;
  };
  return Array.from({ length: count }, (_, row) => [metres(row, columns[0]), metres(row, columns[1])]);
}

/** What a row says of settings that are no expressions. */
function settingsFrom(
  element: ElementBase,
  { columns }: Family,
  table: Table,
  row: number,
  things: ThingsToName,
  report: Report,
): Record<string, unknown> {
  const own: Record<string, unknown> = {};
  for (const setting of settingsIn(kindOf(element).settings)) {
    const id = columns[setting.name];
    if (id === undefined) continue;
    const at = table.columns.findIndex((c) => c.id === id);
    if (at < 0) {
      if (row === 0)
        report(
          "missing-column",
          `family.columns.${setting.name}`,
          `${table.name} has no such column any more.`,
          "Choose another on its card.",
        );
      continue;
    }
    const text = (table.rows[row][at] || table.columns[at].default).trim();
    // An empty cell leaves what all members share.
    if (text === "") continue;
    const read = cellValue(setting, text, things);
    if ("value" in read) own[setting.name] = read.value;
    else
      report(
        "bad-cell",
        `family.columns.${setting.name}`,
        `row ${row + 1} of ${table.name}: ${read.refused}`,
        "Correct the cell, or have all members share the setting.",
      );
  }
  return own;
}

function unfoldLinks(
  design: DesignOf,
  families: ReadonlyMap<string, readonly Unfolding[]>,
  problems: FamilyProblem[],
): { readonly links: Link[]; readonly linkAt: number[] } {
  const links: Link[] = [];
  const linkAt: number[] = [];
  design.links.forEach((link, at) => {
    const [from, to] = [families.get(link.from), families.get(link.to)];
    const add = (made: Link) => {
      links.push(made);
      linkAt.push(at);
    };
    if (!from && !to) return add(families.has(link.by ?? "") ? { ...link, ...carrierOf(link, families) } : link);
    const pairs = pairsOf(link, from, to);
    if (links.length + pairs.length > MOST_LINKS) {
      const element = design.elements.find(({ id }) => id === link.from)!;
      problems.push({
        code: "too-many-links",
        of: element,
        list: "elements",
        field: "name",
        message: `its links would come to more than ${MOST_LINKS.toLocaleString("en")}, one for each two members.`,
        hint: "Let the link lead to the member with the same key, or put a junction between.",
      });
      return;
    }
    for (const [a, b] of pairs) {
      const key = [a?.member.key, b?.member.key].filter((k) => k !== undefined).join("/");
      add({
        ...link,
        ...carrierOf(link, families, a?.member.key, b?.member.key),
        id: `${link.id}/${key}`,
        from: a?.element.id ?? link.from,
        to: b?.element.id ?? link.to,
        // Bends are drawn for the family, and members lie elsewhere.
        bends: [],
        streams: linkStreams(link.streams, a?.member.key, key),
      });
    }
  });
  return { links, linkAt };
}

/**
 * Who takes along a link of members, where those are a family too: the member with the key of that which the link
 * leaves, or of that to which it leads, or the only one there is.
 */
function carrierOf(
  { by }: Link,
  families: ReadonlyMap<string, readonly Unfolding[]>,
  ...keys: readonly (string | undefined)[]
): Pick<Link, "by"> {
  const members = families.get(by ?? "");
  if (!members) return {};
  const of = (key: string | undefined) => members.find(({ member }) => member.key === key);
  const found = of(keys[0]) ?? of(keys[1]) ?? (members.length === 1 ? members[0] : undefined);
  return found ? { by: found.element.id } : {};
}

/** Which member is decided once for a link, whichever it leads to; all else of the way has a stream of its own. */
const linkStreams = (streams: Readonly<Record<string, number>>, from: string | undefined, key: string) =>
  Object.fromEntries(
    Object.entries(streams).map(([setting, stream]) => {
      const decided = setting === "condition" || setting === "member";
      const by = decided ? from : key;
      return [setting, by === undefined ? stream : memberStream(stream, by)];
    }),
  );

type Pair = readonly [from: Unfolding | undefined, to: Unfolding | undefined];

function pairsOf(link: Link, from: readonly Unfolding[] | undefined, to: readonly Unfolding[] | undefined): Pair[] {
  if (!from) return to!.map((b) => [undefined, b]);
  if (!to) return from.map((a) => [a, undefined]);
  if (link.among !== "same") return from.flatMap((a) => to.map((b): Pair => [a, b]));
  return from.flatMap((a) => to.filter((b) => b.member.key === a.member.key).map((b): Pair => [a, b]));
}
