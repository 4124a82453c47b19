/**
 * How many numbers a measure has in a run's statistics, 64-bit and little-endian: count, mean, sum of squared
 * deviations, least, most, sum of errors, sum of squared differences of neighbours, and the last value.
 */
export const STATISTICS_OF_A_MEASURE = 8;

/**
 * For every measure of a run, over its replications: how many have a value, their mean, sum of squared deviations
 * (Welford 1962), least, most, and the sum of what they may be off, the sum of squared differences of neighbours, and
 * the last. One stretch of numbers, so that it goes to the page as it is.
 */
export class RunStatistics {
  private cells = new Float64Array(0);
  private readonly seen = new Set<number>();

  /** Goes on from statistics of some replications, as `numbers` had them. */
  static from(numbers: Float64Array<ArrayBuffer>, replications: Iterable<number>): RunStatistics {
    const statistics = new RunStatistics();
    statistics.cells = numbers;
    for (const replication of replications) statistics.seen.add(replication);
    return statistics;
  }

  /** Replications counted. */
  get replications(): number {
    return this.seen.size;
  }

  /** Numbers of the replications counted. */
  get counted(): ReadonlySet<number> {
    return this.seen;
  }

  get numbers(): Float64Array {
    return this.cells;
  }

  get bytes(): Uint8Array {
    return new Uint8Array(this.cells.buffer, this.cells.byteOffset, this.cells.byteLength);
  }

  /** Counts a replication, once however often it is told. `errors` are pairs of a measure's position and its error. */
  add(replication: number, values: ArrayLike<number>, errors?: ArrayLike<number>): void {
    if (this.seen.has(replication)) return;
    this.seen.add(replication);
    if (this.cells.length === 0) {
      this.cells = new Float64Array(values.length * STATISTICS_OF_A_MEASURE);
      for (let at = 0; at < this.cells.length; at += STATISTICS_OF_A_MEASURE) {
        this.cells[at + 3] = Infinity;
        this.cells[at + 4] = -Infinity;
      }
    }
    const { cells } = this;
    for (let m = 0, at = 0; m < values.length; m++, at += STATISTICS_OF_A_MEASURE) {
      const value = values[m];
      if (!Number.isFinite(value)) continue;
      const n = ++cells[at];
      if (n > 1) cells[at + 6] += (value - cells[at + 7]) ** 2;
      cells[at + 7] = value;
      const off = value - cells[at + 1];
      cells[at + 1] += off / n;
      cells[at + 2] += off * (value - cells[at + 1]);
      if (value < cells[at + 3]) cells[at + 3] = value;
      if (value > cells[at + 4]) cells[at + 4] = value;
    }
    for (let i = 0; errors && i < errors.length; i += 2)
      cells[errors[i] * STATISTICS_OF_A_MEASURE + 5] += errors[i + 1];
  }
}
