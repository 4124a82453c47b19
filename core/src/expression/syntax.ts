export type BinaryOperator =
  "+" | "-" | "*" | "/" | "^" | "mod" | "=" | "<>" | "<" | "<=" | ">" | ">=" | "is" | "and" | "or";

/** A node of the syntax tree, with the characters it was read from. */
export type Node = { readonly start: number; readonly end: number } & (
  | { readonly kind: "number"; readonly value: number; readonly unit?: UnitExpression }
  | { readonly kind: "text"; readonly value: string }
  | { readonly kind: "yesNo"; readonly value: boolean }
  | { readonly kind: "name"; readonly name: string }
  | { readonly kind: "property"; readonly of: Node; readonly name: string }
  | { readonly kind: "index"; readonly of: Node; readonly keys: readonly Node[] }
  | { readonly kind: "call"; readonly name: string; readonly args: readonly Node[] }
  | { readonly kind: "list"; readonly items: readonly Node[] }
  | { readonly kind: "negate" | "not"; readonly of: Node }
  | { readonly kind: "binary"; readonly operator: BinaryOperator; readonly left: Node; readonly right: Node }
);

/** A unit as written after a number, for example `m/s`: each symbol with its power. */
export type UnitExpression = ReadonlyArray<{ readonly symbol: string; readonly power: number }>;

/** The parts that a node is made of, in their order. */
export function partsOf(node: Node): readonly Node[] {
  switch (node.kind) {
    case "property":
    case "negate":
    case "not":
      return [node.of];
    case "index":
      return [node.of, ...node.keys];
    case "call":
      return node.args;
    case "list":
      return node.items;
    case "binary":
      return [node.left, node.right];
    default:
      return [];
  }
}
