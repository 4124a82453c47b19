import type { MessagePort } from "node:worker_threads";
import type { ReplicationResult } from "@busy-harbor/core";

/** A replication as a thread hands it over: plain bytes are copied at once, however many they are. */
export interface PackedResult extends Omit<ReplicationResult, "values"> {
  readonly values: Float64Array;
}

export const packed = ({ values, ...result }: ReplicationResult): PackedResult => ({
  ...result,
  values: Float64Array.from(values, (value) => (Number.isFinite(value) ? value : Number.NaN)),
});

/** Replications of one run for a worker thread. */
export interface ReplicationJob {
  /** Hash of the text, by which a thread knows what it has compiled. */
  readonly documentId: string;
  /** Text of a study with the one design that runs. */
  readonly snapshot: string;
  readonly designId: string;
  readonly seed: number;
  /** Several where each takes little time: handing over would take longer. */
  readonly replications: readonly number[];
  /** A long run, all of whose batches are made by one job, and where each goes as it ends; after the last, nothing. */
  readonly long?: { readonly batches: number; readonly port: MessagePort };
  /** Folder that observations are written to, where they are wanted. */
  readonly observations?: string;
  /** Folder that rows are written to which steps write. */
  readonly rows?: string;
  /** Folder that what is kept of chosen measures is written to. */
  readonly kept?: string;
  /** Shared: 1 once the run is to stop. */
  readonly stop: Int32Array;
}
