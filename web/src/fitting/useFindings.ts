import type { Goodness } from "@busy-harbor/core/fitting";
import { wrap } from "comlink";
import { useEffect, useState } from "react";
import type { Findings, FitThread } from "./fit.worker.ts";

export interface Working {
  readonly findings?: Findings;
  /** P-values worked out so far, by distribution. */
  readonly chances: ReadonlyMap<string, Goodness>;
  readonly failure?: string;
}

const NOTHING_YET: Working = { chances: new Map() };

/** Fits distributions in a thread of their own, then works out p-values one after another; stops when it is left. */
export function useFindings(values: Float64Array): Working {
  const [state, setState] = useState<{ readonly of: Float64Array; readonly working: Working }>();
  useEffect(() => {
    let isOver = false;
    const worker = new Worker(new URL("./fit.worker.ts", import.meta.url), { type: "module" });
    const thread = wrap<FitThread>(worker);
    const tell = (working: Working) => !isOver && setState({ of: values, working });
    const work = async () => {
      const findings = await thread.find(values);
      const chances = new Map<string, Goodness>();
      tell({ findings, chances });
      for (const fit of findings.fits) {
        if (isOver) return;
        chances.set(fit.name, await thread.chances(fit, values.length));
        tell({ findings, chances: new Map(chances) });
      }
    };
    work()
      .catch((error: unknown) =>
        tell({ chances: new Map(), failure: error instanceof Error ? error.message : String(error) }),
      )
      .finally(() => worker.terminate());
    return () => {
      isOver = true;
      worker.terminate();
    };
  }, [values]);
  return state?.of === values ? state.working : NOTHING_YET;
}
