import { findUnit } from "../quantity/index.ts";
import { type Token, tokenize } from "./lexer.ts";
import type { BinaryOperator, Node, UnitExpression } from "./syntax.ts";
import type { ExpressionProblem } from "./types.ts";

export const MAX_LENGTH = 4000;
export const MAX_DEPTH = 64;

const BINARY: ReadonlyMap<string, { readonly level: number; readonly operator: BinaryOperator }> = new Map(
  (
    [
      ["or", 1],
      ["and", 2],
      ["=", 4],
      ["<>", 4],
      ["<", 4],
      ["<=", 4],
      [">", 4],
      [">=", 4],
      ["is", 4],
      ["+", 5],
      ["-", 5],
      ["*", 6],
      ["/", 6],
      ["mod", 6],
      ["^", 8],
    ] as const
  ).map(([operator, level]) => [operator, { level, operator }]),
);
const NOT_LEVEL = 3;
const MINUS_LEVEL = 7;
const RESERVED = new Set(["and", "or", "not", "mod", "is", "yes", "no"]);

/** Thrown inside the parser only, to leave it at the first error. */
class SyntaxProblem extends Error {
  constructor(readonly problem: ExpressionProblem) {
    super(problem.message);
  }
}

class Parser {
  private at = 0;
  private depth = 0;

  constructor(private readonly tokens: readonly Token[]) {}

  whole(): Node {
    const node = this.expression(0);
    const rest = this.peek();
    if (rest.kind !== "end") {
      const unitless = rest.kind === "name" && node.kind === "number" && !node.unit;
      throw this.problem(
        rest,
        unitless ? `"${rest.text}" is not a unit.` : `"${rest.text}" does not fit here.`,
        unitless
          ? "Units are ms, s, min, h, d, wk, mm, cm, m, km, in, ft, nmi, g, kg, t, lb, money and %."
          : "An operator such as + or * may be missing before it.",
      );
    }
    return node;
  }

  private peek(ahead = 0): Token {
    return this.tokens[Math.min(this.at + ahead, this.tokens.length - 1)];
  }

  private take(): Token {
    const token = this.peek();
    if (this.at < this.tokens.length - 1) this.at += 1;
    return token;
  }

  private is(text: string, ahead = 0): boolean {
    const token = this.peek(ahead);
    return (token.kind === "symbol" || token.kind === "name") && token.text === text;
  }

  private expect(text: string): Token {
    if (!this.is(text)) {
      const found = this.peek();
      throw this.problem(
        found,
        `"${text}" is missing${found.kind === "end" ? " at the end" : ` before "${found.text}"`}.`,
        `Add "${text}".`,
      );
    }
    return this.take();
  }

  private problem(token: Token, message: string, hint?: string): SyntaxProblem {
    return new SyntaxProblem({ start: token.start, end: Math.max(token.end, token.start + 1), message, hint });
  }

  /** Precedence climbing: reads operators that bind tighter than `level`. */
  private expression(level: number): Node {
    if (++this.depth > MAX_DEPTH) {
      throw this.problem(this.peek(), `The expression is nested more than ${MAX_DEPTH} deep.`, "Split it into parts.");
    }
    let left = this.prefix();
    for (;;) {
      const token = this.peek();
      const binary = token.kind === "symbol" || token.kind === "name" ? BINARY.get(token.text) : undefined;
      if (!binary || binary.level <= level) break;
      this.take();
      const right = this.expression(binary.operator === "^" ? binary.level - 1 : binary.level);
      left = { kind: "binary", operator: binary.operator, left, right, start: left.start, end: right.end };
    }
    this.depth -= 1;
    return left;
  }

  private prefix(): Node {
    const token = this.peek();
    if (this.is("-") || this.is("+")) {
      this.take();
      const of = this.expression(MINUS_LEVEL);
      return token.text === "+" ? of : { kind: "negate", of, start: token.start, end: of.end };
    }
    if (token.kind === "name" && token.text === "not") {
      this.take();
      const of = this.expression(NOT_LEVEL);
      return { kind: "not", of, start: token.start, end: of.end };
    }
    return this.postfix(this.primary());
  }

  private postfix(node: Node): Node {
    for (let left = node; ;) {
      if (this.is(".")) {
        this.take();
        const name = this.take();
        if (name.kind !== "name")
          throw this.problem(name, "A name is missing after the dot.", "Write what is wanted of it, such as .length.");
        left = { kind: "property", of: left, name: name.text, start: left.start, end: name.end };
      } else if (this.is("[")) {
        this.take();
        const keys = this.list("]");
        left = { kind: "index", of: left, keys, start: left.start, end: this.peek(-1).end };
      } else return left;
    }
  }

  /** Reads comma-separated expressions up to and with the closing symbol. */
  private list(close: string): Node[] {
    const items: Node[] = [];
    if (!this.is(close)) {
      items.push(this.expression(0));
      while (this.is(",")) {
        this.take();
        items.push(this.expression(0));
      }
    }
    this.expect(close);
    return items;
  }

  private primary(): Node {
    const token = this.take();
    const { start, end } = token;
    if (token.kind === "number") return this.number(token);
    if (token.kind === "text") return { kind: "text", value: token.text, start, end };
    if (token.kind === "symbol" && token.text === "(") {
      const inner = this.expression(0);
      this.expect(")");
      return inner;
    }
    if (token.kind === "symbol" && token.text === "[") {
      const items = this.list("]");
      return { kind: "list", items, start, end: this.peek(-1).end };
    }
    if (token.kind === "name" && token.text !== "%") {
      if (token.text === "yes" || token.text === "no")
        return { kind: "yesNo", value: token.text === "yes", start, end };
      if (RESERVED.has(token.text)) throw this.problem(token, `A value is missing before "${token.text}".`);
      if (this.is("(")) {
        this.take();
        const args = this.list(")");
        return { kind: "call", name: token.text, args, start, end: this.peek(-1).end };
      }
      return { kind: "name", name: token.text, start, end };
    }
    throw this.problem(
      token,
      token.kind === "end" ? "A value is missing at the end." : `A value is missing before "${token.text}".`,
      'Write a number with its unit, such as "90 s", or a name.',
    );
  }

  /** A number and the unit behind it: `90 s`, `1.3 m/s`, `12/h`, `2 kg*m/s^2`. */
  private number(token: Token): Node {
    const value = Number(token.text);
    if (!Number.isFinite(value)) throw this.problem(token, "This number is too large.", "Use a number below 1e308.");
    const unit: { symbol: string; power: number }[] = [];
    let end = token.end;
    const readUnit = (sign: 1 | -1) => {
      const symbol = this.take();
      end = symbol.end;
      let power: number = sign;
      const exponent = this.peek(1);
      if (this.is("^") && exponent.kind === "number" && Number.isInteger(Number(exponent.text))) {
        this.take();
        end = this.take().end;
        power = sign * Number(exponent.text);
      }
      unit.push({ symbol: symbol.text, power });
    };
    if (this.isUnit(0)) readUnit(1);
    while ((this.is("/") && this.isUnit(1)) || (unit.length > 0 && this.is("*") && this.isUnit(1))) {
      readUnit(this.take().text === "/" ? -1 : 1);
    }
    return {
      kind: "number",
      value,
      unit: unit.length > 0 ? (unit as UnitExpression) : undefined,
      start: token.start,
      end,
    };
  }

  private isUnit(ahead: number): boolean {
    const token = this.peek(ahead);
    if (token.kind !== "name" || !findUnit(token.text)) return false;
    const next = this.peek(ahead + 1);
    return !(next.kind === "symbol" && (next.text === "(" || next.text === "." || next.text === "["));
  }
}

/** Reads an expression. Never throws: on bad input `node` is absent and `problems` says what and where. */
export function parseExpression(source: string): { node?: Node; problems: ExpressionProblem[] } {
  if (source.length > MAX_LENGTH) {
    return {
      problems: [
        { start: MAX_LENGTH, end: source.length, message: `An expression may have at most ${MAX_LENGTH} characters.` },
      ],
    };
  }
  const { tokens, problems } = tokenize(source);
  if (problems.length > 0) return { problems };
  try {
    return { node: new Parser(tokens).whole(), problems: [] };
  } catch (error) {
    if (error instanceof SyntaxProblem) return { problems: [error.problem] };
    throw error;
  }
}
