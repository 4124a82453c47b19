import type { RunSummary } from "@busy-harbor/core/contract";
import { useEffect, useMemo, useState } from "react";
import { create } from "zustand";
import { api } from "../api/client.ts";
import type { Column } from "../state/figures.ts";
import { announce } from "../ui/announce.ts";

/** Replications so far of a run, and what has been fetched of them. */
interface Fetched {
  readonly finished: number;
  /** By the measure's key; null where the run does not have it. */
  readonly columns: ReadonlyMap<string, Column | null>;
}

interface ResponsesState {
  readonly of: ReadonlyMap<string, Fetched>;
  fetch(runs: readonly RunSummary[], keys: readonly string[]): Promise<void>;
}

/** Runs asked for at a time. */
const AT_A_TIME = 100;
/** Milliseconds between two looks at runs that go on. */
const BETWEEN = 700;
/** Milliseconds after which it is tried again where the server did not answer. */
const AFTER_FAILING = 4000;

/** Measures of the runs of scenarios, by the keys of the measures. */
const useFetched = create<ResponsesState>((set, get) => ({
  of: new Map(),
  async fetch(runs, keys) {
    const lacking = runs.filter((run) => lacks(get().of.get(run.id), run, keys));
    for (let from = 0; from < lacking.length; from += AT_A_TIME) {
      const some = lacking.slice(from, from + AT_A_TIME);
      const found = await api.responses(
        some.map(({ id }) => id),
        keys,
      );
      set(({ of }) => {
        const next = new Map(of);
        found.forEach(({ run, replications, values }, i) => {
          const before = of.get(run);
          const kept = before?.finished === some[i].finished ? before.columns : [];
          next.set(run, {
            finished: some[i].finished,
            columns: new Map([
              ...kept,
              ...keys.map((key, k): [string, Column | null] => [key, columnOf(replications, values[k])]),
            ]),
          });
        });
        return { of: next };
      });
    }
  },
}));

const columnOf = (replications: readonly number[], values: readonly (number | null)[] | null): Column | null =>
  values && { replications, values: values.map((v) => v ?? Number.NaN), errors: undefined };

const lacks = (fetched: Fetched | undefined, { finished }: RunSummary, keys: readonly string[]): boolean =>
  finished > 0 && (fetched?.finished !== finished || keys.some((key) => !fetched.columns.has(key)));

/** A column of a run for a measure: undefined until fetched, null where the run does not have it. */
export type ColumnOf = (run: string, key: string) => Column | null | undefined;

/** Fetches measures of runs, follows those that go on, and gives what is there. */
export function useResponses(runs: readonly RunSummary[], keys: readonly string[]): ColumnOf {
  const of = useFetched((s) => s.of);
  const fetch = useFetched((s) => s.fetch);
  const isBehind = keys.length > 0 && runs.some((run) => lacks(of.get(run.id), run, keys));
  const isNew = isBehind && runs.some((run) => run.finished > 0 && !of.has(run.id));
  const [failed, setFailed] = useState(0);
  useEffect(() => {
    if (!isBehind) return;
    const timer = setTimeout(
      () =>
        void fetch(runs, keys).catch((error: unknown) => {
          announce(error instanceof Error ? error.message : String(error), true);
          setFailed((times) => times + 1);
        }),
      failed > 0 ? AFTER_FAILING : isNew ? 0 : BETWEEN,
    );
    return () => clearTimeout(timer);
    // While runs go on their list is another at each event; what is behind is fetched when the time has come.
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the lists are read when it comes to it
  }, [isBehind, isNew, of, fetch, failed, keys.join("\n")]);
  return useMemo<ColumnOf>(() => (run, key) => of.get(run)?.columns.get(key), [of]);
}
