import { compile, type Program, readStudyText, type ReplicationResult, run, runLong } from "@busy-harbor/core";
import type { ReplicationJob } from "./runs/job.ts";

/** Programs of what was run last: replications of a few runs come by turns. */
const programs = new Map<string, Program>();
const MOST_PROGRAMS = 4;

function programOf({ documentId, snapshot, designId }: ReplicationJob): Program {
  let program = programs.get(documentId);
  if (!program) {
    const read = readStudyText(snapshot);
    program = read.ok ? compile(read.study, designId).program : undefined;
    if (!program) throw new Error(`The design of document ${documentId} cannot be compiled.`);
    for (const old of programs.keys()) if (programs.size >= MOST_PROGRAMS) programs.delete(old);
  } else programs.delete(documentId);
  // The last used is the last to go.
  programs.set(documentId, program);
  return program;
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
