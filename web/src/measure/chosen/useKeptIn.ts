import type { KeptInRun, RunSummary } from "@busy-harbor/core/contract";
import { useEffect, useState } from "react";
import { api } from "../../api/client.ts";
import { announce } from "../../ui/announce.ts";

/** What is kept one by one of a run, once some of it is there; undefined before, and of a run that keeps nothing. */
export function useKeptIn({ id, settings, finished, state }: RunSummary): KeptInRun | undefined {
  const [found, setFound] = useState<KeptInRun>();
  const some = finished > 0 && (settings.kept?.length ?? 0) > 0;
  const isOver = state !== "running" && state !== "queued";
  useEffect(() => {
    setFound(undefined);
    if (!some) return;
    let wanted = true;
    api.kept(id).then(
      (kept) => wanted && setFound(kept),
      (error: unknown) => announce(error instanceof Error ? error.message : String(error), true),
    );
    return () => void (wanted = false);
  }, [id, some, isOver]);
  return found;
}
