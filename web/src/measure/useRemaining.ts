import { formatDuration } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { useEffect, useRef, useState } from "react";

/** How long the rest of a run takes, by how fast it went since it was first seen. */
export function useRemaining({ id, state, finished, settings: { replications } }: RunSummary): string | undefined {
  const seen = useRef<{ readonly id: string; readonly at: number; readonly finished: number }>(undefined);
  const [words, setWords] = useState<string>();
  useEffect(() => {
    if (state !== "running") return setWords(undefined);
    const now = performance.now();
    if (seen.current?.id !== id) seen.current = { id, at: now, finished };
    const { at, finished: before } = seen.current;
    if (finished <= before) return;
    const seconds = ((now - at) / 1000 / (finished - before)) * (replications - finished);
    setWords(seconds < 1 ? "a second" : formatDuration(seconds, 2));
  }, [id, state, finished, replications]);
  return words;
}
