import { displayUnit, formatNumber, type Interval, intervalOf, type MeasureInfo, type Study } from "@busy-harbor/core";
import { STATISTICS_OF_A_MEASURE } from "@busy-harbor/core/contract";
import type { RunFigures } from "../state/figures.ts";

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

/** A reading whose interval is worked out when it is first looked at: of many measures few are. */
class LazyReading implements Reading {
  private known: Interval | undefined;

  constructor(
    readonly measure: MeasureInfo,
    readonly index: number,
    readonly unit: string,
    readonly factor: number,
    private readonly statistics: Float64Array,
    private readonly level: number,
  ) {}

  get interval(): Interval {
    const { factor } = this;
    this.known ??= intervalOf(
      {
        n: this.at(0),
        mean: this.at(1) / factor,
        squares: this.at(2) / factor ** 2,
        min: this.at(3) / factor,
        max: this.at(4) / factor,
        errors: this.at(5) / factor,
      },
      this.level,
    );
    return this.known;
  }

  get squares(): number {
    return this.at(2);
  }

  get differences(): number {
    return this.at(6);
  }

  private at(offset: number): number {
    return this.statistics[this.index * STATISTICS_OF_A_MEASURE + offset];
  }
}

export function readingsOf({ measures, statistics }: RunFigures, units: Study["units"], level: number): Reading[] {
  if (statistics.length === 0) return [];
  return measures.map((measure, index) => {
    const { factor, symbol } = displayUnit(measure.dimension, units);
    return new LazyReading(measure, index, symbol, factor, statistics, level);
  });
}

/** Mean and half-width as text: "4.62 ± 0.31"; a single value stands alone. */
export function meanText({ mean, halfWidth }: Interval): { mean: string; halfWidth: string } {
  return { mean: formatNumber(mean), halfWidth: Number.isFinite(halfWidth) ? formatNumber(halfWidth, 2) : "" };
}
