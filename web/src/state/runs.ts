import type { RunResults, RunSummary } from "@busy-harbor/core/contract";
import type { Problem } from "@busy-harbor/core";
import { create } from "zustand";
import { api, ApiProblem, listenToRuns } from "../api/client.ts";
import { useStudy } from "./study.ts";

interface RunsState {
  studyId: string | undefined;
  runs: readonly RunSummary[];
  results: ReadonlyMap<string, RunResults>;
  /** Why the last run could not be started. */
  refusal: { readonly message: string; readonly problems: readonly Problem[] } | undefined;
  follow(studyId: string): () => void;
  start(designId: string): Promise<RunSummary | undefined>;
  cancel(id: string): Promise<void>;
  fetchResults(id: string): Promise<void>;
  clearRefusal(): void;
}

/** Runs of the open study, kept up to date by the server's events. */
export const useRuns = create<RunsState>((set, get) => {
  const put = (run: RunSummary) =>
    set(({ runs }) => ({ runs: [run, ...runs.filter((r) => r.id !== run.id)].sort((a, b) => b.number - a.number) }));
  return {
    studyId: undefined,
    runs: [],
    results: new Map(),
    refusal: undefined,

    follow(studyId) {
      if (get().studyId !== studyId) set({ studyId, runs: [], results: new Map(), refusal: undefined });
      const refresh = () => void api.runs(studyId).then((runs) => get().studyId === studyId && set({ runs }), () => undefined);
      return listenToRuns(studyId, put, refresh);
    },

    async start(designId) {
      const { studyId } = get();
      if (!studyId) return undefined;
      set({ refusal: undefined });
      await useStudy.getState().flush();
      try {
        const run = await api.startRun(studyId, { designId });
        put(run);
        return run;
      } catch (error) {
        set({ refusal: { message: error instanceof Error ? error.message : String(error), problems: error instanceof ApiProblem ? (error.document.problems ?? []) : [] } });
        return undefined;
      }
    },

    async cancel(id) {
      put(await api.cancelRun(id));
    },

    async fetchResults(id) {
      const results = await api.results(id);
      set((state) => ({ results: new Map(state.results).set(id, results) }));
    },

    clearRefusal: () => set({ refusal: undefined }),
  };
});
