import type { DesignOf } from "../../document/design.ts";
import { nameKey } from "../../expression/index.ts";
import type { Problems } from "./problems.ts";

/** Names and ids that a design uses must tell its things apart. */
export function checkNames(design: DesignOf, problems: Problems): void {
  const ids = new Set<string>();
  const keys = new Map<string, string>([
    ["clock", "the clock"],
    ["entity", "the entity"],
  ]);
  const check = (items: readonly { readonly id: string; readonly name?: string }[], list: string) =>
    items.forEach((item, i) => {
      if (ids.has(item.id))
        problems.add(
          "duplicate-id",
          [list, i, "id"],
          { id: item.id, field: "id" },
          `The id "${item.id}" is used twice.`,
          "Give each element, link and entity type an id of its own.",
        );
      ids.add(item.id);
      if (item.name === undefined) return;
      const key = nameKey(item.name);
      const other = keys.get(key);
      if (key === "" || other) {
        problems.add(
          "duplicate-name",
          [list, i, "name"],
          { id: item.id, field: "name" },
          other
            ? `"${item.name}" reads the same as the name of ${other}.`
            : `"${item.name}" has no letter or digit in it.`,
          "Choose another name, so that expressions can tell them apart.",
        );
      }
      keys.set(key, `"${item.name}"`);
    });
  check(design.entityTypes, "entityTypes");
  check(design.elements, "elements");
  check(design.links, "links");
  check(
    design.measures.map(({ id }) => ({ id })),
    "measures",
  );
}

/** Names of the study's own things, tables and variables: each is told that reads as another, or a design's, does. */
export class StudyNames {
  private readonly taken: Map<string, string>;

  constructor(others: Iterable<{ readonly name: string }>) {
    this.taken = new Map([
      ["clock", "the clock"],
      ["entity", "the entity"],
      ["row", "the row that is looked at"],
    ]);
    for (const { name } of others) this.taken.set(nameKey(name), `"${name}"`);
  }

  /** Takes the name of the i-th of a list; whether it can be told from all before it. */
  take(list: string, i: number, { id, name }: { readonly id: string; readonly name: string }, problems: Problems) {
    const key = nameKey(name);
    const other = this.taken.get(key);
    const isFree = key !== "" && other === undefined;
    if (!isFree)
      problems.add(
        "duplicate-name",
        [list, i, "name"],
        { id, field: "name" },
        other ? `"${name}" reads the same as the name of ${other}.` : `"${name}" has no letter or digit in it.`,
        "Choose another name, so that expressions can tell them apart.",
      );
    this.taken.set(key, `"${name}"`);
    return isFree;
  }
}
