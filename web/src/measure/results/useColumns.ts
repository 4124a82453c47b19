import type { RunSummary } from "@busy-harbor/core/contract";
import { useEffect } from "react";
import type { Column } from "../../state/figures.ts";
import { useRuns } from "../../state/runs.ts";

/** Values of the measures that are wanted, fetched when these change or more replications have ended. */
export function useColumns(
  run: RunSummary | undefined,
  wanted: readonly number[],
): ReadonlyMap<number, Column> | undefined {
  const id = run?.id;
  const columns = useRuns((s) => (id === undefined ? undefined : s.figures.get(id)?.columns));
  const fetchColumns = useRuns((s) => s.fetchColumns);
  const list = wanted.join(",");
  useEffect(() => {
    if (id === undefined) return;
    // Scrolling passes many rows; those it rests on are fetched. What fails is tried again with the next change.
    const timer = setTimeout(
      () => void fetchColumns(id, list === "" ? [] : list.split(",").map(Number)).catch(() => undefined),
      60,
    );
    return () => clearTimeout(timer);
  }, [id, run?.finished, list, fetchColumns]);
  return columns;
}
