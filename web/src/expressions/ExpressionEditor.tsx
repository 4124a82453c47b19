import type { Problem } from "@busy-harbor/core";
import {
  acceptCompletion,
  closeBrackets,
  closeBracketsKeymap,
  completionKeymap,
  completionStatus,
  moveCompletionSelection,
  selectedCompletion,
} from "@codemirror/autocomplete";
import { standardKeymap } from "@codemirror/commands";
import { bracketMatching } from "@codemirror/language";
import { type Diagnostic, setDiagnostics } from "@codemirror/lint";
import { EditorState, Prec } from "@codemirror/state";
import { EditorView, keymap, placeholder as placeholderOf } from "@codemirror/view";
import { useEffect, useLayoutEffect, useRef } from "react";
import { completion, type Names } from "./completion.ts";
import { expressionLanguage } from "./language.ts";
import { mended } from "./mend.ts";
import { signature } from "./signature.ts";

export interface EditorProps {
  readonly id: string;
  readonly value: string;
  readonly names: Names;
  readonly problems: readonly Problem[];
  readonly labelledBy: string;
  readonly describedBy: string | undefined;
  readonly placeholder: string | undefined;
  /** Where the caret was in the plain field. */
  readonly selection: readonly [anchor: number, head: number];
  readonly onChange: (value: string) => void;
  readonly onEnter: () => void;
  readonly onUndo: () => void;
  readonly onRedo: () => void;
  /** The keys have gone elsewhere. */
  readonly onLeave: () => void;
}

/**
 * An expression being written: coloured, completed, its problems underlined where they are. On one line until it needs
 * more.
 */
export function ExpressionEditor(props: EditorProps) {
  const holder = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const now = useRef(props);
  /** Texts that were typed and have not come back as the value: the page may be behind the fingers. */
  const underway = useRef<string[]>([]);
  useLayoutEffect(() => {
    now.current = props;
  });

  useLayoutEffect(() => {
    const { value, selection, id, labelledBy, placeholder } = now.current;
    const [anchor, head] = selection.map((at) => Math.min(at, value.length));
    const editor = new EditorView({
      parent: holder.current!,
      state: EditorState.create({
        doc: value,
        selection: { anchor, head },
        extensions: [
          oneLine,
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({
            id,
            "aria-labelledby": labelledBy,
          }),
          placeholderOf(placeholder ?? ""),
          expressionLanguage,
          bracketMatching(),
          closeBrackets(),
          completion(() => now.current.names),
          signature,
          keys(now),
          caretWhereItIs(),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged || update.transactions.some((t) => t.isUserEvent("outside"))) return;
            const text = update.state.doc.toString();
            underway.current.push(text);
            now.current.onChange(text);
          }),
          EditorView.domEventHandlers({
            blur: (_event, of) => {
              // Offers and signatures are of the editor too.
              if (!of.dom.contains(document.activeElement)) now.current.onLeave();
            },
          }),
        ],
      }),
    });
    view.current = editor;
    editor.focus();
    return () => editor.destroy();
  }, []);

  // What was changed elsewhere, as by undo. At once: an effect that came later would compare the value of then with
  // what has been typed since, and write it back.
  useLayoutEffect(() => {
    const editor = view.current;
    const typed = underway.current.lastIndexOf(props.value);
    if (typed >= 0) {
      underway.current.splice(0, typed + 1);
      return;
    }
    underway.current = [];
    if (!editor || editor.state.doc.toString() === props.value) return;
    editor.dispatch({
      changes: { from: 0, to: editor.state.doc.length, insert: props.value },
      userEvent: "outside",
    });
  }, [props.value]);

  const { problems, describedBy } = props;
  useLayoutEffect(() => {
    const dom = view.current?.contentDOM;
    dom?.setAttribute("aria-invalid", String(problems.length > 0));
    if (describedBy) dom?.setAttribute("aria-describedby", describedBy);
    else dom?.removeAttribute("aria-describedby");
  }, [problems, describedBy]);

  useEffect(() => {
    const editor = view.current;
    if (editor) editor.dispatch(setDiagnostics(editor.state, diagnosticsOf(problems, editor.state.doc.length)));
  }, [problems]);

  return <div ref={holder} className="field mono expression" aria-invalid={problems.length > 0} />;
}

/** A setting is one line of meaning, however long: line ends become spaces. */
const oneLine = EditorState.transactionFilter.of((transaction) => {
  if (!transaction.docChanged || transaction.newDoc.lines === 1) return transaction;
  const text = transaction.newDoc.toString().replace(/\s*\n\s*/g, " ");
  return {
    changes: { from: 0, to: transaction.startState.doc.length, insert: text },
    selection: { anchor: Math.min(transaction.newSelection.main.head, text.length) },
  };
});

/** Milliseconds after an editor has taken the keys in which it may lose the caret. */
const UNSURE = 1000;

/**
 * Puts the browser's caret where the editor's is. When a line is drawn anew soon after the editor has taken the focus
 * (as problems are underlined then), it takes the caret at the start for the browser's doing and leaves it there, and
 * what is typed next would go before what is there.
 */
function caretWhereItIs() {
  const from = performance.now();
  return EditorView.updateListener.of(({ view, state: { selection } }) => {
    if (performance.now() - from > UNSURE || !view.hasFocus || view.composing) return;
    const shown = document.getSelection();
    const { anchor, head } = selection.main;
    const isThere = (node: Node | null | undefined, offset: number, at: number) =>
      node !== null && node !== undefined && view.contentDOM.contains(node) && view.posAtDOM(node, offset) === at;
    if (
      isThere(shown?.anchorNode, shown?.anchorOffset ?? 0, anchor) &&
      isThere(shown?.focusNode, shown?.focusOffset ?? 0, head)
    )
      return;
    const [begin, end] = [view.domAtPos(anchor), view.domAtPos(head)];
    shown?.setBaseAndExtent(begin.node, begin.offset, end.node, end.offset);
  });
}

/** Takes the first offer, or the one gone to. */
function takeOffer(view: EditorView): boolean {
  if (completionStatus(view.state) !== "active") return false;
  if (!selectedCompletion(view.state)) moveCompletionSelection(true)(view);
  return acceptCompletion(view);
}

function keys(now: { readonly current: EditorProps }) {
  const mend = (view: EditorView): boolean => {
    const text = view.state.doc.toString();
    const better = now.current.problems.map((p) => mended(text, p)).find((t) => t !== undefined);
    if (better === undefined) return false;
    view.dispatch({
      changes: { from: 0, to: text.length, insert: better },
      selection: { anchor: better.length },
      userEvent: "input",
    });
    return true;
  };
  const done = (act: () => void) => () => {
    act();
    return true;
  };
  return [
    Prec.highest(
      keymap.of([
        { key: "Tab", run: takeOffer },
        { key: "Alt-Enter", run: mend },
        { key: "Mod-z", run: done(() => now.current.onUndo()) },
        { key: "Mod-Shift-z", run: done(() => now.current.onRedo()) },
        { key: "Mod-y", run: done(() => now.current.onRedo()) },
      ]),
    ),
    keymap.of([...completionKeymap, ...closeBracketsKeymap]),
    keymap.of([{ key: "Enter", run: done(() => now.current.onEnter()) }, ...standardKeymap]),
  ];
}

/** Problems of a stretch of the text are underlined there; those of the whole, all along it. */
function diagnosticsOf(problems: readonly Problem[], length: number): Diagnostic[] {
  return problems
    .filter((p) => p.start !== undefined)
    .map(({ start = 0, end = length, message, severity }) => ({
      from: Math.min(start, length),
      to: Math.min(Math.max(end, start + 1), length),
      severity,
      message,
    }));
}
