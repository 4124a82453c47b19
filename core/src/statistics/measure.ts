import type { Dimension } from "../quantity/index.ts";

/** What one figure of the results is; the same for every replication of a design. */
export interface MeasureInfo {
  /** Stable across copies of a design: owner's id, then the measure's own name. */
  readonly key: string;
  readonly ownerId: string;
  /** Name of the element, link or entity type. */
  readonly owner: string;
  readonly ownerKind: string;
  /** Name of the measure, such as `wait.mean`; defined in docs/measures.md. */
  readonly id: string;
  readonly label: string;
  readonly dimension: Dimension;
}

/** A measure with the means of reading it from a running replication. */
export interface Measure extends MeasureInfo {
  readonly read: () => number;
  /**
   * By how much the value may be off, in its unit; absent where it is exact, as all but quantiles of many
   * observations are.
   */
  readonly error?: () => number;
}
