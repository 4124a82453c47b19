import type { RunPrecision } from "@busy-harbor/core/experiments";
import { precisionStep, type PrecisionStep } from "@busy-harbor/core/inference";

/** Decides when a run to a precision may stop: by its replications in their order, whatever order they end in. */
export class PrecisionRule {
  /** By goal, the values by replication; missing where one has not ended. */
  private readonly columns: number[][];
  /** Replications from the first on of which none is missing. */
  private whole = 0;

  constructor(private readonly precision: RunPrecision) {
    this.columns = precision.goals.map(() => []);
  }

  /** Positions of the measures that it goes by. */
  get positions(): readonly number[] {
    return this.precision.goals.map(({ position }) => position);
  }

  /** A replication has ended; `values` are those of the goals' measures. */
  add(replication: number, values: readonly number[]): void {
    values.forEach((value, g) => (this.columns[g][replication - 1] = value));
    while (this.columns[0][this.whole] !== undefined) this.whole += 1;
  }

  next(): PrecisionStep {
    const { goals, level, most } = this.precision;
    const sofar = this.columns.map((column) => column.slice(0, this.whole));
    return precisionStep(
      sofar,
      goals.map(({ precision }) => precision),
      level,
      most,
    );
  }
}
