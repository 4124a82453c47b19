import {
  type Design,
  type Element,
  fieldsOf,
  kindOf,
  type Link,
  LINK_SETTINGS,
  nameKey,
  references,
} from "@busy-harbor/core";
import { remembered } from "../state/remembered.ts";

export interface User {
  /** What reads it. */
  readonly kind: "element" | "link" | "entity type" | "display" | "measure";
  /** Id of that. */
  readonly id: string;
  readonly name: string;
  /** Label of the setting. */
  readonly field: string;
}

/** Names that an expression reads, as they are compared. */
const namesIn = (text: unknown): ReadonlySet<string> =>
  new Set(typeof text === "string" ? references(text).map(nameKey) : []);

const namesByField = remembered((e: Element) =>
  fieldsOf(e, kindOf(e).settings).flatMap(({ field, text }) =>
    text === "" ? [] : [{ label: field.label, names: namesIn(text) }],
  ),
);

const namesByLinkField = remembered((l: Link) =>
  (Object.keys(LINK_SETTINGS) as (keyof typeof LINK_SETTINGS)[]).flatMap((f) =>
    l[f] === "" ? [] : [{ label: LINK_SETTINGS[f].label, names: namesIn(l[f]) }],
  ),
);

/** The settings whose expressions read an element. */
export function usersOf(element: Element, design: Design): User[] {
  const key = nameKey(element.name);
  const reads = (text: unknown) => namesIn(text).has(key);
  const nameOf = (id: string) => design.elements.find((e) => e.id === id)?.name ?? "nowhere";
  return [
    ...design.elements.flatMap((e): User[] =>
      namesByField(e)
        .filter(({ names }) => names.has(key))
        .map(({ label }) => ({ kind: "element", id: e.id, name: e.name, field: label })),
    ),
    ...design.links.flatMap((l): User[] =>
      namesByLinkField(l)
        .filter(({ names }) => names.has(key))
        .map(({ label }) => ({
          kind: "link",
          id: l.id,
          name: `${nameOf(l.from)} to ${nameOf(l.to)}`,
          field: label,
        })),
    ),
    ...design.entityTypes.flatMap((t) =>
      t.attributes
        .filter((a) => reads(a.value))
        .map((a): User => ({ kind: "entity type", id: t.id, name: t.name, field: a.name })),
    ),
    ...design.measures.flatMap((m): User[] =>
      ("value" in m && reads(m.value)) || ("condition" in m && reads(m.condition))
        ? [{ kind: "measure", id: m.id, name: m.name, field: "measure" }]
        : [],
    ),
    ...design.displays.flatMap((d): User[] => {
      const texts = "rows" in d ? d.rows.map((row) => row.value) : "value" in d ? [d.value] : [];
      return texts.some(reads)
        ? [{ kind: "display", id: d.id, name: d.title || `The ${d.kind}`, field: "display" }]
        : [];
    }),
  ];
}
