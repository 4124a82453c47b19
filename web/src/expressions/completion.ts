import { type Completion as Offer, type Completions, completeExpression, type Scope } from "@busy-harbor/core";
import {
  autocompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult,
  pickedCompletion,
} from "@codemirror/autocomplete";
import type { EditorView } from "@codemirror/view";

/** What may be named where an expression stands, and the words its setting takes besides. */
export interface Names {
  readonly scope: () => Scope | undefined;
  readonly words?: readonly string[];
}

const KINDS: Readonly<Record<Offer["kind"], string>> = {
  name: "element",
  property: "property",
  unit: "unit",
  function: "function",
  distribution: "distribution",
  word: "word",
};

/** Offers what may stand at the caret, each with what it is and a sentence on it. */
export const completion = (names: () => Names) =>
  autocompletion({
    // Enter ends a setting; it takes an offer only where one was gone to.
    selectOnOpen: false,
    icons: false,
    override: [(context) => offersAt(context, names())],
    addToOptions: [{ render: (offer) => kindMark(offer.type ?? ""), position: 90 }],
  });

function offersAt(context: CompletionContext, { scope, words }: Names): CompletionResult | null {
  const found = scope();
  if (!found) return null;
  const source = context.state.doc.toString();
  const { from, options }: Completions = completeExpression(source, context.pos, found, words);
  const typed = source.slice(from, context.pos);
  const isAsked = context.explicit || typed !== "" || source[context.pos - 1] === ".";
  if (!isAsked || options.length === 0 || (!context.explicit && isWhole(typed, options))) return null;
  return {
    from,
    options: options.map(optionOf),
    validFor: (text) => /^[\p{L}\p{N}_%]*$/u.test(text) && !isWhole(text, options),
  };
}

/** Whether what is offered is written already, and nothing else begins so: then no offer stands in the way. */
function isWhole(typed: string, options: readonly Offer[]): boolean {
  const begins = options.filter(({ insert }) => insert.toLowerCase().startsWith(typed.toLowerCase()));
  return begins.length > 0 && begins.every(({ insert }) => insert === typed || insert === `${typed}(`);
}

const optionOf = ({ label, insert, kind, detail, about }: Offer): Completion => ({
  label,
  detail,
  info: about,
  type: kind,
  boost: kind === "word" || kind === "name" ? 1 : 0,
  apply: (view, picked, from, to) => write(view, picked, from, to, insert),
});

/** Writes what was chosen; a function with its brackets, and the caret between them. */
function write(view: EditorView, picked: Completion, from: number, to: number, insert: string): void {
  const calls = insert.endsWith("(") && view.state.sliceDoc(to, to + 1) !== "(";
  const text = calls ? `${insert})` : insert.endsWith("(") ? insert.slice(0, -1) : insert;
  view.dispatch({
    changes: { from, to, insert: text },
    selection: { anchor: from + insert.length },
    annotations: pickedCompletion.of(picked),
    userEvent: "input.complete",
  });
}

function kindMark(type: string): Node {
  const mark = document.createElement("span");
  mark.className = "cm-kind";
  mark.textContent = KINDS[type as Offer["kind"]] ?? "";
  return mark;
}
