import { Worker } from "node:worker_threads";
import type { ReplicationResult, RunSettings, Study } from "@busy-harbor/core";

/** What a worker thread is given: a study, and the replications that are its share. */
export interface Share {
  readonly study: Study;
  readonly designId: string;
  readonly replications: readonly number[];
  /** Folder for the rows that steps write, where they are wanted. */
  readonly rows: string | undefined;
}

/** Runs replications 1 to n on worker threads; the results come in order, the same whatever the number of threads. */
export async function runReplications(
  study: Study,
  designId: string,
  settings: RunSettings,
  threads: number,
  rows?: string,
): Promise<ReplicationResult[]> {
  // A long run is one replication, and so one thread's.
  const count = settings.kind === "long" ? 1 : Math.max(1, Math.min(threads, settings.replications));
  const shares = Array.from({ length: count }, (_, t) =>
    Array.from({ length: settings.replications }, (_, r) => r + 1).filter((r) => (r - 1) % count === t),
  );
  const results = await Promise.all(
    shares.map((replications) => work({ study: { ...study, run: settings }, designId, replications, rows })),
  );
  return results.flat().sort((a, b) => a.replication - b.replication);
}

function work(share: Share): Promise<ReplicationResult[]> {
  const worker = new Worker(new URL("./replicationWorker.cjs", import.meta.url), { workerData: share });
  return new Promise((resolve, reject) => {
    worker.once("message", resolve);
    worker.once("error", reject);
  });
}
