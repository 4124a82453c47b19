import { nameKey } from "../expression/index.ts";
import type { TableSource } from "../expression/tables.ts";
import type { Model, Node } from "./model.ts";
import { LENGTH, sameDimension, TIME } from "../quantity/index.ts";

/** How far it is, or how long it takes, from some elements to others, as a table says. */
export interface FromTo {
  readonly of: "metres" | "seconds";
  /** By the indices of the elements; undefined where the table says nothing. */
  between(from: number, to: number): number | undefined;
}

/** The names by which a table may know an element: its own, and of a member the key. */
const namesOf = ({ element, member }: Node): string[] =>
  [element.name, ...(member ? [member.key] : [])].map((name) => nameKey(name));

/**
 * Reads a matrix whose rows and columns are elements by their names, members of families also by their keys, and whose
 * cells are all times or all lengths; undefined where it is none. An empty cell says nothing.
 */
export function readFromTo(
  { nodes, texts }: Pick<Model, "nodes" | "texts">,
  { key, columns, rows, matrix }: TableSource,
): FromTo | undefined {
  if (!matrix || !key || matrix.type.kind !== "number") return undefined;
  const { dimension } = matrix.type;
  const of = sameDimension(dimension, TIME) ? "seconds" : sameDimension(dimension, LENGTH) ? "metres" : undefined;
  if (!of) return undefined;
  const rowOf = new Map<string, number>();
  for (let row = 0; row < rows; row++) {
    const value = key.values[row];
    const name =
      key.type.kind === "text" ? texts[value] : key.type.kind === "element" ? nodes[value]?.element.name : undefined;
    if (name !== undefined) rowOf.set(nameKey(name), row);
  }
  const columnOf = new Map(columns.filter((column) => column !== key).map((column) => [nameKey(column.name), column]));
  return {
    of,
    between(from, to) {
      const row = namesOf(nodes[from]).flatMap((name) => rowOf.get(name) ?? [])[0];
      const column = namesOf(nodes[to]).flatMap((name) => columnOf.get(name) ?? [])[0];
      const value = row === undefined ? undefined : column?.values[row];
      return value === undefined || Number.isNaN(value) ? undefined : value;
    },
  };
}
