import { findUnit, unitSymbols } from "../quantity/index.ts";
import { type Help, help, signatureOf } from "./help.ts";
import { type Token, tokenize } from "./lexer.ts";
import { writeName } from "./rename.ts";
import type { Meaning, Scope } from "./scope.ts";
import type { TableSource } from "./tables.ts";
import { typeName, type ValueType } from "./types.ts";

/** Something that may be written at a place of an expression. */
export interface Completion {
  /** As it is called. */
  readonly label: string;
  /** As it is written. */
  readonly insert: string;
  readonly kind: "name" | "property" | "unit" | "function" | "distribution" | "word";
  /** What it is, in a word or two. */
  readonly detail: string;
  /** A sentence on it, where there is one. */
  readonly about?: string;
}

export interface Completions {
  /** Where what is written replaces from. */
  readonly from: number;
  readonly options: readonly Completion[];
}

const OPERATORS: readonly (readonly [string, string])[] = [
  ["and", "Both conditions hold."],
  ["or", "One of the conditions holds, or both."],
  ["not", "The condition does not hold."],
  ["is", "It is of this entity type."],
];

/**
 * What may be written at a position of an expression: after a dot, properties; after a number, units; else names,
 * functions, distributions and `words` that the setting takes in place of an expression.
 */
export function completeExpression(
  source: string,
  position: number,
  scope: Scope,
  words: readonly string[] = [],
): Completions {
  const before = tokenize(source.slice(0, position)).tokens.slice(0, -1);
  const last = before.at(-1);
  const isPart = last?.kind === "name" && last.end === position;
  const from = isPart ? last.start : position;
  const context = isPart ? before.slice(0, -1) : before;
  const previous = context.at(-1);
  if (previous?.text === "." && previous.kind === "symbol")
    return { from, options: propertiesOf(context.slice(0, -1), scope) };
  if (previous?.kind === "number") return { from, options: units() };
  if (previous?.text === "/" && context.at(-2)?.kind === "name" && findUnit(context.at(-2)!.text))
    return { from, options: units() };
  const begins = context.length === 0;
  const follows =
    previous !== undefined && (previous.kind !== "symbol" || previous.text === ")" || previous.text === "]");
  return {
    from,
    options: [
      ...(begins
        ? words.map((word): Completion => ({ label: word, insert: word, kind: "word", detail: "as a word" }))
        : []),
      ...(follows
        ? []
        : [...scope.names().map((name) => named(name, scope.find(name))), ...[...help.values()].map(called)]),
      ...(previous?.text === "/" && context.at(-2)?.kind === "number" ? units() : []),
      ...OPERATORS.filter(([word]) => (word === "not" ? !follows : follows)).map(([word, about]): Completion => ({
        label: word,
        insert: `${word} `,
        kind: "word",
        detail: "",
        about,
      })),
    ],
  };
}

const named = (name: string, meaning: Meaning | undefined): Completion => ({
  label: name,
  insert: writeName(name),
  kind: "name",
  detail: meaning ? typeName(meaning.type) : "",
});

const called = (h: Help): Completion => ({
  label: h.name,
  insert: `${h.name}(`,
  kind: h.kind,
  detail: signatureOf(h).slice(h.name.length),
  about: h.about,
});

const units = (): Completion[] =>
  unitSymbols().map((symbol) => ({
    label: symbol,
    insert: symbol,
    kind: "unit",
    detail: typeName({ kind: "number", dimension: findUnit(symbol)!.dimension }),
  }));

/** Properties of what the tokens before a dot name. */
function propertiesOf(tokens: readonly Token[], scope: Scope): Completion[] {
  const table = tableOfRow(tokens, scope);
  if (table) return table.columns.map(({ name, type }) => columnCompletion(name, type));
  const path: string[] = [];
  for (let i = tokens.length - 1; i >= 0 && tokens[i].kind === "name"; i -= 2) {
    path.unshift(tokens[i].text);
    if (tokens[i - 1]?.text !== ".") break;
  }
  let meaning = path.length > 0 ? scope.find(path[0]) : undefined;
  for (const name of path.slice(1))
    meaning = [...(meaning?.properties ?? [])].find(([key]) => key.toLowerCase() === name.toLowerCase())?.[1];
  return [...(meaning?.properties ?? [])].map(([name, { type, properties }]) => ({
    label: name,
    insert: writeName(name),
    kind: "property",
    detail: properties && type.kind === "element" ? "has more" : typeName(type),
  }));
}

const columnCompletion = (name: string, type: ValueType): Completion => ({
  label: name,
  insert: writeName(name),
  kind: "property",
  detail: typeName(type),
});

/** The table of which the tokens before a dot name a row: `Times[key]`, or `row` in a condition on its rows. */
function tableOfRow(tokens: readonly Token[], scope: Scope): TableSource | undefined {
  const last = tokens.at(-1);
  if (last?.kind === "name" && last.text === "row") {
    const named = tokens.flatMap((token, i) =>
      token.kind === "name" && tokens[i - 1]?.text === "(" ? (scope.find(token.text)?.table ?? []) : [],
    );
    return named.at(-1);
  }
  if (last?.kind !== "symbol" || last.text !== "]") return undefined;
  let open = 0;
  for (let i = tokens.length - 1; i > 0; i--) {
    if (tokens[i].kind !== "symbol") continue;
    if (tokens[i].text === "]") open += 1;
    else if (tokens[i].text === "[" && --open === 0) return scope.find(tokens[i - 1].text)?.table;
  }
  return undefined;
}

/** The function in whose brackets a position lies, and the number of the parameter there; undefined outside any. */
export function callAt(
  source: string,
  position: number,
): { readonly help: Help; readonly parameter: number } | undefined {
  const tokens = tokenize(source.slice(0, position)).tokens.slice(0, -1);
  const open: { readonly help: Help | undefined; readonly square: boolean; parameter: number }[] = [];
  tokens.forEach((token, i) => {
    if (token.kind !== "symbol") return;
    if (token.text === "(" || token.text === "[") {
      const before = tokens[i - 1];
      const called = token.text === "(" && before?.kind === "name" ? help.get(before.text) : undefined;
      open.push({ help: called, square: token.text === "[", parameter: 0 });
    } else if (token.text === ")" || token.text === "]") open.pop();
    else if (token.text === "," && open.length > 0) open[open.length - 1].parameter += 1;
  });
  const inner = open.filter((o) => !o.square).at(-1);
  return inner?.help && { help: inner.help, parameter: inner.parameter };
}
