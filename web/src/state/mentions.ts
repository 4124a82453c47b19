import { type Element, kindOf, mentionsOf, type Target } from "@busy-harbor/core";

/** Ids that elements name, by what they are of. */
export function mentionedBy(elements: readonly Element[]): {
  readonly types: ReadonlySet<string>;
  readonly elements: ReadonlySet<string>;
  readonly calendars: ReadonlySet<string>;
  readonly tables: ReadonlySet<string>;
} {
  const sets = {
    types: new Set<string>(),
    elements: new Set<string>(),
    calendars: new Set<string>(),
    tables: new Set<string>(),
  };
  for (const element of elements)
    for (const { to, id } of mentionsOf(element, kindOf(element).settings)) sets[PLACE[to]].add(id);
  return sets;
}

const PLACE: Readonly<Record<Target | "resource", "types" | "elements" | "calendars" | "tables">> = {
  "entity type": "types",
  element: "elements",
  resource: "elements",
  "shift calendar": "calendars",
  "demand profile": "calendars",
  table: "tables",
};
