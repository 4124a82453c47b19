import type { StudyOf } from "../../document/study.ts";
import type { ElementBase } from "../../document/element.ts";
import { CONVEYOR_DEFAULTS, type Link, LINK_SETTINGS } from "../../document/link.ts";
import { kindOf } from "../../elements/index.ts";
import type { Checked } from "../../expression/index.ts";
import type { Route, WayNetwork } from "../../movement/network.ts";
import type { Node, Way } from "../../model/model.ts";
import type { ExpressionSetting } from "../../settings/setting.ts";
import type { Unfolded } from "../families/unfold.ts";
import { linkPoints, polylineLength } from "../geometry.ts";
import { checkField } from "./field.ts";
import { knowingMember } from "./members.ts";
import type { Path, Problems } from "./problems.ts";
import type { Scopes, ScopesWithTables } from "./scopes.ts";

type Takes = Link["takes"];
type Aside = Exclude<Takes, "done">;

/** The links of a design as ways between its elements, by the index of the element at either end. */
export interface Network {
  readonly ways: readonly Way[];
  waysOf(index: number): Pick<Node, "out" | "in" | "turnedAway" | "scrapped" | "parts">;
}

/** Who takes links besides those who are done, and where such come from. */
const ASIDE: Readonly<Record<Aside, { readonly who: string; readonly how: string }>> = {
  "turned away": {
    who: "turned away",
    how: "Let its entities be lost when it is full, not join, or give up waiting; or make this a way for those who are done.",
  },
  scrapped: {
    who: "scrapped",
    how: "Let a breakdown scrap what is worked on; or make this a way for those who are done.",
  },
  parts: {
    who: "set free",
    how: "Only a split has parts or copies; make this a way for those who are done.",
  },
};

export function readLinks(
  { design, members, linkAt, families }: Unfolded,
  scopes: ScopesWithTables,
  roads: WayNetwork | undefined,
  calendars: StudyOf["calendars"],
  problems: Problems,
): Network {
  const indexById = new Map(design.elements.map((element, index) => [element.id, index]));
  const ways: Way[] = [];
  const out: Way[][] = design.elements.map(() => []);
  const into: Way[][] = design.elements.map(() => []);
  const aside: Readonly<Record<Aside, Map<number, Way>>> = {
    "turned away": new Map(),
    scrapped: new Map(),
    parts: new Map(),
  };
  design.links.forEach((link, i) => {
    const path = ["links", i];
    const ends = endsOf(link, indexById, problems, path);
    if (!ends) return;
    const [from, to] = ends;
    const [origin, target] = [design.elements[from], design.elements[to]];
    checkEnds(link, origin, target, problems, path);
    const group = linkAt?.[i] ?? i;
    const member = members.get(target.id);
    const known = member ? knowingMember(scopes, member) : scopes;
    const taken = link.kind === "carried" || link.kind === "escorted";
    const carriers = taken ? carriersOf(link, design.elements, families, problems, path) : undefined;
    if (link.kind === "escorted" && link.how === "carries" && carriers) checkBearers(carriers, link, problems, path);
    const { over, walks } = (carriers ?? {}) as { readonly over?: string; readonly walks?: string };
    const goesOverWays = link.kind === "ways" || over === "ways" || walks === "over ways";
    const used = usedSettings(link, origin, member !== undefined);
    const settings = readSettings(link, used, scopes, known, problems, path);
    const quickestAt = settings.get("quickestAt")?.constant;
    const route = goesOverWays ? routeOf(link, [origin, target], roads, quickestAt, problems, path) : undefined;
    if (route && carriers && roads) checkReach(link, [carriers, origin, target], roads, problems, path);
    const way: Way = {
      index: ways.length,
      link,
      group,
      from,
      to,
      drawnLength: route?.length ?? polylineLength(linkPoints(link, origin, target)),
      ...(route ? { route } : {}),
      settings,
    };
    if (link.kind === "conveyor") checkConveyor(way, calendars, problems, path);
    ways.push(way);
    into[to].push(way);
    if (link.takes === "done") out[from].push(way);
    else if (mayTake(link, origin, aside[link.takes].get(from), group, problems, path))
      aside[link.takes].set(from, way);
  });
  return {
    ways,
    waysOf: (index) => ({
      out: out[index],
      turnedAway: aside["turned away"].get(index),
      scrapped: aside.scrapped.get(index),
      parts: aside.parts.get(index),
      in: into[index],
    }),
  };
}

/** A conveyor has a length, and a calendar that there is. */
function checkConveyor(
  { link, settings, drawnLength }: Way,
  calendars: StudyOf["calendars"],
  problems: Problems,
  path: Path,
): void {
  if ((settings.get("length")?.constant ?? drawnLength) === 0)
    problems.add(
      "no-length",
      [...path, "length"],
      { id: link.id, field: "length" },
      "A conveyor needs a length.",
      "Give it one on its card, or move its ends apart.",
    );
  if (link.calendar && !calendars.some(({ id }) => id === link.calendar))
    problems.add(
      "missing-calendar",
      [...path, "calendar"],
      { id: link.id, field: "calendar" },
      "The calendar by which it runs does not exist.",
      "Choose another on its card.",
    );
  if ((link.beltEvery ?? "").trim() === "" || (link.beltRepair ?? "").trim() !== "") return;
  problems.add(
    "empty-setting",
    [...path, "beltRepair"],
    { id: link.id, field: "beltRepair" },
    `${LINK_SETTINGS.beltRepair.label} is empty.`,
    "Say how long it is down, or leave the time that it runs for empty.",
  );
}

/** The vehicles that carry who goes along a link, or the crew that escorts them. */
function carriersOf(
  link: Link,
  elements: readonly ElementBase[],
  families: Unfolded["families"],
  problems: Problems,
  path: Path,
): ElementBase | undefined {
  const found = elements.find(({ id }) => id === link.by);
  if (found && (link.kind === "escorted" ? found.kind === "crew" : kindOf(found).group === "transport")) return found;
  const family = families.find(({ element }) => element.id === link.by);
  problems.add(
    link.kind === "escorted" ? "no-escort" : "no-vehicle",
    [...path, "by"],
    { id: link.id, field: "by" },
    family
      ? `${family.element.name} has several members, and none has the key of one that this link leaves or leads to.`
      : link.kind === "escorted"
        ? "It is not said which crew escorts along this link."
        : "It is not said which vehicles carry along this link.",
    family
      ? "Let it lead from or to a family with the same keys, or have several in one in place of a family."
      : "Choose them on its card, or give it another kind.",
  );
  return undefined;
}

/** It takes two to carry somebody. */
function checkBearers(crew: ElementBase, link: Link, problems: Problems, path: Path): void {
  if (Number((crew as { readonly count?: string }).count) !== 1) return;
  problems.add(
    "too-few",
    [...path, "how"],
    { id: link.id, field: "how" },
    `Two carry who goes along this link, and ${crew.name} has one member.`,
    "Give the crew another, or have one push or go beside.",
  );
}

/** Vehicles must come from home to where they are asked for, and go on from where they brought their load. */
function checkReach(
  link: Link,
  [carriers, origin, target]: readonly [ElementBase, ElementBase, ElementBase],
  roads: WayNetwork,
  problems: Problems,
  path: Path,
): void {
  for (const [from, to] of [
    [carriers, origin],
    [target, origin],
    [target, carriers],
  ]) {
    if (roads.route(from.at, to.at)) continue;
    const off = [from, to].find(({ at }) => !roads.has(at));
    problems.add(
      "no-route",
      [...path, "by"],
      { id: link.id, field: "by" },
      off
        ? `No walkway or road comes to ${off.name}.`
        : `No way leads ${carriers.name} from ${from.name} to ${to.name} over the walkways and roads.`,
      off ? "Draw one that begins, ends or passes there." : "Join them: ways meet where they share a point.",
    );
    return;
  }
}

/** The shortest way from one element to the other over those that are drawn, or the quickest at a speed. */
function routeOf(
  link: Link,
  [origin, target]: readonly [ElementBase, ElementBase],
  roads: WayNetwork | undefined,
  quickestAt: number | undefined,
  problems: Problems,
  path: Path,
): Route | undefined {
  const route = roads?.route(origin.at, target.at, quickestAt);
  if (route) return route;
  const off = [origin, target].find(({ at }) => !roads?.has(at));
  problems.add(
    "no-route",
    [...path, "kind"],
    { id: link.id, field: "kind" },
    off
      ? `No walkway or road comes to ${off.name}.`
      : `No way leads from ${origin.name} to ${target.name} over the walkways and roads.`,
    off ? "Draw one that begins, ends or passes there." : "Join them: ways meet where they share a point.",
  );
  return undefined;
}

function endsOf(
  link: Link,
  indexById: ReadonlyMap<string, number>,
  problems: Problems,
  path: Path,
): readonly [from: number, to: number] | undefined {
  const from = indexById.get(link.from);
  const to = indexById.get(link.to);
  if (from !== undefined && to !== undefined) return [from, to];
  const end = from === undefined ? "from" : "to";
  problems.add(
    "missing-element",
    [...path, end],
    { id: link.id, field: end },
    `This link ${end === "from" ? "leaves" : "leads to"} an element that does not exist ("${link[end]}").`,
    "Draw the link again, or delete it.",
  );
  return undefined;
}

function checkEnds(link: Link, origin: ElementBase, target: ElementBase, problems: Problems, path: Path): void {
  if (!kindOf(target).hasWayIn)
    problems.add(
      "no-way-in",
      [...path, "to"],
      { id: link.id, field: "to" },
      `A link leads into ${target.name}, but nothing enters ${kindOf(target).plural.toLowerCase()}.`,
      "Delete the link, or draw it the other way round.",
    );
  if (!kindOf(origin).hasWayOut)
    problems.add(
      "no-way-out-of-kind",
      [...path, "from"],
      { id: link.id, field: "from" },
      `A link leaves ${origin.name}, but nothing goes on from ${kindOf(origin).plural.toLowerCase()}.`,
      "Delete the link, or draw it the other way round.",
    );
}

/** The settings for which a link has a use, by its kind and how entities choose it. */
function usedSettings(
  { kind, takes, among }: Link,
  { wayOut }: ElementBase,
  toFamily: boolean,
): readonly ExpressionSetting[] {
  const chosenBy = { share: LINK_SETTINGS.share, condition: LINK_SETTINGS.condition, cheapest: LINK_SETTINGS.cost };
  return [
    ...(kind === "timed" ? [LINK_SETTINGS.time] : []),
    ...(kind === "ways" ? [LINK_SETTINGS.quickestAt] : []),
    ...(kind === "walkway" || kind === "conveyor" ? [LINK_SETTINGS.length] : []),
    ...(kind === "conveyor" ? OF_CONVEYOR : []),
    ...(toFamily && among === "named" ? [LINK_SETTINGS.member] : []),
    ...(takes === "done" && wayOut && wayOut in chosenBy ? [chosenBy[wayOut as keyof typeof chosenBy]] : []),
  ];
}

const OF_CONVEYOR = [
  LINK_SETTINGS.radius,
  LINK_SETTINGS.beltSpeed,
  LINK_SETTINGS.beltRoom,
  LINK_SETTINGS.precedence,
  LINK_SETTINGS.beltStands,
  LINK_SETTINGS.beltEvery,
  LINK_SETTINGS.beltRepair,
];

const OF_MEMBER: ReadonlySet<string> = new Set(["time", "length", "cost"]);

function readSettings(
  link: Link,
  settings: readonly ExpressionSetting[],
  scopes: Scopes,
  /** Where the member that a way leads to is at hand. */
  known: Scopes,
  problems: Problems,
  path: Path,
): ReadonlyMap<string, Checked> {
  const read = new Map<string, Checked>();
  for (const setting of settings) {
    const { [setting.name]: initial = "" } = CONVEYOR_DEFAULTS as Readonly<Record<string, string>>;
    const text = link[setting.name as keyof typeof LINK_SETTINGS] ?? initial;
    // What decides among links is asked once for all members.
    const scope = OF_MEMBER.has(setting.name) ? known : scopes;
    const checked = checkField(text, setting, scope, problems, [...path, setting.name], link.id);
    if (checked) read.set(setting.name, checked);
  }
  return read;
}

/** Whether there are some who take a link that is not for those who are done, and no other link takes them. */
function mayTake(
  link: Link,
  origin: ElementBase,
  taken: Way | undefined,
  group: number,
  problems: Problems,
  path: Path,
): boolean {
  const takes = link.takes as Aside;
  const { who, how } = ASIDE[takes];
  const where = { id: link.id, field: "takes" };
  if (!kindOf(origin).aside?.[takes]?.(origin)) {
    problems.add(
      "none-turned-away",
      [...path, "takes"],
      where,
      `No one is ${who} at ${origin.name}, so no one takes this link.`,
      how,
      "warning",
    );
    return false;
  }
  if (!taken) return true;
  if (taken.group === group) {
    problems.add(
      "member-not-told",
      [...path, "takes"],
      where,
      `Those ${who} at ${origin.name} have one place to go, and this link leads to several members of a family.`,
      "Lead it to a junction, and from there to the family.",
    );
    return false;
  }
  problems.add(
    "turned-away-twice",
    [...path, "takes"],
    where,
    `${origin.name} has more than one way for those ${who}.`,
    "Keep one; a junction after it can tell them apart.",
  );
  return false;
}
