import {
  compile,
  type Observe,
  type Program,
  readStudyText,
  type ReplicationResult,
  run,
  runLong,
} from "@busy-harbor/core";
import type { ReplicationJob } from "./runs/job.ts";
import { ObservationsWriter } from "./runs/observationsFile.ts";

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
  if (job.observations === undefined) return replicateWith(job, undefined);
  try {
    const writer = new ObservationsWriter(programOf(job), job.observations, job.replication);
    let result: ReplicationResult | undefined;
    try {
      result = replicateWith(job, writer.observe);
    } finally {
      writer.end(result !== undefined);
    }
    return result;
  } catch (error) {
    if (!isOfSystem(error)) throw error;
    // The disk took no more: what was observed is wanted, so the run ends, and says why.
    const failure = {
      code: "not-written" as const,
      message: `The observations cannot be written: ${error.message}.`,
      hint: "Make room where the data folder is, or run without writing observations.",
      time: 0,
    };
    const failed = { replication: job.replication, values: [], events: 0, until: 0, failure };
    job.long?.port.postMessage(failed);
    job.long?.port.postMessage(undefined);
    return failed;
  }
}

/** Whether an error is what the system said of a file. */
const isOfSystem = (error: unknown): error is { readonly message: string } =>
  typeof error === "object" && error !== null && "syscall" in error && "message" in error;

function replicateWith(job: ReplicationJob, observe: Observe | undefined): ReplicationResult | undefined {
  const stopped = () => Atomics.load(job.stop, 0) === 1;
  const { seed, replication, long } = job;
  if (!long) return run(programOf(job), { seed, replication, observe }, stopped);
  const results = runLong(programOf(job), { seed, batches: long.batches, observe }, stopped, (batch) =>
    long.port.postMessage(batch),
  );
  // A worker that waits for its next job closes nothing, so the end is told.
  long.port.postMessage(undefined);
  return results?.at(-1);
}
