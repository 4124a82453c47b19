import type { Element, ElementKindName } from "../document/schema.ts";
import type { ElementKind } from "./kind.ts";
import type { FieldSpec } from "./fields.ts";

/** One setting of an element that holds an expression, wherever it is kept. */
export interface Setting {
  /** By which settings, streams and problems know it: `time`, or `breakdowns.b1.repair` in a row of a list. */
  readonly key: string;
  readonly field: FieldSpec;
  readonly text: string;
  /** Place inside the element's document. */
  readonly path: readonly (string | number)[];
  /** The object that has it, and its name there. */
  readonly holder: Record<string, unknown>;
  /** Whether the element as it is set has a use for it. */
  readonly used: boolean;
}

interface Row {
  readonly id: string;
}

/** All settings of an element that hold expressions. */
export function settingsOf(
  element: Element,
  { fields, lists = [] }: Pick<ElementKind<ElementKindName>, "fields" | "lists">,
): Setting[] {
  const holder = element as unknown as Record<string, unknown>;
  const found = fields.map((field): Setting => ({
    key: field.name,
    field,
    text: String(holder[field.name] ?? ""),
    path: [field.name],
    holder,
    used: field.used?.(holder) ?? true,
  }));
  for (const list of lists) {
    const used = list.used?.(holder) ?? true;
    (holder[list.name] as (Row & Record<string, unknown>)[]).forEach((row, i) => {
      for (const field of list.fields) {
        found.push({
          key: `${list.name}.${row.id}.${field.name}`,
          field,
          text: String(row[field.name] ?? ""),
          path: [list.name, i, field.name],
          holder: row,
          used: used && (field.used?.(row) ?? true),
        });
      }
    });
  }
  return found;
}
