import { type Design, type Element, kindOf, type Link, LINK_FIELDS, nameKey, references } from "@busy-harbor/core";

export interface User {
  /** Id of the element or link whose setting it is. */
  readonly id: string;
  readonly name: string;
  /** Label of the setting. */
  readonly field: string;
}

/** The settings whose expressions read an element. */
export function usersOf(element: Element, design: Design): User[] {
  const key = nameKey(element.name);
  // Reading the expressions of a large model takes a while; most do not even contain the letters.
  const reads = (text: unknown) => typeof text === "string" && nameKey(text).includes(key) && references(text).some((name) => nameKey(name) === key);
  const nameOf = (id: string) => design.elements.find((e) => e.id === id)?.name ?? "nowhere";
  return [
    ...design.elements.flatMap((e): User[] =>
      kindOf(e).fields.filter((f) => reads((e as unknown as Record<string, unknown>)[f.name])).map((f) => ({ id: e.id, name: e.name, field: f.label })),
    ),
    ...design.links.flatMap((l: Link): User[] =>
      (Object.keys(LINK_FIELDS) as (keyof typeof LINK_FIELDS)[]).filter((f) => reads(l[f])).map((f) => ({ id: l.id, name: `${nameOf(l.from)} to ${nameOf(l.to)}`, field: LINK_FIELDS[f].label })),
    ),
  ];
}
