import type { DesignOf } from "../../document/design.ts";
import { kindOf } from "../../elements/index.ts";
import { type FamilySource, type Meaning, PLAIN, sameType, type TableSource } from "../../expression/index.ts";
import type { FamilyModel } from "../../model/model.ts";
import { elementSource } from "../../model/sources.ts";
import type { Unfolded } from "../families/unfold.ts";

/** What the names of elements stand for, and those of families; members have no names of their own. */
export function* elementMeanings(
  { design, members, families }: Pick<Unfolded, "design" | "members" | "families">,
  tables: readonly TableSource[],
  attributesOf: (element: DesignOf["elements"][number]) => ReadonlyMap<string, Meaning>,
): Generator<readonly [string, Meaning]> {
  for (const [index, element] of design.elements.entries()) {
    if (members.has(element.id)) continue;
    const properties = propertiesOf(element, attributesOf);
    yield [element.name, { type: { kind: "element" }, constant: index, properties }];
  }
  for (const [i, model] of families.entries()) {
    const family = sourceOf(model, design, tables, attributesOf);
    yield [
      family.name,
      {
        type: { kind: "element" },
        // As a whole it stands behind all elements: "any of them".
        constant: design.elements.length + i,
        properties: together(family),
        family,
      },
    ];
  }
}

/** What is read of a family as a whole: how many members it has, and plain numbers of them, added up. */
function together({ members, propertiesOf }: FamilySource): Map<string, Meaning> {
  const sum = (path: readonly string[], meanings: readonly Meaning[]): Meaning | undefined => {
    const [{ type, source, properties }] = meanings;
    if (properties) {
      const inner = [...properties.keys()].flatMap((name) => {
        const of = sum(
          [...path, name],
          meanings.map((m) => m.properties!.get(name)!),
        );
        return of ? [[name, of] as const] : [];
      });
      return inner.length > 0 ? { type, properties: new Map(inner) } : undefined;
    }
    if (!source || !sameType(type, PLAIN)) return undefined;
    const sources = meanings.map((m) => m.source!);
    return {
      type,
      source: {
        toldBy: sources.flatMap(({ toldBy = [] }) => toldBy),
        reader(running) {
          const reads = sources.map((one) => one.reader(running));
          return (token) => {
            let total = 0;
            for (const read of reads) total += read(token);
            return total;
          };
        },
      },
    };
  };
  const whole =
    members.length > 0
      ? sum(
          [],
          members.map((_, i): Meaning => ({ type: { kind: "element" }, properties: propertiesOf(i) })),
        )
      : undefined;
  return new Map([...(whole?.properties ?? []), ["members", { type: PLAIN, constant: members.length }]]);
}

/** A family as expressions read it. */
function sourceOf(
  { element, members }: FamilyModel,
  { elements }: DesignOf,
  tables: readonly TableSource[],
  attributesOf: (element: DesignOf["elements"][number]) => ReadonlyMap<string, Meaning>,
): FamilySource {
  const properties = new Map<number, Map<string, Meaning>>();
  return {
    id: element.id,
    name: element.name,
    members,
    table: tables.find(({ id }) => id === element.family!.table),
    propertiesOf(member) {
      let found = properties.get(member);
      if (!found) properties.set(member, (found = propertiesOf(elements[members[member]], attributesOf)));
      return found;
    },
  };
}

/** What is read of an element: what its kind has, and its attributes. */
const propertiesOf = (
  element: DesignOf["elements"][number],
  attributesOf: (element: DesignOf["elements"][number]) => ReadonlyMap<string, Meaning>,
): Map<string, Meaning> => new Map([...nested(element), ...attributesOf(element)]);

/** Dotted property names as nested meanings: "queue.length" becomes queue → length. */
function nested(element: DesignOf["elements"][number]): Map<string, Meaning> {
  const { properties, settable } = kindOf(element);
  const set = new Set<string>(settable?.(element) ?? []);
  const result = new Map<string, Meaning>();
  for (const [path, type] of Object.entries(properties)) {
    const [head, tail] = path.split(".");
    const leaf: Meaning = { type, source: elementSource(element.id, path, set.has(path)) };
    if (tail)
      result.set(head, {
        type: { kind: "element" },
        properties: new Map([...(result.get(head)?.properties ?? []), [tail, leaf]]),
      });
    else result.set(head, leaf);
  }
  return result;
}
