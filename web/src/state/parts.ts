import {
  type Calendar,
  calendarSchema,
  type Design,
  elementSchema,
  type Element,
  entityTypeSchema,
  freshName,
  kindOf,
  type Link,
  linkSchema,
  mapMentions,
  type Point,
} from "@busy-harbor/core";
import { z } from "zod";
import { linkRefusal, newId, placed } from "./edits.ts";
import { mentionedBy } from "./mentions.ts";

/** A part of a design on the clipboard: elements, the links among them, and those that led out of it. */
const partSchema = z.strictObject({
  format: z.literal("busy-harbor-part"),
  version: z.literal(1),
  elements: z.array(elementSchema).min(1).max(20_000),
  links: z.array(linkSchema).max(40_000),
  /** Links with one end outside, and the outer end's name. */
  outward: z.array(z.strictObject({ link: linkSchema, outside: z.enum(["from", "to"]), name: z.string() })).max(40_000),
  /** Entity types that its elements name. */
  entityTypes: z.array(entityTypeSchema),
  /** Names of elements outside that its elements name, such as resources, by their ids. */
  named: z.record(z.string(), z.string()).default({}),
  /** Calendars that its elements keep. */
  calendars: z.array(calendarSchema).default([]),
});

export type Part = z.infer<typeof partSchema>;

export function cutOut(
  design: Design,
  ids: ReadonlySet<string>,
  calendars: readonly Calendar[] = [],
): Part | undefined {
  const elements = design.elements.filter((e) => ids.has(e.id));
  if (elements.length === 0) return undefined;
  const nameOf = new Map(design.elements.map((e) => [e.id, e.name]));
  const mentions = mentionedBy(elements);
  return {
    format: "busy-harbor-part",
    version: 1,
    elements,
    links: design.links.filter((l) => ids.has(l.from) && ids.has(l.to)),
    outward: design.links.flatMap((link) => {
      const outside = ids.has(link.from) === ids.has(link.to) ? undefined : ids.has(link.from) ? "to" : "from";
      return outside ? [{ link, outside, name: nameOf.get(link[outside]) ?? "" } as const] : [];
    }),
    entityTypes: design.entityTypes.filter((t) => mentions.types.has(t.id)),
    named: Object.fromEntries(
      [...mentions.elements].filter((id) => !ids.has(id)).map((id) => [id, nameOf.get(id) ?? ""]),
    ),
    calendars: calendars.filter((c) => mentions.calendars.has(c.id)),
  };
}

export const writePart = (part: Part): string => JSON.stringify(part);

/** The part a text holds, or undefined if it holds none. */
export function readPart(text: string): Part | undefined {
  if (!text.startsWith("{")) return undefined;
  try {
    const read = partSchema.safeParse(JSON.parse(text));
    return read.success ? read.data : undefined;
  } catch {
    return undefined;
  }
}

export interface Pasted {
  readonly ids: readonly string[];
  /** Outward links whose outer end is in this design too, their ends renamed to those here. */
  readonly reconnectable: readonly Link[];
}

/**
 * Adds a copy of a part, moved by an offset: new ids, free names and streams of
 * its own. The links among its elements come with it, and entity types and `calendars` that it needs and
 * that are not here.
 */
export function paste(design: Design, part: Part, [dx, dy]: Point, calendars: Calendar[] = []): Pasted {
  const newIds = new Map<string, string>();
  const groups = new Map<string, string>();
  const shift = ([x, y]: Point): Point => placed([x + dx, y + dy]);
  for (const original of part.elements) {
    const id = newId(original.kind);
    newIds.set(original.id, id);
    if (original.group && !groups.has(original.group)) groups.set(original.group, newId("group"));
    const copy: Element = {
      ...structuredClone(original),
      id,
      name: nameFor(original.name, design.elements),
      at: shift(original.at),
      group: groups.get(original.group) ?? "",
      locked: false,
      streams: {},
    };
    design.elements.push(copy);
  }
  const here = (id: string, name: string) =>
    design.elements.find((e) => e.id === id) ?? design.elements.find((e) => e.name === name);
  // What the elements name is the copy of it, else what is here by that id or name.
  for (const id of newIds.values()) {
    const copy = design.elements.find((e) => e.id === id)!;
    mapMentions(copy, kindOf(copy).settings, (to, other) => {
      if (to === "entity type") return typeFor(design, part, other);
      if (to === "element" || to === "resource")
        return newIds.get(other) ?? here(other, part.named[other] ?? "")?.id ?? other;
      // Tables are the study's.
      return to === "table" ? other : calendarFor(calendars, part, other);
    });
  }
  for (const link of part.links)
    design.links.push({
      ...structuredClone(link),
      id: newId("link"),
      from: newIds.get(link.from)!,
      to: newIds.get(link.to)!,
      bends: link.bends.map(shift),
      streams: {},
      ...(link.by === undefined ? {} : { by: newIds.get(link.by) ?? link.by }),
    });
  const reconnectable = part.outward.flatMap(({ link, outside, name }): Link[] => {
    const outer = here(link[outside], name);
    const inner = design.elements.find((e) => e.id === newIds.get(link[outside === "to" ? "from" : "to"]));
    if (!outer || !inner || (outside === "to" ? linkRefusal(inner, outer) : linkRefusal(outer, inner))) return [];
    const ends = outside === "to" ? { from: inner.id, to: outer.id } : { from: outer.id, to: inner.id };
    return [{ ...structuredClone(link), id: newId("link"), ...ends, bends: [], streams: {} }];
  });
  return { ids: [...newIds.values()], reconnectable };
}

/** The name itself where it is free, else with the next number. */
const nameFor = (name: string, taken: readonly { readonly name: string }[]) =>
  taken.some((t) => t.name === name) ? freshName(name.replace(/ \d+$/, ""), taken) : name;

function calendarFor(calendars: Calendar[], part: Part, id: string): string {
  const calendar = part.calendars.find((c) => c.id === id);
  if (!calendar || calendars.some((c) => c.id === id)) return id;
  const alike = calendars.find((c) => c.name === calendar.name && c.gives === calendar.gives);
  if (alike) return alike.id;
  calendars.push(structuredClone(calendar));
  return id;
}

function typeFor(design: Design, part: Part, id: string): string {
  if (design.entityTypes.some((t) => t.id === id)) return id;
  const type = part.entityTypes.find((t) => t.id === id);
  if (!type) return id;
  const alike = design.entityTypes.find((t) => t.name === type.name);
  if (alike) return alike.id;
  design.entityTypes.push({ ...structuredClone(type), streams: {} });
  return id;
}
