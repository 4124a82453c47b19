import {
  compile,
  type Program,
  readStudyText,
  type ReplicationResult,
  run,
  runLong,
  type SessionOptions,
} from "@busy-harbor/core";
import { packed, type PackedResult, type ReplicationJob } from "./runs/job.ts";
import { KeptWriter } from "./runs/keptFiles.ts";
import { ObservationsWriter } from "./runs/observationsFile.ts";
import { RowsWriter } from "./runs/rowFiles.ts";

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
 * Runs replications one after another, until one fails or the run is stopped; or all batches of a long run, which go
 * out by its port.
 */
export default function replicate(job: ReplicationJob): PackedResult[] {
  const results: PackedResult[] = [];
  for (const replication of job.replications) {
    const result = written(job, replication);
    if (!result) break;
    results.push(packed(result));
    if (result.failure || isStopped(job)) break;
  }
  return results;
}

const isStopped = ({ stop }: ReplicationJob): boolean => Atomics.load(stop, 0) === 1;

/** One replication, with what is written while it runs; undefined when the run was stopped meanwhile. */
function written(job: ReplicationJob, replication: number): ReplicationResult | undefined {
  const { observations, rows, kept } = job;
  const { settings, logic } = programOf(job).model;
  const writesRows = rows !== undefined && (logic?.written ?? []).length > 0;
  const keeps = kept !== undefined && (settings.kept ?? []).length > 0;
  if (observations === undefined && !writesRows && !keeps) return replicateWith(job, replication, {});
  try {
    const observer =
      observations === undefined ? undefined : new ObservationsWriter(programOf(job), observations, replication);
    const writer = writesRows ? new RowsWriter(programOf(job), rows, replication) : undefined;
    const keeper = keeps ? new KeptWriter(programOf(job), kept, replication) : undefined;
    let result: ReplicationResult | undefined;
    try {
      const told = { observe: observer?.observe, wrote: writer?.wrote, keep: keeper?.keep };
      result = replicateWith(job, replication, told);
    } finally {
      observer?.end(result !== undefined);
      writer?.end(result !== undefined);
      keeper?.end(result !== undefined);
    }
    return result;
  } catch (error) {
    if (!isOfSystem(error)) throw error;
    // The disk took no more: what was observed is wanted, so the run ends, and says why.
    const failure = {
      code: "not-written" as const,
      message: `${observations === undefined && !keeps ? "The rows" : "The observations"} cannot be written: ${error.message}.`,
      hint: "Make room where the data folder is, or run without writing them.",
      time: 0,
    };
    const failed = { replication, values: [], events: 0, until: 0, failure };
    job.long?.port.postMessage(packed(failed));
    job.long?.port.postMessage(undefined);
    return failed;
  }
}

/** Whether an error is what the system said of a file. */
const isOfSystem = (error: unknown): error is { readonly message: string } =>
  typeof error === "object" && error !== null && "syscall" in error && "message" in error;

function replicateWith(
  job: ReplicationJob,
  replication: number,
  told: Pick<SessionOptions, "observe" | "wrote" | "keep">,
): ReplicationResult | undefined {
  const stopped = () => isStopped(job);
  const { seed, long } = job;
  if (!long) return run(programOf(job), { seed, replication, ...told }, stopped);
  const results = runLong(programOf(job), { seed, batches: long.batches, ...told }, stopped, (batch) =>
    long.port.postMessage(packed(batch)),
  );
  // A worker that waits for its next job closes nothing, so the end is told.
  long.port.postMessage(undefined);
  return results?.at(-1);
}
