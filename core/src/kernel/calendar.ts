/**
 * The event calendar: a 4-ary heap in typed arrays, at most one pending event a
 * token, ordered by time, then class, then order of scheduling. Nothing is
 * allocated but when it doubles.
 */
export class Calendar {
  size = 0;
  /** The first is Infinity while the calendar is empty. */
  private times = new Float64Array(64).fill(Infinity, 0, 1);
  private orders = new Float64Array(64);
  private tokens = new Int32Array(64);
  /** Heap position of each token's event, or -1. */
  private positions = new Int32Array(64).fill(-1);
  private scheduled = 0;

  /** Time of the first event; Infinity when there is none. */
  get nextTime(): number {
    return this.times[0];
  }

  /** Class of the first event (see `EventClass`). */
  get nextClass(): number {
    return Math.floor(this.orders[0] / CLASS_SPAN);
  }

  /** Whether the first event is of the first class. */
  get nextIsFirstClass(): boolean {
    return this.orders[0] < CLASS_SPAN;
  }

  /** When the token's pending event happens; NaN when it has none. */
  timeOf(token: number): number {
    const at = token < this.positions.length ? this.positions[token] : -1;
    return at < 0 ? Number.NaN : this.times[at];
  }

  /** Time for the next `schedule`: handed over in a cell, as a number passed to a function may be boxed. */
  readonly due = new Float64Array(1);

  /** Schedules the one event of `token` at the time in `due`; it must have none pending. `eventClass` is a small whole number. */
  schedule(token: number, eventClass: number): void {
    if (this.size === this.times.length) this.growHeap();
    if (token >= this.positions.length) this.growPositions(token);
    const at = this.size++;
    this.times[at] = this.due[0];
    this.orders[at] = CLASS_STARTS[eventClass] + this.scheduled++;
    this.tokens[at] = token;
    this.siftUp(at);
  }

  /** Takes the first event off and returns its token. */
  pop(): number {
    const token = this.tokens[0];
    this.positions[token] = -1;
    const last = --this.size;
    if (last > 0) {
      this.move(last, 0);
      this.siftDown(0);
    } else this.times[0] = Infinity;
    return token;
  }

  /** Removes the token's pending event; false when it has none. */
  cancel(token: number): boolean {
    const at = token < this.positions.length ? this.positions[token] : -1;
    if (at < 0) return false;
    this.positions[token] = -1;
    const last = --this.size;
    if (last === 0) this.times[0] = Infinity;
    else if (at !== last) {
      this.move(last, at);
      if (!this.siftUp(at)) this.siftDown(at);
    }
    return true;
  }

  private move(from: number, to: number): void {
    this.times[to] = this.times[from];
    this.orders[to] = this.orders[from];
    this.tokens[to] = this.tokens[from];
  }

  /** Lets the entry at `from` rise to its place; true if it moved. */
  private siftUp(from: number): boolean {
    const { times, orders, tokens, positions } = this;
    const time = times[from];
    const order = orders[from];
    const token = tokens[from];
    let at = from;
    while (at > 0) {
      const parent = (at - 1) >> 2;
      const parentTime = times[parent];
      if (parentTime < time || (parentTime === time && orders[parent] < order)) break;
      times[at] = parentTime;
      orders[at] = orders[parent];
      const moved = tokens[parent];
      tokens[at] = moved;
      positions[moved] = at;
      at = parent;
    }
    times[at] = time;
    orders[at] = order;
    tokens[at] = token;
    positions[token] = at;
    return at !== from;
  }

  /** Lets the entry at `from` sink to its place. */
  private siftDown(from: number): void {
    const { times, orders, tokens, positions, size } = this;
    const time = times[from];
    const order = orders[from];
    const token = tokens[from];
    let at = from;
    for (;;) {
      const first = (at << 2) + 1;
      if (first >= size) break;
      const end = first + 4 < size ? first + 4 : size;
      let least = first;
      let leastTime = times[first];
      for (let child = first + 1; child < end; child++) {
        const childTime = times[child];
        if (childTime < leastTime || (childTime === leastTime && orders[child] < orders[least])) {
          least = child;
          leastTime = childTime;
        }
      }
      if (time < leastTime || (time === leastTime && order < orders[least])) break;
      times[at] = leastTime;
      orders[at] = orders[least];
      const moved = tokens[least];
      tokens[at] = moved;
      positions[moved] = at;
      at = least;
    }
    times[at] = time;
    orders[at] = order;
    tokens[at] = token;
    positions[token] = at;
  }

  private growHeap(): void {
    this.times = doubled(this.times, Float64Array);
    this.orders = doubled(this.orders, Float64Array);
    this.tokens = doubled(this.tokens, Int32Array);
  }

  private growPositions(token: number): void {
    let length = this.positions.length;
    while (length <= token) length *= 2;
    const grown = new Int32Array(length).fill(-1);
    grown.set(this.positions);
    this.positions = grown;
  }
}

/** An order is the class times this, plus the count of events scheduled: exact up to 2^49 events and 15 classes. */
const CLASS_SPAN = 2 ** 49;
const CLASS_STARTS = Float64Array.from({ length: 15 }, (_, eventClass) => eventClass * CLASS_SPAN);

function doubled<T extends Float64Array | Int32Array>(array: T, make: new (length: number) => T): T {
  const grown = new make(array.length * 2);
  grown.set(array);
  return grown;
}
