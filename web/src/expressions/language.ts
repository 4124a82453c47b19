import { help } from "@busy-harbor/core";
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { tags } from "@lezer/highlight";

const WORDS = new Set(["and", "or", "not", "is", "mod"]);

/** How the parts of an expression are told apart by colour: as the core reads them. */
const language = StreamLanguage.define<{ afterNumber: boolean }>({
  name: "expression",
  startState: () => ({ afterNumber: false }),
  token(stream, state) {
    if (stream.eatSpace()) return null;
    const { afterNumber } = state;
    state.afterNumber = false;
    if (stream.match(/^(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?/)) {
      state.afterNumber = true;
      return "number";
    }
    if (stream.match(/^"[^"]*"?/)) return "string";
    if (stream.match(/^`[^`]*`?/)) return "variableName";
    const name = stream.match(/^(?:[\p{L}_][\p{L}\p{N}_]*|%)/u);
    if (name && name !== true) {
      if (afterNumber) return "unit";
      if (WORDS.has(name[0])) return "keyword";
      return help.has(name[0]) && /^\s*\(/.test(stream.string.slice(stream.pos)) ? "function" : "variableName";
    }
    stream.next();
    return "operator";
  },
  tokenTable: { function: tags.function(tags.variableName), unit: tags.unit },
});

const colours = HighlightStyle.define([
  { tag: tags.unit, color: "var(--color-amber)" },
  { tag: tags.function(tags.variableName), color: "var(--color-action)" },
  { tag: tags.variableName, color: "var(--color-ink)" },
  { tag: tags.string, color: "var(--color-blocked)" },
  { tag: tags.keyword, color: "var(--color-blocked)", fontWeight: "500" },
  { tag: tags.operator, color: "var(--color-soft)" },
]);

/** The language of expressions in our colours. */
export const expressionLanguage = [language, syntaxHighlighting(colours)];
