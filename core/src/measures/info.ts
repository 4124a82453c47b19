import type { Dimension } from "../quantity/index.ts";

/** What one figure of the results is; the same for every replication of a design. */
export interface MeasureInfo {
  /** Stable across copies of a design: owner's id, then the figure's own name. */
  readonly key: string;
  readonly ownerId: string;
  /** Name of the element, link or entity type. */
  readonly owner: string;
  readonly ownerKind: string;
  /** Name of the figure, such as `wait.mean`. */
  readonly id: string;
  /** Name of the measure that it is of, such as `wait`: see `specOf`. */
  readonly measure: string;
  /** Which figure of it, such as `mean`, where it has several. */
  readonly part?: string;
  /** Id of what it is for alone, such as an entity type. */
  readonly each?: string;
  readonly label: string;
  readonly dimension: Dimension;
}

/** A figure with the means of reading it from a running replication. */
export interface Measure extends MeasureInfo {
  readonly read: () => number;
  /**
   * By how much the value may be off, in its unit; absent where it is exact, as all but quantiles of many
   * observations are.
   */
  readonly error?: () => number;
}
