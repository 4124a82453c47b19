import type { Experiment } from "@busy-harbor/core/contract";
import { useEffect, useMemo, useRef, useState } from "react";
import { api } from "../../api/client.ts";
import { useRuns } from "../../state/runs.ts";
import { announce } from "../../ui/announce.ts";
import { isActive } from "../scenarioRuns.ts";

/** Milliseconds between two looks at what goes on. */
const BETWEEN = 500;

/** The latest of what was started of an experiment of the study that is of a kind, kept up to date. */
export function useLatest(plan: string, isWanted: (experiment: Experiment) => boolean): Experiment | undefined {
  const runs = useRuns((s) => s.runs);
  const ids = useMemo(
    () => [...new Set(runs.filter((r) => r.plan === plan).map(({ experimentId }) => experimentId))],
    [runs, plan],
  );
  const finished = runs.reduce((sum, r) => (r.plan === plan ? sum + r.finished + Number(isActive(r)) : sum), 0);
  const [known, setKnown] = useState<Experiment>();
  const latest = useRef(isWanted);
  useEffect(() => void (latest.current = isWanted));
  const wanted = ids.join();
  useEffect(() => {
    let isHere = true;
    const look = async () => {
      // The latest come first.
      for (const id of wanted === "" ? [] : wanted.split(",")) {
        const found = await api.experiment(id);
        if (!isHere) return;
        if (latest.current(found)) return setKnown(found);
      }
      setKnown(undefined);
    };
    const timer = setTimeout(
      () =>
        void look().catch((error: unknown) => announce(error instanceof Error ? error.message : String(error), true)),
      BETWEEN,
    );
    return () => {
      isHere = false;
      clearTimeout(timer);
    };
  }, [wanted, finished]);
  return known;
}
