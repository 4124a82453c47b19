import type { Element } from "@busy-harbor/core";

/** What an element names by id besides its links. */
interface Mentions {
  /** Each id is given to these, and what they return is put in its place. */
  readonly type: (id: string) => string;
  readonly element: (id: string) => string;
  readonly calendar: (id: string) => string;
}

/**
 * Replaces the ids that an element in a draft names: of entity types, other elements and calendars. Empty ones stay.
 */
export function mapMentions(element: Element, { type, element: other, calendar }: Mentions): void {
  const mapped = (map: (id: string) => string, id: string) => (id === "" ? id : map(id));
  switch (element.kind) {
    case "arrivals":
      element.entityType = mapped(type, element.entityType);
      for (const row of element.mix) row.entityType = mapped(type, row.entityType);
      element.profile = mapped(calendar, element.profile);
      break;
    case "join":
      element.carrier = mapped(type, element.carrier);
      element.makes = mapped(type, element.makes);
      break;
    case "split":
      element.makes = mapped(type, element.makes);
      break;
    case "gate":
      element.signal = mapped(other, element.signal);
      break;
  }
  if ("calendar" in element) element.calendar = mapped(calendar, element.calendar);
  if ("initial" in element) for (const row of element.initial) row.entityType = mapped(type, row.entityType);
  for (const row of [
    ...("needs" in element ? element.needs : []),
    ...("breakdowns" in element ? element.breakdowns : []),
  ])
    row.anyOf = row.anyOf.map((id) => mapped(other, id));
}

/** Ids that elements name, by what they are of. */
export function mentionsOf(elements: readonly Element[]): {
  readonly types: ReadonlySet<string>;
  readonly elements: ReadonlySet<string>;
  readonly calendars: ReadonlySet<string>;
} {
  const [types, others, calendars] = [new Set<string>(), new Set<string>(), new Set<string>()];
  const keep = (set: Set<string>) => (id: string) => {
    set.add(id);
    return id;
  };
  for (const element of elements)
    mapMentions(structuredClone(element), { type: keep(types), element: keep(others), calendar: keep(calendars) });
  return { types, elements: others, calendars };
}
