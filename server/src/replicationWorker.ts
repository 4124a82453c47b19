import { compile, type Program, readStudyText, type ReplicationResult, run, runLong } from "@busy-harbor/core";
import type { ReplicationJob } from "./runs/job.ts";

/** The program of the run last worked on: replications of one run come in a row. */
let last: { readonly run: string; readonly program: Program } | undefined;

function programOf({ run: id, snapshot, designId }: ReplicationJob): Program {
  if (last?.run !== id) {
    const read = readStudyText(snapshot);
    const program = read.ok ? compile(read.study, designId).program : undefined;
    if (!program) throw new Error(`The design of run ${id} cannot be compiled.`);
    last = { run: id, program };
  }
  return last.program;
}

/**
 * Runs one replication, or all batches of a long run, which go out by its port; undefined when the run was stopped
 * meanwhile.
 */
export default function replicate(job: ReplicationJob): ReplicationResult | undefined {
  const stopped = () => Atomics.load(job.stop, 0) === 1;
  const { seed, replication, long } = job;
  if (!long) return run(programOf(job), { seed, replication }, stopped);
  const results = runLong(programOf(job), { seed, batches: long.batches }, stopped, (batch) =>
    long.port.postMessage(batch),
  );
  // A worker that waits for its next job closes nothing, so the end is told.
  long.port.postMessage(undefined);
  return results?.at(-1);
}
