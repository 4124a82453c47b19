const VALUE = 0;
const AREA = 1;
const LAST = 2;
const MAX = 3;

/**
 * A number that changes at instants, averaged over time: the length of a line,
 * busy slots. The integral is exact for a step function. It reads the time from
 * the clock it shares with the kernel, and keeps its state in one typed array, so
 * that a change allocates nothing.
 */
export class Level {
  private readonly cells = new Float64Array(4);

  constructor(private readonly clock: Float64Array) {}

  get value(): number {
    return this.cells[VALUE];
  }

  get max(): number {
    return this.cells[MAX];
  }

  add(change: number): void {
    const { cells } = this;
    const now = this.clock[0];
    const before = cells[VALUE];
    const after = before + change;
    cells[AREA] += before * (now - cells[LAST]);
    cells[LAST] = now;
    cells[VALUE] = after;
    if (after > cells[MAX]) cells[MAX] = after;
  }

  /** Forgets the past at the end of the warm-up; the level itself stays. */
  restart(): void {
    const { cells } = this;
    cells[AREA] = 0;
    cells[LAST] = this.clock[0];
    cells[MAX] = cells[VALUE];
  }

  /** Back to 0, as at the start of a replication. */
  reset(): void {
    this.cells.fill(0);
  }

  /** Integral of the level since the last restart, in level times seconds. */
  get integral(): number {
    const { cells } = this;
    return cells[AREA] + cells[VALUE] * (this.clock[0] - cells[LAST]);
  }
}
