import { displayUnit, formatNumber, type Interval, intervalOf, type MeasureInfo, type Study } from "@busy-harbor/core";
import { STATISTICS_OF_A_MEASURE } from "@busy-harbor/core/contract";
import type { RunFigures } from "../state/runs.ts";

/** A measure of a run with its interval, in display units. */
export interface Reading {
  readonly measure: MeasureInfo;
  /** The measure's position in the run. */
  readonly index: number;
  readonly interval: Interval;
  readonly unit: string;
  /** What a value in SI units is divided by to be shown. */
  readonly factor: number;
  /** Sums of squared deviations from the mean, and of squared differences of neighbours. */
  readonly squares: number;
  readonly differences: number;
}

export function readingsOf({ measures, statistics }: RunFigures, units: Study["units"], level: number): Reading[] {
  if (statistics.length === 0) return [];
  return measures.map((measure, index) => {
    const { factor, symbol } = displayUnit(measure.dimension, units);
    const [n, mean, squares, min, max, errors, differences] = statistics.subarray(
      index * STATISTICS_OF_A_MEASURE,
      (index + 1) * STATISTICS_OF_A_MEASURE,
    );
    const interval = intervalOf(
      {
        n,
        mean: mean / factor,
        squares: squares / factor ** 2,
        min: min / factor,
        max: max / factor,
        errors: errors / factor,
      },
      level,
    );
    return { measure, index, interval, unit: symbol, factor, squares, differences };
  });
}

/** Mean and half-width as text: "4.62 ± 0.31"; a single value stands alone. */
export function meanText({ mean, halfWidth }: Interval): { mean: string; halfWidth: string } {
  return { mean: formatNumber(mean), halfWidth: Number.isFinite(halfWidth) ? formatNumber(halfWidth, 2) : "" };
}
