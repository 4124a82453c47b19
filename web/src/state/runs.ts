import {
  type ChangedRun,
  type Experiment,
  MOST_COLUMNS,
  MOST_ROWS,
  type RunSummary,
  type Selection,
} from "@busy-harbor/core/contract";
import { type Problem, tablesOf } from "@busy-harbor/core";
import { create } from "zustand";
import { api, ApiProblem, listenToFigures, listenToRuns } from "../api/client.ts";
import { announce } from "../ui/announce.ts";
import type { Column, RunFigures } from "./figures.ts";
import { LiveFigures } from "./liveFigures.ts";
import { useStudy } from "./study.ts";

/** Replications whose values are drawn one by one; of more only figures over all are. */
export const SHOWN_ROWS = 500;

/** What is wrong, and the scenario that it is wrong with. */
type RefusedProblem = Problem & { readonly scenario?: string };

interface RunsState {
  studyId: string | undefined;
  runs: readonly RunSummary[];
  figures: ReadonlyMap<string, RunFigures>;
  /** Why the last run could not be started. */
  refusal: { readonly message: string; readonly problems: readonly RefusedProblem[] } | undefined;
  follow(studyId: string): () => void;
  start(designId: string): Promise<RunSummary | undefined>;
  cancel(id: string): Promise<void>;
  /** Gives a run a name, or a note beside it; told with a way to take it back. */
  describe(run: RunSummary, changes: ChangedRun): Promise<void>;
  /**
   * Runs scenarios of an experiment of the study as it is now, perhaps to select the best; false where that is refused.
   */
  startScenarios(plan: string, scenarios: readonly string[], selection?: Selection): Promise<boolean>;
  /** Begins the search of an experiment of the study as it is now; false where that is refused. */
  startSearch(plan: string): Promise<boolean>;
  /** Goes on with runs that were stopped, or that more replications are wanted of. */
  goOn(runs: ReadonlyArray<{ readonly id: string; readonly replications: number }>): Promise<void>;
  /** Runs anew what made a run; undefined where that is refused. */
  repeat(run: RunSummary): Promise<RunSummary | undefined>;
  /** Takes runs away; told with a way to bring them back. */
  remove(runs: readonly RunSummary[]): Promise<void>;
  /** Fetches what is measured in a run, and its statistics as they are now. */
  fetchFigures(id: string): Promise<void>;
  /** Has the figures of a run that goes on follow what ends; returns how to stop that. */
  followFigures(id: string): () => void;
  /**
   * Fetches values of some measures: those that are missing, and what is new of the others; all of them, or the first
   * `SHOWN_ROWS`.
   */
  fetchColumns(id: string, measures: readonly number[], all?: boolean): Promise<void>;
  clearRefusal(): void;
}

/** Runs of the open study, kept up to date by the server's events. */
export const useRuns = create<RunsState>((set, get) => {
  /** Runs whose figures follow by themselves. */
  const live = new Set<string>();
  const put = (run: RunSummary) =>
    set(({ runs }) => {
      // An answer may come after an event that was told later.
      if (runs.some(({ id, asOf }) => id === run.id && asOf > run.asOf)) return {};
      const others = runs.filter((r) => r.id !== run.id);
      return { runs: run.deleted ? others : [run, ...others].sort((a, b) => b.number - a.number || a.point - b.point) };
    });
  const newest = (run: RunSummary) => get().runs.find(({ id }) => id === run.id) ?? run;
  const putFigures = (id: string, change: (figures: RunFigures) => Partial<RunFigures>) =>
    set(({ figures }) => {
      const before = figures.get(id);
      return before ? { figures: new Map(figures).set(id, { ...before, ...change(before) }) } : {};
    });
  /** Has the server begin several runs of the study as it is now; false where that is refused. */
  const begin = (plan: string, start: (studyId: string) => Promise<Experiment>): Promise<boolean> =>
    starting(designsOf(plan), async (studyId) => {
      for (const run of (await start(studyId)).points) put(run);
      return true;
    }).then((isBegun) => isBegun ?? false);

  /** Reads the files that designs are to be read at their start, saves the study, and starts; tells what is refused. */
  const starting = async <T>(designs: readonly string[], start: (studyId: string) => Promise<T>) => {
    const { studyId } = get();
    if (!studyId) return undefined;
    set({ refusal: undefined });
    try {
      for (const designId of designs.filter(readsFilesAtStart)) {
        const unread = await (await import("../tables/linked/readAtStart.ts")).readAtStart(designId);
        if (unread === undefined) continue;
        set({ refusal: { message: unread, problems: [] } });
        return undefined;
      }
      await useStudy.getState().flush();
      return await start(studyId);
    } catch (error) {
      set({ refusal: refusalOf(error) });
      return undefined;
    }
  };
  return {
    studyId: undefined,
    runs: [],
    figures: new Map(),
    refusal: undefined,

    follow(studyId) {
      if (get().studyId !== studyId) set({ studyId, runs: [], figures: new Map(), refusal: undefined });
      const refresh = () =>
        void api.runs(studyId).then(
          (listed) =>
            get().studyId === studyId &&
            set(({ runs }) => {
              const known = new Map(runs.map((run) => [run.id, run]));
              return {
                runs: listed.map((run) => {
                  const before = known.get(run.id);
                  return before && before.asOf > run.asOf ? before : run;
                }),
              };
            }),
          () => undefined,
        );
      return listenToRuns(studyId, put, refresh);
    },

    start: (designId) =>
      starting([designId], async (studyId) => {
        const run = await api.startRun(studyId, { designId });
        put(run);
        return run;
      }),

    async cancel(id) {
      try {
        put(await api.cancelRun(id));
      } catch (error) {
        announce(error instanceof Error ? error.message : String(error), true);
      }
    },

    startScenarios: (plan, scenarios, selection) =>
      begin(plan, (studyId) => api.startScenarios(studyId, plan, scenarios, selection)),

    startSearch: (plan) => begin(plan, (studyId) => api.startSearch(studyId, plan)),

    async goOn(runs) {
      try {
        for (const { id, replications } of runs) put(await api.continueRun(id, replications));
      } catch (error) {
        announce(error instanceof Error ? error.message : String(error), true);
      }
    },

    async repeat({ id }) {
      try {
        const again = await api.repeatRun(id);
        put(again);
        return again;
      } catch (error) {
        announce(error instanceof Error ? error.message : String(error), true);
        return undefined;
      }
    },

    async remove(runs) {
      const restore = async () => {
        for (const { id } of runs) put(await api.restoreRun(id));
      };
      const tell = (error: unknown) => announce(error instanceof Error ? error.message : String(error), true);
      try {
        for (const run of runs) {
          await api.removeRun(run.id);
          put({ ...newest(run), deleted: true });
        }
        announce(
          runs.length === 1 ? `Run ${runs[0].number} is taken away.` : `${runs.length} runs are taken away.`,
          false,
          { label: "Undo", run: () => void restore().catch(tell) },
        );
      } catch (error) {
        tell(error);
      }
    },

    async describe(run, changes) {
      const before = { name: run.name, note: run.note };
      const send = async (said: ChangedRun) => {
        // Shown at once; the server's answer is what holds.
        put({ ...newest(run), ...before, ...said });
        put(await api.describeRun(run.id, said));
      };
      const tell = (error: unknown) => {
        put({ ...newest(run), ...before });
        announce(error instanceof Error ? error.message : String(error), true);
      };
      try {
        await send(changes);
        const what = changes.name === undefined ? "The note of the run" : "The name of the run";
        announce(`${what} is kept.`, false, { label: "Undo", run: () => void send(before).catch(tell) });
      } catch (error) {
        tell(error);
      }
    },

    async fetchFigures(id) {
      const known = get().figures.get(id);
      const [measures, statistics] = await Promise.all([known?.measures ?? api.measures(id), api.statistics(id)]);
      set(({ figures }) => ({
        figures: new Map(figures).set(id, { columns: new Map(), ...figures.get(id), measures, statistics }),
      }));
    },

    followFigures(id) {
      let figures: LiveFigures | undefined;
      const stop = listenToFigures(
        id,
        ({ statistics, replications }) => {
          figures = new LiveFigures(statistics, replications);
          // Columns may lack what ended while nothing came.
          putFigures(id, () => ({ statistics: figures!.numbers, columns: new Map() }));
          live.add(id);
        },
        (news) => putFigures(id, (known) => (figures ? figures.add(known, news) : {})),
      );
      return () => {
        live.delete(id);
        stop();
      };
    },

    async fetchColumns(id, wanted, all = false) {
      if (!get().figures.has(id)) await get().fetchFigures(id);
      // Columns of a run that is followed are up to date once they are there.
      const measures = live.has(id) ? wanted.filter((m) => !get().figures.get(id)?.columns.has(m)) : wanted;
      // Those that are known as far are fetched together.
      const groups = new Map<number, number[]>();
      for (const measure of measures) {
        const after = knownUpTo(get().figures.get(id)?.columns.get(measure));
        groups.set(after, [...(groups.get(after) ?? []), measure]);
      }
      for (const [known, group] of groups) {
        for (let from = 0; from < group.length; from += MOST_COLUMNS) {
          const some = group.slice(from, from + MOST_COLUMNS);
          const most = all ? MOST_ROWS : SHOWN_ROWS;
          for (let after = known; all || after < SHOWN_ROWS;) {
            const found = await api.columns(id, some, after, most);
            const whole = found.replications.length < most;
            putFigures(id, ({ columns }) => ({
              columns: new Map([
                ...columns,
                ...some.map(
                  (measure, i) =>
                    [
                      measure,
                      longer(columns.get(measure), after, found.replications, found.values[i], found.errors[i]),
                    ] as const,
                ),
              ]),
            }));
            if (whole || !all) break;
            after = found.replications[found.replications.length - 1];
          }
        }
      }
    },

    clearRefusal: () => set({ refusal: undefined }),
  };
});

const refusalOf = (error: unknown): NonNullable<RunsState["refusal"]> => ({
  message: error instanceof Error ? error.message : String(error),
  problems: error instanceof ApiProblem ? (error.document.problems ?? []) : [],
});

/** Runs of designs as they are: those of scenarios belong to their experiments. */
export const runsOfDesigns = (runs: readonly RunSummary[]): RunSummary[] => runs.filter(({ plan }) => plan === "");

/** The replication up to which none is missing: they may end in another order than they began. */
function knownUpTo(column: Column | undefined): number {
  let known = 0;
  while (column && column.replications[known] === known + 1) known += 1;
  return known;
}

/** A column with what follows a replication. */
function longer(
  column: Column | undefined,
  after: number,
  replications: readonly number[],
  values: readonly (number | null)[],
  errors: readonly number[] | null,
): Column {
  const kept = column?.replications.filter((r) => r <= after).length ?? 0;
  const before = column?.errors?.slice(0, kept) ?? (errors ? new Array<number>(kept).fill(0) : undefined);
  return {
    replications: [...(column?.replications.slice(0, kept) ?? []), ...replications],
    values: [...(column?.values.slice(0, kept) ?? []), ...values.map((v) => v ?? Number.NaN)],
    errors: before && [...before, ...(errors ?? new Array<number>(replications.length).fill(0))],
  };
}

/** The designs that an experiment of the open study runs. */
function designsOf(plan: string): string[] {
  const experiment = useStudy.getState().history?.present.experiments?.find(({ id }) => id === plan);
  const ids = [...(experiment?.scenarios ?? []).map(({ design }) => design), experiment?.search?.design];
  return [...new Set(ids.filter((id) => id !== undefined))];
}

/** Whether a design has tables whose files are read when a run of it starts. */
function readsFilesAtStart(designId: string): boolean {
  const { history } = useStudy.getState();
  const design = history?.present.designs.find(({ id }) => id === designId);
  return (
    history !== undefined &&
    design !== undefined &&
    tablesOf(history.present.tables, design.tables).some(({ link }) => link?.atStart)
  );
}
