import type { Experiment } from "@busy-harbor/core/contract";
import { useEffect, useMemo, useRef, useState } from "react";
import { api } from "../../api/client.ts";
import { useRuns } from "../../state/runs.ts";
import { announce } from "../../ui/announce.ts";
import { isActive } from "../scenarioRuns.ts";

/** Milliseconds between two looks at what goes on. */
const BETWEEN = 500;

/** The latest of what was started of an experiment of the study that is of a kind, kept up to date. */
export function useLatest(plan: string, isWanted: (experiment: Experiment) => boolean) {
  const runs = useRuns((s) => s.runs);
  const ids = useMemo(
    () => [...new Set(runs.filter((r) => r.plan === plan).map(({ experimentId }) => experimentId))],
    [runs, plan],
  );
  const finished = runs.reduce((sum, r) => (r.plan === plan ? sum + r.finished + Number(isActive(r)) : sum), 0);
  const [known, setKnown] = useState<Experiment>();
  const lookedAt = useRef(-Infinity);
  const looks = useRef({ begun: 0, shown: 0 });
  const latest = useRef(isWanted);
  useEffect(() => void (latest.current = isWanted));
  const wanted = ids.join();
  useEffect(() => {
    const look = async () => {
      const number = ++looks.current.begun;
      let found: Experiment | undefined;
      // The latest come first.
      for (const id of wanted === "" ? [] : wanted.split(",")) {
        const one = await api.experiment(id);
        if (!latest.current(one)) continue;
        found = one;
        break;
      }
      // What was asked for later may have come before.
      if (number < looks.current.shown) return;
      looks.current.shown = number;
      setKnown(found);
    };
    // At most so often, however often something changes.
    const timer = setTimeout(
      () => {
        lookedAt.current = performance.now();
        look().catch((error: unknown) => announce(error instanceof Error ? error.message : String(error), true));
      },
      Math.max(0, lookedAt.current + BETWEEN - performance.now()),
    );
    return () => clearTimeout(timer);
  }, [wanted, finished]);
  return [known, setKnown] as const;
}
