import { parseExpression } from "./parser.ts";
import { nameKey } from "./scope.ts";
import type { Node } from "./syntax.ts";

/** A name as it is written in an expression: bare where its letters and digits alone say it, else in back quotes. */
export const writeName = (name: string): string =>
  /^\p{L}[\p{L}\p{N}]*$/u.test(name) ? name : name.includes("`") ? name.replace(/[^\p{L}\p{N}]/gu, "") : `\`${name}\``;

/**
 * The expression with every use of a name written as another; the text itself where there is none, or it cannot be
 * read.
 */
export function renameIn(source: string, from: string, to: string): string {
  const key = nameKey(from);
  // Reading an expression takes a while; most do not even contain the letters.
  if (!nameKey(source).includes(key)) return source;
  const { node } = parseExpression(source);
  const uses: Node[] = [];
  const walk = (n: Node): void => {
    switch (n.kind) {
      case "name":
        if (nameKey(n.name) === key) uses.push(n);
        break;
      case "property":
      case "negate":
      case "not":
        walk(n.of);
        break;
      case "index":
        [n.of, ...n.keys].forEach(walk);
        break;
      case "call":
        n.args.forEach(walk);
        break;
      case "list":
        n.items.forEach(walk);
        break;
      case "binary":
        walk(n.left);
        walk(n.right);
        break;
    }
  };
  if (node) walk(node);
  return uses
    .sort((a, b) => b.start - a.start)
    .reduce((text, { start, end }) => text.slice(0, start) + writeName(to) + text.slice(end), source);
}
