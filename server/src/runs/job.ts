/** One replication for a worker thread. */
export interface ReplicationJob {
  readonly run: string;
  /** Text of a study with the one design that runs. */
  readonly snapshot: string;
  readonly designId: string;
  readonly seed: number;
  readonly replication: number;
  /** Batches of a long run, all made by one job. */
  readonly batches?: number;
  /** Shared: 1 once the run is to stop. */
  readonly stop: Int32Array;
}
