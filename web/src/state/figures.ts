import type { MeasureInfo } from "@busy-harbor/core/contract";

/** Values of one measure by replication, in rising order of these. */
export interface Column {
  readonly replications: readonly number[];
  /** NaN where undefined. SI units. */
  readonly values: readonly number[];
  /** By how much they may be off; undefined where all are exact. */
  readonly errors: readonly number[] | undefined;
}

/** What has been fetched of a run's figures. */
export interface RunFigures {
  readonly measures: readonly MeasureInfo[];
  /** Of every measure, over the replications so far: see `STATISTICS_OF_A_MEASURE`. */
  readonly statistics: Float64Array;
  /** Columns that were asked for, by the measure's position. */
  readonly columns: ReadonlyMap<number, Column>;
}
