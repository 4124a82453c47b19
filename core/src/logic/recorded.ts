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
  sum: ratio("Sum of what was recorded", "All values that steps recorded, added up.", "Σ x"),
  rate: ratio("Recorded per time", "Their sum divided by the measured time.", "Σ x / T"),
} as const satisfies MeasureSpecs;

/** Declares a measure that steps record into: as a whole, and by entity type where that is wanted. */
export function measureRecorded({ measure }: CustomModel, lowering: Lowering, logic: Logic | undefined): void {
  if (measure.kind !== "recorded") return;
  const { model, kernel } = lowering;
  const type = model.logic?.recorded.get(measure.id);
  const dimension = type?.kind === "number" ? type.dimension : NUMBER;
  const recorders = [
    recorder(measure, lowering, dimension, undefined),
    ...(measure.byType ? model.types.map((one) => recorder(measure, lowering, dimension, one.type)) : []),
  ];
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
