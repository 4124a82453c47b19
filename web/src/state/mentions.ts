import { type Element, kindOf, mentionsOf, type Target } from "@busy-harbor/core";

/** Ids that elements name, by what they are of. */
export function mentionedBy(elements: readonly Element[]): Readonly<Record<Place, ReadonlySet<string>>> {
  const sets: Record<Place, Set<string>> = {
    types: new Set(),
    elements: new Set(),
    calendars: new Set(),
    tables: new Set(),
    procedures: new Set(),
    measures: new Set(),
  };
  for (const element of elements)
    for (const { to, id } of mentionsOf(element, kindOf(element).settings)) sets[PLACE[to]].add(id);
  return sets;
}

type Place = "types" | "elements" | "calendars" | "tables" | "procedures" | "measures";

const PLACE: Readonly<Record<Target | "resource", Place>> = {
  "entity type": "types",
  element: "elements",
  resource: "elements",
  "shift calendar": "calendars",
  "demand profile": "calendars",
  table: "tables",
  procedure: "procedures",
  measure: "measures",
};
