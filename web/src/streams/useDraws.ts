import type { Study } from "@busy-harbor/core";
import { wrap } from "comlink";
import { useCallback, useEffect, useRef, useState } from "react";
import { announce } from "../ui/announce.ts";
import type { DrawsCounted, DrawsThread } from "./draws.worker.ts";

interface Counting {
  /** What was counted of this study and design; undefined once they are others. */
  readonly counted: DrawsCounted | undefined;
  readonly isCounting: boolean;
  count(): void;
  stop(): void;
}

/** Counts, in a thread of its own, what each stream draws in the first replication of a design. */
export function useDraws(study: Study, designId: string): Counting {
  const [found, setFound] = useState<{ readonly of: Study; readonly design: string; readonly counted: DrawsCounted }>();
  const [isCounting, setCounting] = useState(false);
  const worker = useRef<Worker>(undefined);
  const stop = useCallback(() => {
    worker.current?.terminate();
    worker.current = undefined;
    setCounting(false);
  }, []);
  useEffect(() => () => worker.current?.terminate(), []);
  const count = () => {
    stop();
    const own = new Worker(new URL("./draws.worker.ts", import.meta.url), { type: "module" });
    worker.current = own;
    setCounting(true);
    wrap<DrawsThread>(own)
      .count(JSON.stringify(study), designId)
      .then(
        (counted) => worker.current === own && setFound({ of: study, design: designId, counted }),
        (error: unknown) => announce(error instanceof Error ? error.message : String(error), true),
      )
      .finally(() => worker.current === own && stop());
  };
  const isSame = found?.of === study && found.design === designId;
  return { counted: isSame ? found.counted : undefined, isCounting, count, stop };
}
