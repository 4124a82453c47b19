import type { Steps } from "@busy-harbor/core";

/** What a display says at one moment: NaN where nothing is known, as while the design is built. */
export interface Reading {
  readonly time: number | undefined;
  readonly values: ArrayLike<number>;
  /** Curves of what charts show, by the value's position among all. */
  readonly curves?: ReadonlyMap<number, Steps>;
  /** Position of the display's first value among all. */
  readonly first: number;
}
