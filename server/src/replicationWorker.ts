import { compile, type Program, readStudyText, type ReplicationResult, run } from "@busy-harbor/core";
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

/** Runs one replication; undefined when the run was stopped meanwhile. */
export default function replicate(job: ReplicationJob): ReplicationResult | undefined {
  return run(programOf(job), { seed: job.seed, replication: job.replication }, () => Atomics.load(job.stop, 0) === 1);
}
