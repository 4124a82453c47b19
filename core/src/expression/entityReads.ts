import { parseExpression } from "./parser.ts";
import { nameKey } from "./scope.ts";
import type { Node } from "./syntax.ts";

/** Entity types, by index. */
export type Types = ReadonlySet<number>;

/** What a name stands for: the index of an entity type, or of an element. */
export type Named = (name: string) => number | undefined;

/** A place in an expression that reads an attribute of the entity at hand, and the types that it may be of there. */
export interface AttributeRead {
  readonly attribute: string;
  readonly start: number;
  readonly end: number;
  readonly types: Types;
}

const isEntity = (node: Node): boolean => node.kind === "name" && nameKey(node.name) === "entity";
const isTypeOfEntity = (node: Node): boolean =>
  node.kind === "property" && isEntity(node.of) && nameKey(node.name) === "type";
const both = (a: Types, b: Types): Types => new Set([...a, ...b]);

/** Types that an entity may be of where a condition holds, and where it does not, out of those it may be of before. */
export function narrow(node: Node, types: Types, typeNamed: Named): { readonly yes: Types; readonly no: Types } {
  if (node.kind === "yesNo") return node.value ? { yes: types, no: new Set() } : { yes: new Set(), no: types };
  if (node.kind === "not") {
    const { yes, no } = narrow(node.of, types, typeNamed);
    return { yes: no, no: yes };
  }
  if (node.kind !== "binary") return { yes: types, no: types };
  const { operator, left, right } = node;
  if (operator === "and") {
    const first = narrow(left, types, typeNamed);
    const second = narrow(right, first.yes, typeNamed);
    return { yes: second.yes, no: both(first.no, second.no) };
  }
  if (operator === "or") {
    const first = narrow(left, types, typeNamed);
    const second = narrow(right, first.no, typeNamed);
    return { yes: both(first.yes, second.yes), no: second.no };
  }
  if (operator === "is" || operator === "=" || operator === "<>") {
    const other = isTypeOfEntity(left) ? right : isTypeOfEntity(right) ? left : undefined;
    const type = other?.kind === "name" ? typeNamed(other.name) : undefined;
    if (type === undefined) return { yes: types, no: types };
    const equal = new Set([...types].filter((t) => t === type));
    const unequal = new Set([...types].filter((t) => t !== type));
    return operator === "<>" ? { yes: unequal, no: equal } : { yes: equal, no: unequal };
  }
  return { yes: types, no: types };
}

/**
 * The attributes of the entity at hand that an expression reads, each with the types that the entity may be of there:
 * what a test of the type leaves out (`if(entity.type is Crate, entity.size, 1)`) does not count. None where it
 * cannot be parsed.
 */
export function attributeReads(source: string, types: Types, typeNamed: Named): AttributeRead[] {
  const reads: AttributeRead[] = [];
  const walk = (node: Node, at: Types): void => {
    switch (node.kind) {
      case "property":
        if (!isEntity(node.of)) walk(node.of, at);
        else if (!["type", "age"].includes(nameKey(node.name)))
          reads.push({ attribute: node.name, start: node.start, end: node.end, types: at });
        break;
      case "index":
        [node.of, ...node.keys].forEach((n) => walk(n, at));
        break;
      case "list":
        node.items.forEach((n) => walk(n, at));
        break;
      case "negate":
      case "not":
        walk(node.of, at);
        break;
      case "call": {
        const [condition, ...outcomes] = node.args;
        if (node.name !== "if" || !condition) {
          node.args.forEach((n) => walk(n, at));
          break;
        }
        const { yes, no } = narrow(condition, at, typeNamed);
        walk(condition, at);
        outcomes.forEach((n, i) => walk(n, i === 0 ? yes : no));
        break;
      }
      case "binary": {
        walk(node.left, at);
        const { yes, no } = narrow(node.left, at, typeNamed);
        walk(node.right, node.operator === "and" ? yes : node.operator === "or" ? no : at);
        break;
      }
    }
  };
  const { node } = parseExpression(source);
  if (node) walk(node, types);
  return reads;
}

/** Types for which a condition may hold, and may not; all of them for both where it cannot be parsed. */
export function typesByCondition(
  source: string,
  types: Types,
  typeNamed: Named,
): { readonly yes: Types; readonly no: Types } {
  const { node } = parseExpression(source);
  return node ? narrow(node, types, typeNamed) : { yes: types, no: types };
}

/**
 * Elements that an expression may yield, each with the types of entities for which it may; undefined where that
 * cannot be told beforehand.
 */
export function typesByElement(
  source: string,
  types: Types,
  typeNamed: Named,
  elementNamed: Named,
): ReadonlyMap<number, Types> | undefined {
  const found = new Map<number, Types>();
  const walk = (node: Node, at: Types): boolean => {
    if (node.kind === "name") {
      const element = elementNamed(node.name);
      if (element === undefined) return false;
      found.set(element, both(found.get(element) ?? new Set(), at));
      return true;
    }
    if (node.kind !== "call" || node.name !== "if" || node.args.length !== 3) return false;
    const { yes, no } = narrow(node.args[0], at, typeNamed);
    return walk(node.args[1], yes) && walk(node.args[2], no);
  };
  const { node } = parseExpression(source);
  return node && walk(node, types) ? found : undefined;
}
