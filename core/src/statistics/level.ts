const VALUE = 0;
const AREA = 1;
const LAST = 2;
const MAX = 3;

/**
 * A number that changes at instants, averaged over time: the length of a line,
 * busy slots. The integral is exact for a step function, and the largest value is that of those that
 * lasted: what a level passes through within an instant is no value it had. It reads the time from
 * the clock it shares with the kernel, and keeps its state in one typed array, so
 * that a change allocates nothing.
 */
export class Level {
  private readonly cells = new Float64Array([0, 0, 0, -Infinity]);

  constructor(private readonly clock: Float64Array) {}

  get value(): number {
    return this.cells[VALUE];
  }

  /** The largest value since the last restart, the present one among them. */
  get max(): number {
    return Math.max(this.cells[MAX], this.cells[VALUE]);
  }

  add(change: number): void {
    const { cells } = this;
    const now = this.clock[0];
    const before = cells[VALUE];
    const lasted = now - cells[LAST];
    if (lasted > 0) {
      cells[AREA] += before * lasted;
      cells[LAST] = now;
      if (before > cells[MAX]) cells[MAX] = before;
    }
    cells[VALUE] = before + change;
  }

  /** Changes it to a value, as `add` does by their difference. */
  set(value: number): void {
    const before = this.cells[VALUE];
    this.add(value - before);
  }

  /** Forgets the past at the end of the warm-up; the level itself stays. */
  restart(): void {
    const { cells } = this;
    cells[AREA] = 0;
    cells[LAST] = this.clock[0];
    cells[MAX] = -Infinity;
  }

  /** Back to 0, as at the start of a replication. */
  reset(): void {
    this.cells.fill(0);
    this.cells[MAX] = -Infinity;
  }

  /** Integral of the level since the last restart, in level times seconds. */
  get integral(): number {
    const { cells } = this;
    return cells[AREA] + cells[VALUE] * (this.clock[0] - cells[LAST]);
  }
}
