import { parseExpression } from "./parser.ts";
import { nameKey } from "./scope.ts";
import { type Node, partsOf } from "./syntax.ts";

/** A name as it is written in an expression: bare where its letters and digits alone say it, else in back quotes. */
export const writeName = (name: string): string =>
  /^\p{L}[\p{L}\p{N}]*$/u.test(name) ? name : name.includes("`") ? name.replace(/[^\p{L}\p{N}]/gu, "") : `\`${name}\``;

/** Every place where an expression says a name by itself, of what it is about or a function's arguments. */
function namesOf(node: Node | undefined): (Node & { kind: "name" })[] {
  if (!node) return [];
  return node.kind === "name" ? [node] : partsOf(node).flatMap(namesOf);
}

/** The names that an expression says, by their keys. */
export const namesIn = (source: string): ReadonlySet<string> =>
  new Set(namesOf(parseExpression(source).node).map(({ name }) => nameKey(name)));

/**
 * The expression with every use of a name written as another; the text itself where there is none, or it cannot be
 * read.
 */
export function renameIn(source: string, from: string, to: string): string {
  const key = nameKey(from);
  // Reading an expression takes a while; most do not even contain the letters.
  if (!nameKey(source).includes(key)) return source;
  return namesOf(parseExpression(source).node)
    .filter(({ name }) => nameKey(name) === key)
    .sort((a, b) => b.start - a.start)
    .reduce((text, { start, end }) => text.slice(0, start) + writeName(to) + text.slice(end), source);
}
