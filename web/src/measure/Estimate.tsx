import { formatDuration, formatNumber, type Study } from "@busy-harbor/core";
import { wrap } from "comlink";
import { useEffect, useState } from "react";
import type { EstimateThread } from "./estimate.worker.ts";

/** Milliseconds that changes rest before a replication is tried out. */
const REST = 800;

/** About how long a run takes, before it starts: a replication is tried out for a moment, on a thread of its own. */
export function Estimate({ study, designId }: { study: Study; designId: string }) {
  const [each, setEach] = useState<number>();
  const { designs, run, calendars, tables, streams, variables } = study;
  const design = designs.find(({ id }) => id === designId);
  // What is only told or drawn has no part in it.
  const { length, warmUp, kind, ends, condition, count, endDate, nights } = run;
  useEffect(() => {
    let worker: Worker | undefined;
    const timer = setTimeout(() => {
      worker = new Worker(new URL("./estimate.worker.ts", import.meta.url), { type: "module" });
      wrap<EstimateThread>(worker)
        .estimate(JSON.stringify({ ...study, designs: [design], drawings: [], experiments: undefined }), designId)
        .then(setEach, () => setEach(undefined))
        .finally(() => worker?.terminate());
    }, REST);
    return () => {
      clearTimeout(timer);
      worker?.terminate();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the study only what makes the time
  }, [
    design,
    designId,
    calendars,
    tables,
    streams,
    variables,
    length,
    warmUp,
    kind,
    ends,
    condition,
    count,
    endDate,
    nights,
  ]);
  if (each === undefined) return null;
  const threads = kind === "long" ? 1 : Math.max(1, Math.min(navigator.hardwareConcurrency, run.replications));
  const replications = kind === "long" ? 1 : run.replications;
  const seconds = (each * replications) / threads;
  const words = seconds < 1 ? "less than a second" : `about ${formatDuration(seconds, 1)}`;
  return (
    <p className="pt-1 text-xs text-soft" data-testid="estimate">
      {run.precision
        ? `A replication takes ${each < 0.01 ? "less than 0.01 s" : `about ${formatNumber(each, 2)} s`}; how many the precision needs is told from the first ten.`
        : `A run takes ${words}${threads > 1 ? ` on ${threads} threads` : ""}.`}
    </p>
  );
}
