import { type Checked, PLAIN, type ValueType } from "../expression/index.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { expression, type ExpressionSetting } from "../settings/setting.ts";

/** A list, a table, a family, or an element in whose line entities stand. */
export const collection = (label: string, help: string): ExpressionSetting =>
  expression(label, help, PLAIN, { any: "collection", entity: true });

/** What one of a collection is; undefined where something else is named. */
export function typeOfEach({ type, list, constant, tables }: Checked, elements: number): ValueType | undefined {
  if (type.kind === "list" && list) return type.of;
  if (type.kind === "table") return { kind: "row", table: { id: tables[0]?.table ?? "", name: "the table" } };
  if (type.kind === "element")
    return constant !== undefined && constant >= elements ? { kind: "element" } : { kind: "entity" };
  return undefined;
}

/** Whether a collection is who stands in a line, which is another each time. */
export const isLine = ({ type, constant }: Checked, elements: number): boolean =>
  type.kind === "element" && !(constant !== undefined && constant >= elements);

/** How many there are of a collection, and the i-th, from 0. */
export function valuesOf(
  checked: Checked,
  { model, expressions }: Lowering,
  id: string,
  field: string,
): { readonly length: number; valueAt(i: number, token: number): number } {
  const { type, list, constant } = checked;
  if (list) return { length: list.length, valueAt: list.read(expressions.environment(0, id, field)) };
  if (type.kind === "table") {
    const table = model.tables.find((one) => one.id === checked.tables[0]?.table);
    return { length: table?.rows ?? 0, valueAt: (i) => i };
  }
  const members = model.families.list[(constant ?? 0) - model.nodes.length]?.members ?? [];
  return { length: members.length, valueAt: (i) => members[i] };
}
