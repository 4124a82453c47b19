import type { Checking } from "./checking.ts";
import { closestName, type FamilySource, type Meaning } from "./scope.ts";
import type { Node } from "./syntax.ts";
import { constantTerm, fail, isPlain, type Term } from "./term.ts";
import { typeName, type ValueType } from "./types.ts";

const ELEMENT: ValueType = { kind: "element" };

/** The family that a node names, if it names one. */
export const familyNamed = (node: Node, { scope }: Checking): FamilySource | undefined =>
  node.kind === "name" ? scope.find(node.name)?.family : undefined;

/** `Bays[3]`, `Bays["North"]` or `Bays[entity.bay]`: a member, as an element. */
export function memberTerm(node: Node & { kind: "index" }, family: FamilySource, checking: Checking): Term {
  const position = positionTerm(node, family, checking);
  const { members } = family;
  if (position.constant !== undefined) return constantTerm(ELEMENT, members[position.constant]);
  return {
    type: ELEMENT,
    draws: position.draws,
    compile(environment) {
      const read = position.compile(environment);
      return (token) => members[read(token)] ?? Number.NaN;
    },
  };
}

/**
 * What is read of a member after a dot, as in `Bays[entity.bay].queue.length`; undefined where a node reads something
 * else.
 */
export function memberProperty(node: Node & { kind: "property" }, checking: Checking): Term | undefined {
  const path = [node];
  let of: Node = node.of;
  while (of.kind === "property") {
    path.unshift(of);
    of = of.of;
  }
  if (of.kind !== "index") return undefined;
  const family = familyNamed(of.of, checking);
  if (!family) return undefined;
  const { position, find } = memberFound(of, family, path, checking);
  const { type, source } = find(position.constant ?? 0);
  if (!source) return fail(node, `This is ${typeName(type)}, not a value.`, "Ask for one of its properties.");
  if (position.constant !== undefined) {
    checking.found.sources.push(source);
    return { type, draws: false, compile: (environment) => source.reader(environment.running) };
  }
  const sources = family.members.map((_, member) => find(member).source!);
  checking.found.sources.push(...sources);
  return {
    type,
    draws: position.draws,
    compile(environment) {
      const at = position.compile(environment);
      const reads = sources.map((one) => one.reader(environment.running));
      return (token) => {
        const read = reads[at(token)];
        return read ? read(token) : Number.NaN;
      };
    },
  };
}

/** Which member is meant, and what a path of properties stands for at each. */
function memberFound(
  of: Node & { kind: "index" },
  family: FamilySource,
  path: readonly (Node & { kind: "property" })[],
  checking: Checking,
) {
  const position = positionTerm(of, family, checking);
  const find = (member: number): Meaning => {
    let meaning: Meaning = { type: ELEMENT, properties: family.propertiesOf(member) };
    for (const step of path) meaning = propertyOf(step, meaning);
    return meaning;
  };
  return { position, find };
}

/** What is set of a member, as in `Bays[entity.bay].count`; undefined where a node names something else. */
export function memberTarget(
  node: Node & { kind: "property" },
  checking: Checking,
): { readonly position: Term; readonly of: readonly Meaning[] } | undefined {
  if (node.of.kind !== "index") return undefined;
  const family = familyNamed(node.of.of, checking);
  if (!family) return undefined;
  const { position, find } = memberFound(node.of, family, [node], checking);
  return { position, of: family.members.map((_, member) => find(member)) };
}

function propertyOf(node: Node & { kind: "property" }, { properties }: Meaning): Meaning {
  const found = [...(properties ?? [])].find(([name]) => name.toLowerCase() === node.name.toLowerCase());
  if (found) return found[1];
  const names = [...(properties?.keys() ?? [])];
  return fail(
    { start: node.end - node.name.length, end: node.end },
    `There is no ".${node.name}" here.`,
    names.length > 0 ? `There is ${names.map((x) => `.${x}`).join(", ")}.` : undefined,
    closestName(node.name, names),
  );
}

/** The place of a member in its family, from 0: by its number, its key, or its row. */
function positionTerm(node: Node & { kind: "index" }, family: FamilySource, checking: Checking): Term {
  const { name, members, table } = family;
  const [asked, ...more] = node.keys;
  if (more.length > 0) return fail(node, `${name} wants one key or number in the brackets.`);
  const key = checking.term(asked);
  const keyType = table?.key?.type;
  const isRow = key.type.kind === "row" && key.type.table.id === table?.id;
  const isKey =
    keyType !== undefined && key.type.kind === keyType.kind && (keyType.kind !== "number" || isPlain(key.type));
  if (!isRow && !isKey && !isPlain(key.type))
    return fail(
      asked,
      `${name} is asked by ${keyType && keyType.kind !== "number" ? `${typeName(keyType)} or ` : ""}a number; this is ${typeName(key.type)}.`,
    );
  const positionOf = isRow
    ? (row: number) => row
    : isKey
      ? (value: number) => table!.rowOf(value)
      : (number: number) => (Number.isInteger(number) && number >= 1 && number <= members.length ? number - 1 : -1);
  const say = (value: number) => (isKey ? table!.say(value) : String(value));
  const missing = (value: number) => `${name} has no member ${say(value)}.`;
  const hint = table
    ? `Add a row to ${table.name}, or correct the key.`
    : `Its members are numbered from 1 to ${members.length}.`;
  const draws = key.draws;
  if (key.constant !== undefined) {
    const position = positionOf(key.constant);
    if (members[position] === undefined) return fail(asked, missing(key.constant), hint);
    if (isKey) checking.found.tables.push({ table: table!.id, row: position, start: asked.start, end: asked.end });
    return constantTerm(key.type, position);
  }
  return {
    type: key.type,
    draws,
    compile(environment) {
      const read = key.compile(environment);
      return (token) => {
        const value = read(token);
        const position = positionOf(value);
        if (members[position] !== undefined) return position;
        environment.fault({ code: "no-row", message: missing(value), hint });
        return -1;
      };
    },
  };
}
