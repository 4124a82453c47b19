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

export interface User {
  /** What reads it. */
  readonly kind: "element" | "link" | "entity type" | "display" | "measure";
  /** Id of that. */
  readonly id: string;
  readonly name: string;
  /** Label of the setting. */
  readonly field: string;
}

/** The settings whose expressions read an element. */
export function usersOf(element: Element, design: Design): User[] {
  const key = nameKey(element.name);
  // Reading the expressions of a large model takes a while; most do not even contain the letters.
  const reads = (text: unknown) =>
    typeof text === "string" && nameKey(text).includes(key) && references(text).some((name) => nameKey(name) === key);
  const nameOf = (id: string) => design.elements.find((e) => e.id === id)?.name ?? "nowhere";
  return [
    ...design.elements.flatMap((e): User[] =>
      fieldsOf(e, kindOf(e).settings)
        .filter(({ text }) => reads(text))
        .map(({ field }) => ({ kind: "element", id: e.id, name: e.name, field: field.label })),
    ),
    ...design.links.flatMap((l: Link): User[] =>
      (Object.keys(LINK_SETTINGS) as (keyof typeof LINK_SETTINGS)[])
        .filter((f) => reads(l[f]))
        .map((f) => ({
          kind: "link",
          id: l.id,
          name: `${nameOf(l.from)} to ${nameOf(l.to)}`,
          field: LINK_SETTINGS[f].label,
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
