import type { ExpressionProblem } from "./types.ts";

export interface Token {
  readonly kind: "number" | "name" | "text" | "symbol" | "end";
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

const PATTERNS: ReadonlyArray<readonly [Token["kind"] | "space", RegExp]> = [
  ["space", /\s+/y],
  ["number", /(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?/y],
  ["name", /[\p{L}_][\p{L}\p{N}_]*|%/uy],
  ["name", /`[^`]*`/y],
  ["text", /"[^"]*"/y],
  ["symbol", /<=|>=|<>|[-+*/^()[\],.=<>]/y],
];

/**
 * Cuts source text into tokens; never throws. A character that starts no token
 * is reported and skipped. A name in back quotes may hold any character.
 */
export function tokenize(source: string): { tokens: Token[]; problems: ExpressionProblem[] } {
  const tokens: Token[] = [];
  const problems: ExpressionProblem[] = [];
  let at = 0;
  while (at < source.length) {
    let length = 0;
    for (const [kind, pattern] of PATTERNS) {
      pattern.lastIndex = at;
      const match = pattern.exec(source);
      if (!match) continue;
      length = match[0].length;
      if (kind !== "space") {
        const quoted = kind === "text" || match[0].startsWith("`");
        tokens.push({ kind, text: quoted ? match[0].slice(1, -1) : match[0], start: at, end: at + length });
      }
      break;
    }
    if (length === 0) {
      const mark = source[at];
      const unclosed = mark === '"' || mark === "`";
      problems.push({
        start: at,
        end: unclosed ? source.length : at + 1,
        message: unclosed ? `This ${mark} is never closed.` : `"${mark}" has no meaning here.`,
        hint: unclosed ? `Add ${mark} where it ends.` : "Remove it.",
      });
      length = unclosed ? source.length - at : 1;
    }
    at += length;
  }
  tokens.push({ kind: "end", text: "", start: source.length, end: source.length });
  return { tokens, problems };
}
