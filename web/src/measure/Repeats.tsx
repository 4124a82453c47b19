import { COUNTED_IN } from "@busy-harbor/core";
import type { RunSummary, SameBits } from "@busy-harbor/core/contract";
import { useEffect, useState } from "react";
import { api } from "../api/client.ts";
import { useRuns } from "../state/runs.ts";

/** Of a run that repeats another: whether all their numbers are the same, to the last bit. */
export function Repeats({ run }: { run: RunSummary }) {
  const { id, repeats, finished, state } = run;
  const original = useRuns((s) => s.runs.find((r) => r.id === repeats));
  const [found, setFound] = useState<SameBits>();
  const isOver = state !== "running" && state !== "queued";
  useEffect(() => {
    if (repeats === "" || !isOver || finished === 0) return;
    let wanted = true;
    api.sameAs(id, repeats).then(
      (same) => wanted && setFound(same),
      () => undefined,
    );
    return () => void (wanted = false);
  }, [id, repeats, isOver, finished]);
  if (repeats === "") return null;
  const [one, many] = COUNTED_IN[run.settings.kind];
  const name = original ? `run ${original.number}` : "a run that was taken away";
  return (
    <p className="pb-2" data-testid="repeats">
      {!found
        ? `It repeats ${name}.`
        : found.differing === 0
          ? `It repeats ${name}: all numbers of ${found.compared} ${found.compared === 1 ? one : many} are the same to the last bit.`
          : `It repeats ${name}, but ${found.differing} of ${found.compared} ${many} have other numbers. They were made by another version of the program.`}
    </p>
  );
}
