import { applyPatches, enablePatches, type Patch, produceWithPatches } from "immer";

enablePatches();

/** One thing a person did, with the means to take it back. */
export interface Step {
  readonly name: string;
  /** Steps with the same key in a row are one: typing in a field, dragging. */
  readonly mergeKey?: string;
  readonly at: number;
  readonly patches: readonly Patch[];
  readonly inverse: readonly Patch[];
}

export interface History<T> {
  readonly present: T;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
}

/** Edits this close together with the same key are one step, in ms. */
const MERGE_WITHIN = 1500;

export const startHistory = <T>(present: T): History<T> => ({ present, past: [], future: [] });

/** The history after an edit; the same history when the recipe changed nothing. */
export function edit<T extends object>(
  history: History<T>,
  name: string,
  recipe: (draft: T) => void,
  mergeKey?: string,
  now = Date.now(),
): History<T> {
  const [present, patches, inverse] = produceWithPatches(history.present, (draft) => recipe(draft as T));
  if (patches.length === 0) return history;
  const last = history.past.at(-1);
  if (mergeKey && last?.mergeKey === mergeKey && now - last.at < MERGE_WITHIN) {
    const merged: Step = {
      ...last,
      at: now,
      patches: [...last.patches, ...patches],
      inverse: [...inverse, ...last.inverse],
    };
    return { present, past: [...history.past.slice(0, -1), merged], future: [] };
  }
  return { present, past: [...history.past, { name, mergeKey, at: now, patches, inverse }], future: [] };
}

export function undo<T extends object>(history: History<T>): History<T> {
  const step = history.past.at(-1);
  if (!step) return history;
  return {
    present: applyPatches(history.present, step.inverse as Patch[]),
    past: history.past.slice(0, -1),
    future: [step, ...history.future],
  };
}

export function redo<T extends object>(history: History<T>): History<T> {
  const [step] = history.future;
  if (!step) return history;
  return {
    present: applyPatches(history.present, step.patches as Patch[]),
    past: [...history.past, { ...step, mergeKey: undefined }],
    future: history.future.slice(1),
  };
}
