import {
  type Design,
  type Element,
  type ElementKindName,
  type ElementOf,
  elementSchema,
  ENTITY_COLOURS,
  entityTypeSchema,
  freshName,
  kindOf,
  type Link,
  occurrencesOf,
  linkSchema,
  settingsIn,
  type Point,
  type Study,
} from "@busy-harbor/core";

/** Edits of a design's draft: small functions used by pointer, keyboard and card alike. */

export const newId = (prefix: string): string => `${prefix}-${crypto.randomUUID().slice(0, 8)}`;

export function addElement(design: Design, kind: ElementKindName, at: Point): Element {
  const name = freshName(kindOf({ kind }).label, design.elements);
  const { settings, fresh } = kindOf({ kind });
  const named = Object.fromEntries(
    settingsIn(settings).flatMap((setting) =>
      setting.form === "reference" && setting.first ? [[setting.name, design.entityTypes[0]?.id ?? ""]] : [],
    ),
  );
  const element = elementSchema.parse({
    kind,
    id: newId(kind),
    name,
    at,
    ...named,
    ...fresh,
  });
  design.elements.push(element);
  return element;
}

/** Why two elements cannot be linked, or undefined if they can. */
export function linkRefusal(from: Element, to: Element): string | undefined {
  if (!kindOf(from).hasWayOut) return `Nothing goes on from ${kindOf(from).plural.toLowerCase()}.`;
  if (!kindOf(to).hasWayIn) return `Nothing enters ${kindOf(to).plural.toLowerCase()}.`;
  return undefined;
}

export function addLink(design: Design, from: string, to: string): Link {
  const link = linkSchema.parse({ id: newId("link"), from, to });
  design.links.push(link);
  return link;
}

type Station = ElementOf<"station">;

export const isResource = (element: Pick<Element, "kind">): boolean => kindOf(element).group === "resources";

/** How many slots or units an element has, where that is a plain number; 1 for kinds without. */
export function unitsOf(element: Element): number {
  const { units } = kindOf(element);
  return units === undefined ? 1 : Number((element as unknown as Record<string, unknown>)[units]);
}

/** Whether something can be drawn from an element to another: a link, or that it is needed there. */
export const canLead = (element: Pick<Element, "kind">): boolean => kindOf(element).hasWayOut || isResource(element);

/**
 * Why an element cannot be led to another, by a link or, from a resource, by being needed there; undefined if it can.
 */
export function connectRefusal(from: Element, to: Element): string | undefined {
  if (!isResource(from)) return linkRefusal(from, to);
  return "needs" in to ? undefined : `Only work at stations needs resources; ${to.name} is none.`;
}

/**
 * Says how many of a resource work at a station needs, in a draft: an empty count is none. Phases
 * stay as they are unless told. Where the resource is one of several that would do, they share the count.
 */
export function setNeed(
  station: Station,
  resource: string,
  count: string,
  phases?: Station["needs"][number]["phases"],
): void {
  const need = station.needs.find((n) => n.anyOf.includes(resource));
  if (count.trim() === "") {
    if (!need) return;
    need.anyOf = need.anyOf.filter((id) => id !== resource);
    if (need.anyOf.length === 0) station.needs = station.needs.filter((n) => n !== need);
  } else if (need) Object.assign(need, { count }, phases ? { phases } : {});
  else
    station.needs.push({
      id: newId("n"),
      anyOf: [resource],
      count,
      which: "",
      can: "",
      times: "",
      phases: phases ?? ["work"],
    });
}

/** Takes ways away; those that began or ended at an element that goes stay where they are drawn. */
function removeRoads(design: Design, ids: ReadonlySet<string>, gone: readonly Element[]): number {
  if (!design.roads) return 0;
  const places = new Map(gone.map(({ id, at }) => [id, at]));
  const left = design.roads.filter(({ id }) => !ids.has(id));
  const removed = design.roads.length - left.length;
  for (const road of left) {
    const [from, to] = [places.get(road.from), places.get(road.to)];
    if (from) Object.assign(road, { from: "" }).points[0] = [...from];
    if (to) Object.assign(road, { to: "" }).points[road.points.length - 1] = [...to];
  }
  design.roads = left.length > 0 ? left : undefined;
  return removed;
}

export interface Removal {
  readonly removed: number;
  /** Elements that stayed because they are locked. */
  readonly locked: number;
  /** Names of the ends of links that now pass over a removed element. */
  readonly mended: ReadonlyArray<readonly [from: string, to: string]>;
}

/**
 * Removes elements and links. Where a removed element had one link in and one
 * out, the link in is led on to the element after; other links that lose an end go too.
 */
export function remove(design: Design, ids: ReadonlySet<string>): Removal {
  const gone = design.elements.filter((e) => ids.has(e.id) && !e.locked);
  const before = design.links.length;
  design.links = design.links.filter((l) => !ids.has(l.id));
  const cut = before - design.links.length + removeRoads(design, ids, gone);
  const mended = new Set<Link>();
  for (const { id } of gone) {
    const into = design.links.filter((l) => l.to === id);
    const out = design.links.filter((l) => l.from === id);
    design.links = design.links.filter((l) => l.from !== id && l.to !== id);
    for (const link of [...into, ...out]) mended.delete(link);
    const [a, b] = [into[0]?.from, out[0]?.to].map((end) => design.elements.find((e) => e.id === end));
    const plain = into.length === 1 && out.length === 1 && a && b && a !== b && a.id !== id && b.id !== id;
    if (!plain || linkRefusal(a, b) || design.links.some((l) => l.from === a.id && l.to === b.id)) continue;
    const [link] = into;
    link.to = b.id;
    link.bends = [...link.bends, ...out[0].bends];
    design.links.push(link);
    mended.add(link);
  }
  const goneIds = new Set(gone.map((e) => e.id));
  design.elements = design.elements.filter((e) => !goneIds.has(e.id));
  for (const measure of design.measures)
    if (measure.kind === "group") measure.elements = measure.elements.filter((id) => !goneIds.has(id));
  // Who could do with another resource does; who needs a deleted one alone says so as a problem.
  for (const element of design.elements) {
    for (const { setting, value, holder } of occurrencesOf(element, kindOf(element).settings)) {
      if (setting.form !== "resources") continue;
      const left = (value as string[]).filter((r) => !goneIds.has(r));
      if (left.length > 0 && left.length < (value as string[]).length) holder[setting.name] = left;
    }
  }
  const nameOf = (end: string) => design.elements.find((e) => e.id === end)?.name ?? "";
  return {
    removed: gone.length + cut,
    locked: design.elements.filter((e) => ids.has(e.id)).length,
    mended: [...mended].map((l) => [nameOf(l.from), nameOf(l.to)]),
  };
}

/** A place to the nearest millimetre (and never minus zero, which a file would not keep). */
export const placed = ([x, y]: Point): Point => [Math.round(x * 1000) / 1000 + 0, Math.round(y * 1000) / 1000 + 0];

export function addEntityType(design: Design): void {
  design.entityTypes.push(
    entityTypeSchema.parse({
      id: newId("type"),
      name: freshName("Customer", design.entityTypes),
      colour: ENTITY_COLOURS[design.entityTypes.length % ENTITY_COLOURS.length],
    }),
  );
}

/**
 * A copy keeps ids and random streams, so that the two meet the same randomness and measures match. Returns the
 * copy's id.
 */
export function copyDesign(study: Study, id: string): string {
  const at = study.designs.findIndex((d) => d.id === id);
  const original = study.designs[at];
  const copy: Design = {
    ...(JSON.parse(JSON.stringify(original)) as Design),
    id: newId("design"),
    name: freshName(`${original.name}, copy`, study.designs),
    note: "",
    copiedFrom: original.id,
  };
  study.designs.splice(at + 1, 0, copy);
  return copy.id;
}

/** What a new study begins with. */
export const emptyStudy = (name: string): unknown => ({
  format: "busy-harbor-study",
  version: 1,
  name,
  designs: [{ id: newId("design"), name: "Design 1", entityTypes: [{ id: newId("type"), name: "Customer" }] }],
});
