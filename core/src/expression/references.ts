import { parseExpression } from "./parser.ts";
import { type Node, partsOf } from "./syntax.ts";

/**
 * Names that an expression reads something of, such as "Ticket line" in `Ticket line`.length, each once; none where
 * it cannot be read.
 */
export function references(source: string): string[] {
  const { node } = parseExpression(source);
  const names = new Set<string>();
  const walk = (n: Node): void => {
    if (n.kind !== "property") return partsOf(n).forEach(walk);
    let root = n.of;
    while (root.kind === "property") root = root.of;
    if (root.kind === "name") names.add(root.name);
    else walk(root);
  };
  if (node) walk(node);
  return [...names];
}
