import { Histogram } from "./histogram.ts";

const SUM = 0;
const MAX = 1;

/** Observations one by one: their number, mean, largest, and quantiles from a histogram. */
export class Tally {
  private readonly cells = new Float64Array(2);
  readonly histogram = new Histogram();

  add(value: number): void {
    const { cells } = this;
    cells[SUM] += value;
    if (value > cells[MAX]) cells[MAX] = value;
    this.histogram.add(value);
  }

  /** An observation of 0, the commonest wait. */
  addZero(): void {
    this.histogram.addZero();
  }

  get count(): number {
    return this.histogram.total;
  }

  /** How many observations were above 0. */
  get positive(): number {
    return this.histogram.total - this.histogram.zeros;
  }

  get sum(): number {
    return this.cells[SUM];
  }

  /** Mean of all observations; NaN without any. */
  get mean(): number {
    return this.cells[SUM] / this.count;
  }

  /** The largest observation; NaN without any. */
  get max(): number {
    return this.count > 0 ? this.cells[MAX] : Number.NaN;
  }

  /** Takes in all observations of another tally. */
  include(other: Tally): void {
    this.cells[SUM] += other.cells[SUM];
    this.cells[MAX] = Math.max(this.cells[MAX], other.cells[MAX]);
    this.histogram.include(other.histogram);
  }

  restart(): void {
    this.cells.fill(0);
    this.histogram.clear();
  }
}

/** One tally of all observations of several; the tally itself when there is only one. */
export function mergeTallies(tallies: readonly Tally[]): Tally {
  if (tallies.length === 1) return tallies[0];
  const merged = new Tally();
  for (const tally of tallies) merged.include(tally);
  return merged;
}
