import type { Design, Problem, Scope } from "@busy-harbor/core";
import { expressionScopes } from "@busy-harbor/core";
import { type Ref, useEffect, useImperativeHandle, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useStudy } from "../state/study.ts";
import type { Names } from "./completion.ts";

type Editor = typeof import("./ExpressionEditor.tsx");

/** Fetched when the first field is shown, well before one is written in. */
let editor: Editor | undefined;
let coming: Promise<Editor> | undefined;
const fetchEditor = (): Promise<Editor> =>
  (coming ??= import("./ExpressionEditor.tsx").then((module) => (editor = module)));

const known = new WeakMap<Design, ReturnType<typeof expressionScopes>>();

/** What may be named in expressions of the design at hand. */
function scopeNow(entity: boolean): Scope | undefined {
  const { history, designId } = useStudy.getState();
  const design = history?.present.designs.find((d) => d.id === designId);
  if (!design) return undefined;
  let scopes = known.get(design);
  if (!scopes) known.set(design, (scopes = expressionScopes(design)));
  return entity ? scopes.withEntity : scopes.withoutEntity;
}

export interface ExpressionOf {
  /** Whether an entity is at hand where it is read. */
  readonly entity?: boolean;
  /** Words it may be in place of an expression. */
  readonly words?: readonly string[];
}

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
  const { entity = false, words } = of;
  const [names] = useState<Names>(() => ({ scope: () => scopeNow(entity), words }));
  useEffect(() => void fetchEditor(), []);
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
