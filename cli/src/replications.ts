import { Worker } from "node:worker_threads";
import type { ReplicationResult, RunSettings, Study } from "@busy-harbor/core";

/** Replications of a study's design. */
export interface Work {
  readonly study: Study;
  readonly designId: string;
  readonly replications: readonly number[];
}

/** What a worker thread is given: its share, done in order. */
export interface Share {
  readonly works: readonly Work[];
  /** Folder for the rows that steps write, where they are wanted. */
  readonly rows: string | undefined;
}

const allOf = ({ replications }: RunSettings): number[] => Array.from({ length: replications }, (_, r) => r + 1);

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
  const shares = Array.from({ length: count }, (_, t) => allOf(settings).filter((r) => (r - 1) % count === t));
  const results = await Promise.all(
    shares.map((replications) =>
      work({ works: [{ study: { ...study, run: settings }, designId, replications }], rows }),
    ),
  );
  return inOrder(results.flat(2));
}

/** Runs several designs, each in its study as that says: each on one thread, or shared where there are fewer. */
export async function runAll(
  designs: readonly { readonly study: Study; readonly designId: string }[],
  threads: number,
): Promise<ReplicationResult[][]> {
  if (designs.length < threads) {
    const all = [];
    for (const { study, designId } of designs) all.push(await runReplications(study, designId, study.run, threads));
    return all;
  }
  const found: ReplicationResult[][] = [];
  await Promise.all(
    Array.from({ length: threads }, async (_, t) => {
      const mine = designs.map((_d, i) => i).filter((i) => i % threads === t);
      const works = mine.map((i) => ({ ...designs[i], replications: allOf(designs[i].study.run) }));
      (await work({ works, rows: undefined })).forEach((results, k) => (found[mine[k]] = inOrder(results)));
    }),
  );
  return found;
}

/** Runs some replications of each of several designs, spread over threads; the results come in order. */
export async function runPieces(works: readonly Work[], threads: number): Promise<ReplicationResult[][]> {
  const shares = Array.from({ length: threads }, (_, t) =>
    works
      .map(({ study, designId, replications }, at) => ({
        at,
        study,
        designId,
        replications: replications.filter((r) => r % threads === t),
      }))
      .filter(({ replications }) => replications.length > 0),
  ).filter((share) => share.length > 0);
  const found: ReplicationResult[][] = works.map(() => []);
  await Promise.all(
    shares.map(async (share) => {
      const results = await work({ works: share, rows: undefined });
      results.forEach((of, k) => found[share[k].at].push(...of));
    }),
  );
  return found.map(inOrder);
}

const inOrder = (results: readonly ReplicationResult[]): ReplicationResult[] =>
  [...results].sort((a, b) => a.replication - b.replication);

function work(share: Share): Promise<ReplicationResult[][]> {
  const worker = new Worker(new URL("./replicationWorker.cjs", import.meta.url), { workerData: share });
  return new Promise((resolve, reject) => {
    worker.once("message", resolve);
    worker.once("error", reject);
  });
}
