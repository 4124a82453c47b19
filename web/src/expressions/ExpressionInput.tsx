import type { Problem } from "@busy-harbor/core";
import { type Ref, useImperativeHandle, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useStudy } from "../state/study.ts";
import { type ExpressionOf, namesWhere } from "./names.ts";

type Editor = typeof import("./ExpressionEditor.tsx");

/** Fetched when a pointer or the keys first come to a field; until it is here the plain field takes what is typed. */
let editor: Editor | undefined;
let coming: Promise<Editor> | undefined;
export const fetchEditor = (): Promise<Editor> =>
  (coming ??= import("./ExpressionEditor.tsx").then((module) => (editor = module)));

/** The editor, once it is here. */
export const loadedEditor = (): Editor | undefined => editor;

/**
 * A field for an expression. At rest it is a plain one, as there may be hundreds on a page; where the keys go, the
 * editor takes its place.
 */
export function ExpressionInput({
  ref,
  id,
  value,
  of,
  problems,
  labelledBy,
  describedBy,
  placeholder,
  onChange,
  onEnter,
}: {
  ref: Ref<{ focus(): void; scrollIntoView(options: ScrollIntoViewOptions): void }>;
  id: string;
  value: string;
  of: ExpressionOf;
  problems: readonly Problem[];
  labelledBy: string;
  describedBy: string | undefined;
  placeholder: string | undefined;
  onChange: (value: string) => void;
  onEnter: (() => void) | undefined;
}) {
  const plain = useRef<HTMLTextAreaElement>(null);
  const holder = useRef<HTMLDivElement>(null);
  const [selection, setSelection] = useState<readonly [number, number]>();
  const [names] = useState(() => namesWhere(of));
  useImperativeHandle(ref, () => ({
    focus: () => plain.current?.focus(),
    scrollIntoView: (options) => (holder.current ?? plain.current)?.scrollIntoView(options),
  }));

  /** Once the caret is where the pointer put it. */
  const edit = () =>
    requestAnimationFrame(() => {
      const field = plain.current;
      if (!field || document.activeElement !== field || !editor) return;
      // At once, or a key pressed meanwhile would find another caret.
      flushSync(() => setSelection([field.selectionStart, field.selectionEnd]));
    });

  if (selection && editor)
    return (
      <div ref={holder} className="min-w-0">
        <editor.ExpressionEditor
          id={id}
          value={value}
          names={names}
          problems={problems}
          labelledBy={labelledBy}
          describedBy={describedBy}
          placeholder={placeholder}
          selection={selection}
          onChange={onChange}
          onEnter={() => onEnter?.()}
          onUndo={() => useStudy.getState().undo()}
          onRedo={() => useStudy.getState().redo()}
          onLeave={() => setSelection(undefined)}
        />
      </div>
    );
  return (
    <textarea
      ref={plain}
      id={id}
      className="field mono block field-sizing-content resize-none"
      value={value}
      placeholder={placeholder}
      spellCheck={false}
      maxLength={4000}
      autoComplete="off"
      rows={1}
      aria-invalid={problems.length > 0}
      aria-describedby={describedBy}
      onPointerEnter={() => void fetchEditor()}
      onFocus={() => (editor ? edit() : void fetchEditor().then(edit))}
      onKeyDown={(event) => {
        if (event.key !== "Enter") return;
        event.preventDefault();
        onEnter?.();
      }}
      onChange={(event) => onChange(event.target.value.replace(/\n/g, " "))}
    />
  );
}
