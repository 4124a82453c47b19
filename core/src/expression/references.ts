import { parseExpression } from "./parser.ts";
import type { Node } from "./syntax.ts";

/**
 * Names that an expression reads something of, such as "Ticket line" in `Ticket line`.length, each once; none where
 * it cannot be read.
 */
export function references(source: string): string[] {
  const { node } = parseExpression(source);
  const names = new Set<string>();
  const walk = (n: Node): void => {
    switch (n.kind) {
      case "property": {
        let root = n.of;
        while (root.kind === "property") root = root.of;
        if (root.kind === "name") names.add(root.name);
        else walk(root);
        break;
      }
      case "index":
        [n.of, ...n.keys].forEach(walk);
        break;
      case "call":
        n.args.forEach(walk);
        break;
      case "list":
        n.items.forEach(walk);
        break;
      case "negate":
      case "not":
        walk(n.of);
        break;
      case "binary":
        walk(n.left);
        walk(n.right);
        break;
    }
  };
  if (node) walk(node);
  return [...names];
}
