import { type Dimension, dimensionName, NUMBER, sameDimension } from "../quantity/index.ts";

/** The type of a value in the expression language. At run time every value but a list is one 64-bit number. */
export type ValueType =
  | { readonly kind: "number"; readonly dimension: Dimension }
  | { readonly kind: "text" }
  | { readonly kind: "yesNo" }
  | { readonly kind: "element" }
  | { readonly kind: "entity" }
  | { readonly kind: "entityType" }
  | { readonly kind: "table" }
  | { readonly kind: "row"; readonly table: { readonly id: string; readonly name: string } }
  | { readonly kind: "list"; readonly of: ValueType };

export const numberOf = (dimension: Dimension): ValueType => ({ kind: "number", dimension });
export const PLAIN: ValueType = numberOf(NUMBER);
export const TEXT: ValueType = { kind: "text" };
export const YES_NO: ValueType = { kind: "yesNo" };

export function sameType(a: ValueType, b: ValueType): boolean {
  if (a.kind === "number" && b.kind === "number") return sameDimension(a.dimension, b.dimension);
  if (a.kind === "list" && b.kind === "list") return sameType(a.of, b.of);
  if (a.kind === "row" && b.kind === "row") return a.table.id === b.table.id;
  return a.kind === b.kind;
}

export function typeName(type: ValueType): string {
  switch (type.kind) {
    case "number":
      return dimensionName(type.dimension);
    case "text":
      return "text";
    case "yesNo":
      return "yes or no";
    case "element":
      return "an element";
    case "entity":
      return "an entity";
    case "entityType":
      return "an entity type";
    case "table":
      return "a table";
    case "row":
      return `a row of ${type.table.name}`;
    case "list":
      return `a list, each ${typeName(type.of)}`;
  }
}

/** What is wrong in an expression: where (character offsets, end exclusive), what, and what to do. */
export interface ExpressionProblem {
  readonly start: number;
  readonly end: number;
  readonly message: string;
  readonly hint?: string;
  /** What to write in its place, where that is likely meant. */
  readonly fix?: string;
}
