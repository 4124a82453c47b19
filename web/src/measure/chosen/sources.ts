import { sourceOf } from "@busy-harbor/core";
import type { KeptInRun } from "@busy-harbor/core/contract";
import type { Reading } from "../readings.ts";

/** The position of what is kept of a reading's measure; undefined where it is not. */
export function positionOf({ measure }: Reading, { sources }: KeptInRun): number | undefined {
  const id = sourceOf(measure);
  const at = sources.findIndex((s) => s.id === id && (s.part === undefined || s.part === measure.part));
  return at < 0 ? undefined : at;
}

/** What is kept, with the figure that stands for it. */
export interface Followed {
  readonly source: number;
  readonly reading: Reading;
}

/** All that is kept of a run, each with its mean or its share. */
export function followedIn(readings: readonly Reading[], kept: KeptInRun): readonly Followed[] {
  const found = new Map<number, Reading>();
  for (const reading of readings) {
    const source = positionOf(reading, kept);
    const { part } = reading.measure;
    if (source === undefined || (found.has(source) && part !== "mean")) continue;
    found.set(source, reading);
  }
  return [...found].map(([source, reading]) => ({ source, reading }));
}
