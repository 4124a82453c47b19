import { type Design, type Element, type ElementKindName, elementSchema, entityTypeSchema, freshName, kindOf, type Link, linkSchema, type Point, type Study } from "@busy-harbor/core";

/** Edits of a design's draft: small functions used by pointer, keyboard and card alike. */

export const newId = (prefix: string): string => `${prefix}-${crypto.randomUUID().slice(0, 8)}`;

export function addElement(design: Design, kind: ElementKindName, at: Point): Element {
  const name = freshName(kindOf({ kind }).label, design.elements);
  const type = design.entityTypes[0]?.id ?? "";
  const element = elementSchema.parse({ kind, id: newId(kind), name, at, ...(kind === "arrivals" ? { entityType: type } : {}), ...(kind === "queue" ? { line: [[-6, 0]] } : {}) });
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

/** Removes elements and links; links that lose an end go too. */
export function remove(design: Design, ids: ReadonlySet<string>): void {
  design.elements = design.elements.filter((e) => !ids.has(e.id));
  const left = new Set(design.elements.map((e) => e.id));
  design.links = design.links.filter((l) => !ids.has(l.id) && left.has(l.from) && left.has(l.to));
}

export function move(design: Design, ids: ReadonlySet<string>, dx: number, dy: number): void {
  const shift = ([x, y]: Point): Point => [round(x + dx), round(y + dy)];
  for (const element of design.elements) if (ids.has(element.id)) element.at = shift(element.at);
  // Bends travel with a link whose two ends both move.
  for (const link of design.links) if (ids.has(link.from) && ids.has(link.to)) link.bends = link.bends.map(shift);
}

const round = (x: number) => Math.round(x * 1000) / 1000;

export function addEntityType(design: Design): void {
  const colours = ["#0B6E8A", "#D9512C", "#7A5C9E", "#B98A1F", "#4E7D3A", "#5A6F82"];
  design.entityTypes.push(entityTypeSchema.parse({ id: newId("type"), name: freshName("Customer", design.entityTypes), colour: colours[design.entityTypes.length % colours.length] }));
}

/** A copy keeps ids and random streams, so that the two meet the same randomness and measures match. Returns the copy's id. */
export function copyDesign(study: Study, id: string): string {
  const at = study.designs.findIndex((d) => d.id === id);
  const original = study.designs[at];
  const copy: Design = { ...(JSON.parse(JSON.stringify(original)) as Design), id: newId("design"), name: freshName(`${original.name}, copy`, study.designs), note: "", copiedFrom: original.id };
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
