/** Cells of the event in hand. */
const TIME = 0;
const ORDER = 1;

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

  /**
   * The event in hand, on its way into the heap: its time, which the caller of
   * `schedule` puts here, and its order. In a cell, as numbers passed to functions may be boxed.
   */
  readonly due = new Float64Array(2);

  /** Schedules the one event of `token` at the time in `due`; it must have none pending. `eventClass` is a small whole number. */
  schedule(token: number, eventClass: number): void {
    if (this.size === this.times.length) this.growHeap();
    if (token >= this.positions.length) this.growPositions(token);
    this.due[ORDER] = CLASS_STARTS[eventClass] + this.scheduled++;
    this.rise(this.size++, token);
  }

  /** Forgets all events. */
  reset(): void {
    this.size = 0;
    this.scheduled = 0;
    this.times[0] = Infinity;
    this.positions.fill(-1);
  }

  /** Takes the first event off and returns its token. */
  pop(): number {
    const token = this.tokens[0];
    this.positions[token] = -1;
    const last = --this.size;
    if (last > 0) this.sink(0, this.takeInHand(last));
    else this.times[0] = Infinity;
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
      const moved = this.takeInHand(last);
      this.rise(at, moved);
      if (this.positions[moved] === at) this.sink(at, moved);
    }
    return true;
  }

  /** Takes the entry at `from` in hand and returns its token. */
  private takeInHand(from: number): number {
    this.due[TIME] = this.times[from];
    this.due[ORDER] = this.orders[from];
    return this.tokens[from];
  }

  /** Puts the entry in hand at the free place `hole`, or above. */
  private rise(hole: number, token: number): void {
    const { times, orders, tokens, positions } = this;
    const time = this.due[TIME];
    const order = this.due[ORDER];
    let at = hole;
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
  }

  /** Puts the entry in hand at the free place `hole`, or below. */
  private sink(hole: number, token: number): void {
    const { times, orders, tokens, positions, size } = this;
    const time = this.due[TIME];
    const order = this.due[ORDER];
    let at = hole;
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
