import type { Lowering } from "../lowering/lowering.ts";
import { type MeasureSpec, type MeasureSpecs, QUANTILES, ratio } from "../measures/spec.ts";
import type { CustomModel } from "../model/model.ts";
import { divideDimensions, NUMBER, TIME } from "../quantity/index.ts";
import { Level } from "../statistics/level.ts";
import { SignedTally } from "../statistics/signedTally.ts";
import type { Logic } from "./logic.ts";

const observed: MeasureSpec = {
  label: "Recorded",
  statistic: "tally",
  dimension: NUMBER,
  definition: "Over all values that steps recorded.",
  formula: "Σ x / n",
  parts: {
    mean: ", mean",
    least: ", least",
    max: ", largest",
    deviation: ", standard deviation",
    ...Object.fromEntries(QUANTILES.map((p) => [`p${p}`, `, ${p} % quantile`])),
  },
  definitions: { deviation: "Standard deviation of the values that steps recorded, by n - 1." },
};

/** What is measured of values that steps record. */
export const RECORDED_MEASURES = {
  recorded: observed,
  records: ratio("Values recorded", "How many values steps recorded.", "n"),
  level: {
    label: "Recorded level",
    statistic: "level",
    dimension: NUMBER,
    definition: "The value last recorded, over time: integral divided by the measured time.",
    formula: "(1/T) ∫ x(t) dt",
    parts: { mean: ", average", max: ", most", end: ", at the end" },
  },
  sum: ratio("Sum of what was recorded", "All values that steps recorded, added up.", "Σ x", {
    keeps: true,
  }),
  recordedRange: ratio(
    "Share of what was recorded in a range",
    "Values in the range, divided by all that steps recorded; of a level, the time in it divided by the measured time.",
    "n in the range / n, or (1/T) ∫ [from ≤ x(t) < to] dt",
    { each: "range" },
  ),
  inState: ratio("Share of time in a state", "Time in the state that was last recorded.", "(1/T) ∫ [in the state] dt", {
    each: "state",
  }),
  rate: ratio("Recorded per time", "Their sum divided by the measured time.", "Σ x / T"),
} as const satisfies MeasureSpecs;

/** Declares a measure that steps record into: as a whole, and by entity type where that is wanted. */
export function measureRecorded({ measure, bounds }: CustomModel, lowering: Lowering, logic: Logic | undefined): void {
  if (measure.kind !== "recorded") return;
  if (measure.as === "state") {
    logic?.recorders.add(measure.id, stateRecorder(measure, bounds, lowering));
    return;
  }
  const { model, kernel } = lowering;
  const type = model.logic?.recorded.get(measure.id);
  const dimension = type?.kind === "number" ? type.dimension : NUMBER;
  const recorders = [
    recorder(measure, lowering, dimension, undefined),
    ...(measure.byType ? model.types.map((one) => recorder(measure, lowering, dimension, one.type)) : []),
  ];
  if (bounds.length > 0) recorders[0] = both(recorders[0], rangeRecorder(measure, bounds, lowering));
  const [all, ...byType] = recorders;
  logic?.recorders.add(measure.id, (value, token) => {
    all(value);
    if (byType.length > 0 && token >= 0) byType[kernel.pool.typeOf(token)]?.(value);
  });
}

type Recorded = Extract<CustomModel["measure"], { kind: "recorded" }>;

function recorder(
  measure: Recorded,
  { meters, kernel }: Lowering,
  dimension: MeasureSpec["dimension"],
  each: { readonly id: string; readonly name: string } | undefined,
): (value: number) => void {
  const measured = meters.of(measure, "custom", RECORDED_MEASURES);
  const of = each ? { each } : {};
  if (measure.as === "level") {
    const level = meters.add(new Level(kernel.clock));
    measured.level("level", level, { ...of, dimension });
    return (value) => level.set(value);
  }
  const tally = meters.add(new SignedTally());
  measured.keeps(measure.as === "count" ? "sum" : "recorded", { tallies: () => [tally] }, of);
  if (measure.as === "count") {
    measured.add("sum", () => tally.sum, { ...of, dimension });
    measured.add("rate", () => tally.sum / meters.time, { ...of, dimension: divideDimensions(dimension, TIME) });
    measured.add("records", () => tally.count, of);
    return (value) => tally.add(value);
  }
  const part = (name: string, read: () => number, error?: () => number) =>
    measured.add("recorded", read, { ...of, dimension, part: name, ...(error ? { error } : {}) });
  part("mean", () => tally.mean);
  part("least", () => tally.least);
  part("max", () => tally.max);
  part("deviation", () => tally.deviation);
  for (const p of QUANTILES)
    part(
      `p${p}`,
      () => tally.quantile(p / 100).value,
      () => tally.quantile(p / 100).error,
    );
  measured.add("records", () => tally.count, of);
  return (value) => tally.add(value);
}

const both = (first: (value: number) => void, second: (value: number) => void) => (value: number) => {
  first(value);
  second(value);
};

/** Shares of what is recorded below the first bound, between each two, and from the last on: by time for a level. */
function rangeRecorder(
  measure: Recorded,
  bounds: readonly number[],
  { meters, kernel, replication }: Lowering,
): (value: number) => void {
  const measured = meters.of(measure, "custom", RECORDED_MEASURES);
  const said = measure.bounds ?? [];
  const isLevel = measure.as === "level";
  const of = isLevel ? "Share of time" : "Share";
  const rangeOf = (value: number): number => {
    let range = 0;
    while (range < bounds.length && value >= bounds[range]) range += 1;
    return range;
  };
  const declare = (read: (range: number) => number): void => {
    for (let range = 0; range <= bounds.length; range++)
      measured.add("recordedRange", () => read(range), {
        each: { id: String(range), name: "" },
        label: rangeLabel(of, said[range - 1], said[range]),
      });
  };
  if (isLevel) {
    const levels = Array.from({ length: bounds.length + 1 }, () => meters.add(new Level(kernel.clock)));
    let at = rangeOf(0);
    replication.atStart(() => levels[(at = rangeOf(0))].add(1));
    declare((range) => levels[range].integral / meters.time);
    return (value) => {
      const now = rangeOf(value);
      if (now === at) return;
      levels[at].add(-1);
      levels[now].add(1);
      at = now;
    };
  }
  const counts = Array.from({ length: bounds.length + 1 }, () => meters.counter());
  declare((range) => counts[range].n / counts.reduce((sum, { n }) => sum + n, 0));
  return (value) => void (counts[rangeOf(value)].total += 1);
}

/** How a range is called among the measures, by what is written as its bounds. */
export const rangeLabel = (of: string, from: string | undefined, to: string | undefined): string =>
  from === undefined
    ? `${of} below ${to}`
    : to === undefined
      ? `${of} from ${from}`
      : `${of} from ${from} to below ${to}`;

/** Shares of time in each of some states, and in none of them. */
function stateRecorder(
  measure: Recorded,
  texts: readonly number[],
  { meters, kernel, replication }: Lowering,
): (value: number) => void {
  const measured = meters.of(measure, "custom", RECORDED_MEASURES);
  const names = [...(measure.states ?? []), "any other"];
  const levels = names.map(() => meters.add(new Level(kernel.clock)));
  const none = names.length - 1;
  let at = none;
  replication.atStart(() => levels[(at = none)].add(1));
  names.forEach((name, i) =>
    measured.add("inState", () => levels[i].integral / meters.time, {
      each: { id: i === none ? "none" : String(i), name: "" },
      label: i === none ? "Share of time in no state of these" : `Share of time ${name}`,
    }),
  );
  return (value) => {
    const found = texts.indexOf(value);
    const now = found < 0 ? none : found;
    if (now === at) return;
    levels[at].add(-1);
    levels[now].add(1);
    at = now;
  };
}
