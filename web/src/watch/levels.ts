import { type Design, type Frame, kindOf } from "@busy-harbor/core";

/** How many stood at a place over time, as it was seen frame by frame. */
export interface LevelTrace {
  readonly name: string;
  readonly times: number[];
  readonly values: number[];
}

/** Points kept a trace; beyond that every second one is dropped, so the whole run stays in view. */
const MOST_POINTS = 600;

/** Adds a frame to the traces of all lines. */
export function recordLevels(traces: LevelTrace[], frame: Frame, design: Design): void {
  const places = design.elements.flatMap((e, i) => (kindOf(e).hasLine ? [{ name: e.name, i }] : []));
  places.forEach(({ name, i }, n) => {
    const trace = (traces[n] ??= { name, times: [], values: [] });
    trace.times.push(frame.time);
    trace.values.push(frame.counts[i]);
    if (trace.times.length > MOST_POINTS) {
      for (const list of [trace.times, trace.values]) {
        const half = list.filter((_, k) => k % 2 === 0);
        list.splice(0, list.length, ...half);
      }
    }
  });
}
