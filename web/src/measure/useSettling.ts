import type { Study } from "@busy-harbor/core";
import { proxy, wrap } from "comlink";
import { useEffect, useState } from "react";
import type { Settled, SettlingThread } from "./settling.worker.ts";

/** Replications that are run, and pieces that each is cut into. */
export const REPLICATIONS = 10;
export const PIECES = 200;

export interface Settling {
  readonly settled: Settled | undefined;
  /** Replications that have ended. */
  readonly done: number;
  readonly problem: string | undefined;
}

/** Runs a few replications of a design in a thread of its own, from when it is first asked until it is left. */
export function useSettling(study: Study, designId: string): Settling {
  const [found, setFound] = useState<Settling>({ settled: undefined, done: 0, problem: undefined });
  // The study as it was when it was asked: what is changed meanwhile is the warm-up alone, which plays no part.
  const [text] = useState(() => JSON.stringify(study));
  useEffect(() => {
    const worker = new Worker(new URL("./settling.worker.ts", import.meta.url), { type: "module" });
    let wanted = true;
    wrap<SettlingThread>(worker)
      .settle(
        text,
        designId,
        { replications: REPLICATIONS, pieces: PIECES },
        proxy(async (done: number) => {
          if (wanted) setFound((before) => ({ ...before, done }));
          return Promise.resolve();
        }),
      )
      .then(
        (settled) => wanted && setFound({ settled, done: REPLICATIONS, problem: undefined }),
        (error: unknown) =>
          wanted &&
          setFound((before) => ({ ...before, problem: error instanceof Error ? error.message : String(error) })),
      )
      .finally(() => worker.terminate());
    return () => {
      wanted = false;
      worker.terminate();
    };
  }, [text, designId]);
  return found;
}
