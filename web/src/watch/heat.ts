import { type Frame, PHASE, type Point, UNIT } from "@busy-harbor/core";

/** Cells along the longer side of a floor. */
const CELLS = 160;
const LEAST_CELL = 0.5;

/** Metres of the side of a cell, for a floor that is so long: a round number. */
export function cellFor(length: number): number {
  const wanted = Math.max(LEAST_CELL, length / CELLS);
  const power = 10 ** Math.floor(Math.log10(wanted));
  return [1, 2, 5, 10].map((n) => n * power).find((cell) => cell >= wanted - 1e-9)!;
}

/**
 * How much moves where, and how much of what there is at elements is in use, over the time that was watched: each
 * picture stands for the time since the one before.
 */
export class Heat {
  /** Seconds over which it was watched. */
  seconds = 0;
  private time = Number.NaN;
  /** By cell, column and row in one number: seconds of all that moved there. */
  private readonly cells = new Map<number, number>();
  /** By index of the element: seconds in use of all its units. */
  private readonly inUse = new Map<number, number>();
  private readonly units = new Map<number, number>();

  constructor(
    readonly cell: number,
    /** By index of a station whose slots are not told one by one: how many there are. */
    private readonly slots: ReadonlyMap<number, number> = new Map(),
  ) {}

  /** A picture with where all are that move, in metres. A time before the last begins anew. */
  add(frame: Frame, moving: Iterable<Point>): void {
    const passed = frame.time - this.time;
    this.time = frame.time;
    if (passed < 0) this.clear();
    if (!(passed > 0)) return;
    this.seconds += passed;
    for (const [x, y] of moving) {
      const key = keyOf(Math.floor(x / this.cell), Math.floor(y / this.cell));
      this.cells.set(key, (this.cells.get(key) ?? 0) + passed);
    }
    for (const [index, states] of Object.entries(frame.units)) {
      let busy = 0;
      for (const state of states) if (state === UNIT.busy) busy += 1;
      this.use(Number(index), states.length, busy * passed);
    }
    for (const [index, count] of this.slots) if (!frame.units[index]) this.use(index, count, 0);
    for (let i = 0; i < frame.count; i++) {
      const count = this.slots.get(frame.place[i]);
      if (count !== undefined && frame.phase[i] === PHASE.working && !frame.units[frame.place[i]])
        this.use(frame.place[i], count, passed);
    }
  }

  private use(index: number, count: number, seconds: number): void {
    this.units.set(index, count);
    this.inUse.set(index, (this.inUse.get(index) ?? 0) + seconds);
  }

  /** How many moved in each cell on average, with the corner of the cell in metres. */
  *traffic(): Generator<{ readonly at: Point; readonly average: number }> {
    for (const [key, seconds] of this.cells) {
      const [column, row] = cellOf(key);
      yield { at: [column * this.cell, row * this.cell], average: seconds / this.seconds };
    }
  }

  /** The most that moved in a cell on average. */
  get most(): number {
    let most = 0;
    for (const seconds of this.cells.values()) if (seconds > most) most = seconds;
    return this.seconds > 0 ? most / this.seconds : 0;
  }

  /** Share in use of the units at an element, by its index; undefined where none are told. */
  shareAt(index: number): number | undefined {
    const units = this.units.get(index);
    return units && this.seconds > 0 ? this.inUse.get(index)! / (units * this.seconds) : undefined;
  }

  private clear(): void {
    this.seconds = 0;
    this.cells.clear();
    this.inUse.clear();
  }
}

const HALF = 2 ** 20;
const WIDTH = 2 * HALF;
const keyOf = (column: number, row: number): number => (row + HALF) * WIDTH + column + HALF;
const cellOf = (key: number): readonly [column: number, row: number] => [
  (key % WIDTH) - HALF,
  Math.floor(key / WIDTH) - HALF,
];
