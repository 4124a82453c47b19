import { assignStreams, type Design, type Study, writeStudy } from "@busy-harbor/core";
import { create } from "zustand";
import { api, ApiProblem } from "../api/client.ts";
import { adoptDraft, discardDraft, dropDraft, keepDraft, leftDrafts } from "./drafts.ts";
import { edit, type History, redo, startHistory, undo } from "./history.ts";

export type SaveState = "saved" | "unsaved" | "saving" | "offline" | "held" | "conflict" | "refused";

interface StudyState {
  id: string | undefined;
  revision: number;
  history: History<Study> | undefined;
  designId: string;
  /** Ids of selected elements and links of the design. */
  selection: readonly string[];
  save: SaveState;
  savedAt: Date | undefined;
  /**
   * Why the server refused the last save (the next change tries again), or cannot keep it now (it is tried again by
   * itself).
   */
  saveProblem: string | undefined;
  /** The other version, while a stale write waits for a decision. */
  conflict: { revision: number; study: Study } | undefined;
  loadProblem: string | undefined;

  load(id: string): Promise<void>;
  change(name: string, recipe: (study: Study) => void, mergeKey?: string): void;
  changeDesign(name: string, recipe: (design: Design) => void, mergeKey?: string): void;
  undo(): void;
  redo(): void;
  select(ids: readonly string[]): void;
  showDesign(id: string): void;
  /** Saves now what is unsaved; resolves when the server has it. */
  flush(): Promise<void>;
  keepMine(): Promise<void>;
  takeTheirs(): void;
  /** Keeps one's own version as a study of its own, whose id it gives, and takes the other here. */
  keepBoth(): Promise<string | undefined>;
}

const SAVE_AFTER = 500;
const RETRY_AFTER = 3000;
const DRAFT_WITHIN = 300;

let timer: ReturnType<typeof setTimeout> | undefined;
let saving: Promise<void> | undefined;
let draftTimer: ReturnType<typeof setTimeout> | undefined;
/** The study that a draft is still to be kept of. */
let draftOf: string | undefined;

export const useStudy = create<StudyState>((set, get) => {
  const schedule = (after: number) => {
    clearTimeout(timer);
    timer = setTimeout(() => void get().flush(), after);
  };

  /**
   * Keeps what is unsaved in this browser too: at once, but at most every so often, as a large study takes a while to
   * write.
   */
  const draftSoon = (id: string) => {
    draftTimer ??= setTimeout(keepDraftNow, DRAFT_WITHIN);
    draftOf = id;
  };
  const keepDraftNow = () => {
    clearTimeout(draftTimer);
    draftTimer = undefined;
    const { id, revision, history, save } = get();
    if (id && id === draftOf && history && save !== "saved") keepDraft(id, revision, history.present);
    draftOf = undefined;
  };

  /** The document has changed: remember it here, and save it soon. */
  const changed = (history: History<Study>) => {
    const { id, save, designId, selection } = get();
    const design = history.present.designs.find((d) => d.id === designId) ?? history.present.designs[0];
    const ids = new Set([...design.elements, ...design.links, ...(design.roads ?? [])].map((item) => item.id));
    set({
      history,
      designId: design.id,
      selection: selection.every((s) => ids.has(s)) ? selection : selection.filter((s) => ids.has(s)),
      save: save === "conflict" ? save : "unsaved",
    });
    if (id) draftSoon(id);
    if (save !== "conflict") schedule(SAVE_AFTER);
  };

  return {
    id: undefined,
    revision: 0,
    history: undefined,
    designId: "",
    selection: [],
    save: "saved",
    savedAt: undefined,
    saveProblem: undefined,
    conflict: undefined,
    loadProblem: undefined,

    async load(id) {
      clearTimeout(timer);
      set({
        id,
        history: undefined,
        selection: [],
        conflict: undefined,
        loadProblem: undefined,
        save: "saved",
        savedAt: undefined,
      });
      try {
        const stored = await api.study(id);
        if (get().id !== id) return;
        const drafts = await leftDrafts(id);
        if (get().id !== id) return;
        const history = startHistory(stored.study);
        set({
          revision: stored.revision,
          history,
          designId: stored.study.designs[0].id,
          savedAt: new Date(stored.updatedAt),
        });
        const text = writeStudy(stored.study);
        for (const left of drafts) if (writeStudy(left.study) === text) discardDraft(left);
        // What an interrupted session could not save is taken up again; of several the others wait for the next time.
        const draft = drafts.find((left) => writeStudy(left.study) !== text);
        if (!draft) return;
        adoptDraft(id, draft);
        if (draft.revision === stored.revision)
          changed(edit(history, "Recover unsaved changes", (s) => void Object.assign(s, draft.study)));
        else
          set({
            conflict: { revision: stored.revision, study: stored.study },
            save: "conflict",
            history: startHistory(draft.study),
            designId: draft.study.designs[0].id,
          });
      } catch (error) {
        set({ loadProblem: error instanceof Error ? error.message : String(error) });
      }
    },

    change(name, recipe, mergeKey) {
      const { history } = get();
      if (!history) return;
      const next = edit(history, name, recipe, mergeKey);
      if (next !== history) changed(next);
    },

    changeDesign(name, recipe, mergeKey) {
      const { designId } = get();
      get().change(
        name,
        (study) => {
          const design = study.designs.find((d) => d.id === designId);
          if (design) recipe(design);
        },
        mergeKey && `${designId}/${mergeKey}`,
      );
    },

    undo() {
      const { history } = get();
      if (history && history.past.length > 0) changed(undo(history));
    },
    redo() {
      const { history } = get();
      if (history && history.future.length > 0) changed(redo(history));
    },
    select: (selection) => set({ selection }),
    showDesign: (designId) => set({ designId, selection: [] }),

    async flush() {
      clearTimeout(timer);
      keepDraftNow();
      while (saving) await saving;
      const { id, history, save, revision } = get();
      if (!id || !history || save === "saved" || save === "conflict") return;
      const study = history.present;
      set({ save: "saving" });
      saving = api
        .save(id, revision, assignStreams(study))
        .then((saved) => {
          if (get().id !== id) return;
          const clean = get().history?.present === study;
          set({ revision: saved.revision, savedAt: new Date(saved.updatedAt), save: clean ? "saved" : "unsaved" });
          if (clean) dropDraft(id);
          else schedule(SAVE_AFTER);
        })
        .catch((error: unknown) => {
          if (get().id !== id) return;
          if (error instanceof ApiProblem && error.status === 409 && error.document.current) {
            set({ save: "conflict", conflict: error.document.current });
          } else if (error instanceof ApiProblem && error.status >= 500) {
            set({ save: "held", saveProblem: error.message });
            schedule(RETRY_AFTER);
          } else if (error instanceof ApiProblem && error.status >= 400) {
            set({ save: "refused", saveProblem: error.document.problems?.[0]?.message ?? error.message });
          } else {
            set({ save: "offline" });
            schedule(RETRY_AFTER);
          }
        })
        .finally(() => (saving = undefined));
      await saving;
    },

    async keepMine() {
      const { conflict } = get();
      if (!conflict) return;
      set({ revision: conflict.revision, conflict: undefined, save: "unsaved" });
      await get().flush();
    },

    takeTheirs() {
      const { conflict, history, id } = get();
      if (!conflict || !history || !id) return;
      // As an edit, so that undo brings one's own version back.
      const next = edit(history, "Take the other version", (study) => void Object.assign(study, conflict.study));
      set({ history: next, revision: conflict.revision, conflict: undefined, save: "saved", selection: [] });
      dropDraft(id);
    },

    async keepBoth() {
      const { history } = get();
      if (!history) return undefined;
      const mine = assignStreams(history.present);
      const made = await api.openFile({ ...mine, name: `${mine.name.slice(0, 70)} (mine)` });
      get().takeTheirs();
      return made.id;
    },
  };
});

export const useDesign = (): Design | undefined =>
  useStudy((s) => s.history?.present.designs.find((d) => d.id === s.designId));
