import { FarEvents } from "./farEvents.ts";

/** Entries before the root: so that the four children of an entry lie together in one stretch of 64 bytes. */
const PAD = 3;

/** Out-of-date entries are swept out when there are more of them than of others, and than this. */
const MOST_STALE = 64;

/** Entries in the heap above which later ones are kept apart from it. */
const MOST_NEAR = 16_384;

/**
 * The event calendar: a 4-ary heap in typed arrays, at most one pending event a
 * token, ordered by time, then class, then order of scheduling. Nothing is
 * allocated but when it doubles. A cancelled event stays where it is, out of date, until it comes to
 * the front or is swept out: so no event need know where it lies, and a large calendar touches less memory. When very
 * many are pending, only the next ones are in the heap, and the later ones roughly sorted beside it.
 */
export class Calendar {
  /** Entries in the heap, those out of date among them. */
  private entries = 0;
  private stale = 0;
  /** Time and order of each entry, two cells an entry. The first time is Infinity while the calendar is empty. */
  private keys = new Float64Array(2 * (64 + PAD)).fill(Infinity, 2 * PAD, 2 * PAD + 1);
  private tokens = new Int32Array(64 + PAD);
  /** By token: time and order of its pending event; the order is -1 when it has none. */
  private pending = new Float64Array(128).fill(-1);
  private scheduled = 0;
  private readonly far = new FarEvents();
  /** Entries in the heap above which some are kept apart next. */
  private mostNear: number;

  /** `fewest`: entries in the heap above which later ones may be kept apart. */
  constructor(private readonly fewest = MOST_NEAR) {
    this.mostNear = fewest;
  }

  /** Pending events. */
  get size(): number {
    return this.entries + this.far.count - this.stale;
  }

  /** Time of the first event; Infinity when there is none. */
  get nextTime(): number {
    return this.keys[2 * PAD];
  }

  /** Class of the first event (see `EventClass`). */
  get nextClass(): number {
    return Math.floor(this.keys[2 * PAD + 1] / CLASS_SPAN);
  }

  /** Whether the first event is of the first class. */
  get nextIsFirstClass(): boolean {
    return this.keys[2 * PAD + 1] < CLASS_SPAN;
  }

  /** When the token's pending event happens; NaN when it has none. */
  timeOf(token: number): number {
    const at = token << 1;
    return at < this.pending.length && this.pending[at + 1] >= 0 ? this.pending[at] : Number.NaN;
  }

  /** The time of the event to be scheduled next: in a cell, as numbers passed to functions may be boxed. */
  readonly due = new Float64Array(1);

  /**
   * Schedules the one event of `token` at the time in `due`; it must have none pending. `eventClass` is a small whole
   * number.
   */
  schedule(token: number, eventClass: number): void {
    if (this.entries + PAD === this.tokens.length) this.growHeap();
    const at = token << 1;
    if (at >= this.pending.length) this.growPending(token);
    const { pending } = this;
    const time = this.due[0];
    const order = CLASS_STARTS[eventClass] + this.scheduled++;
    pending[at] = time;
    pending[at + 1] = order;
    // While there is nothing far, the horizon is infinite.
    if (time >= this.far.horizon) {
      this.far.add(time, order, token);
      return;
    }
    const { keys, tokens } = this;
    let hole = this.entries++;
    while (hole > 0) {
      const parent = (hole - 1) >> 2;
      const from = 2 * (parent + PAD);
      const parentTime = keys[from];
      if (parentTime < time || (parentTime === time && keys[from + 1] < order)) break;
      const to = 2 * (hole + PAD);
      keys[to] = parentTime;
      keys[to + 1] = keys[from + 1];
      tokens[hole + PAD] = tokens[parent + PAD];
      hole = parent;
    }
    const to = 2 * (hole + PAD);
    keys[to] = time;
    keys[to + 1] = order;
    tokens[hole + PAD] = token;
    if (this.entries > this.mostNear) this.keepApart();
  }

  /** Keeps all but the next entries apart from the heap. */
  private keepApart(): void {
    const { keys, tokens, far } = this;
    let last = -Infinity;
    for (let entry = 0; entry < this.entries; entry++) last = Math.max(last, keys[2 * (entry + PAD)]);
    const { entries } = this;
    if (far.count > 0 || !far.cover(this.nextTime, last + (last - this.nextTime) / 64)) {
      // They are too close together, or some are apart already: a larger heap will do.
      this.mostNear = 2 * entries;
      return;
    }
    const { horizon } = far;
    let kept = 0;
    for (let entry = 0; entry < entries; entry++) {
      const from = 2 * (entry + PAD);
      if (keys[from] >= horizon) far.add(keys[from], keys[from + 1], tokens[entry + PAD]);
      else {
        keys.copyWithin(2 * (kept + PAD), from, from + 2);
        tokens[kept + PAD] = tokens[entry + PAD];
        kept += 1;
      }
    }
    this.entries = kept;
    this.makeHeap();
  }

  /** Takes the next of the entries kept apart into the heap, which is empty. */
  private bringNear(): void {
    while (this.entries === 0 && this.far.count > 0) {
      this.far.takeNext(this.receive);
      if (this.far.count === 0) {
        this.far.reset();
        this.mostNear = Math.max(this.fewest, 2 * this.entries);
      }
      this.makeHeap();
    }
    if (this.entries === 0) this.keys[2 * PAD] = Infinity;
  }

  /** Puts an entry behind the others, out of order, unless it is out of date. */
  private readonly receive = (time: number, order: number, token: number): void => {
    if (this.pending[(token << 1) + 1] !== order) {
      this.stale -= 1;
      return;
    }
    if (this.entries + PAD === this.tokens.length) this.growHeap();
    const to = 2 * (this.entries + PAD);
    this.keys[to] = time;
    this.keys[to + 1] = order;
    this.tokens[this.entries + PAD] = token;
    this.entries += 1;
  };

  /** Makes a heap of entries in any order (Floyd 1964). */
  private makeHeap(): void {
    for (let entry = (this.entries - 2) >> 2; entry >= 0; entry--) this.sink(entry, entry);
  }

  /** Forgets all events. */
  reset(): void {
    this.entries = 0;
    this.stale = 0;
    this.scheduled = 0;
    this.mostNear = this.fewest;
    this.far.reset();
    this.keys[2 * PAD] = Infinity;
    this.pending.fill(-1);
  }

  /** Takes the first event off and returns its token. */
  pop(): number {
    const token = this.tokens[PAD];
    this.pending[(token << 1) + 1] = -1;
    this.removeFirst();
    return token;
  }

  /** Removes the token's pending event; false when it has none. */
  cancel(token: number): boolean {
    const at = (token << 1) + 1;
    if (!(at < this.pending.length) || this.pending[at] < 0) return false;
    this.pending[at] = -1;
    this.stale += 1;
    this.dropStale();
    if (this.stale > MOST_STALE && this.stale > this.size) this.sweep();
    return true;
  }

  private removeFirst(): void {
    const last = --this.entries;
    if (last > 0) this.sink(0, last);
    else this.bringNear();
    if (this.stale > 0) this.dropStale();
  }

  /** Whether the entry's event was cancelled, or its token has another since. */
  private isStale(entry: number): boolean {
    return this.pending[(this.tokens[entry + PAD] << 1) + 1] !== this.keys[2 * (entry + PAD) + 1];
  }

  /** Takes entries off the front that are out of date. */
  private dropStale(): void {
    while (this.entries > 0 && this.isStale(0)) {
      this.stale -= 1;
      const last = --this.entries;
      if (last > 0) this.sink(0, last);
      else this.bringNear();
    }
  }

  /** Takes all entries out that are out of date. */
  private sweep(): void {
    let kept = 0;
    for (let entry = 0; entry < this.entries; entry++) {
      if (this.isStale(entry)) {
        this.stale -= 1;
        continue;
      }
      this.keys.copyWithin(2 * (kept + PAD), 2 * (entry + PAD), 2 * (entry + PAD) + 2);
      this.tokens[kept + PAD] = this.tokens[entry + PAD];
      kept += 1;
    }
    this.entries = kept;
    this.far.takeAll(this.receive);
    this.mostNear = Math.max(this.fewest, 2 * this.entries);
    this.makeHeap();
    if (this.entries === 0) this.keys[2 * PAD] = Infinity;
  }

  /** Puts the entry that is at `from` at the free place `hole`, or below. */
  private sink(hole: number, from: number): void {
    const { keys, tokens, entries } = this;
    const time = keys[2 * (from + PAD)];
    const order = keys[2 * (from + PAD) + 1];
    const token = tokens[from + PAD];
    let at = hole;
    for (;;) {
      const first = (at << 2) + 1;
      if (first >= entries) break;
      const end = first + 4 < entries ? first + 4 : entries;
      let least = first;
      let cell = 2 * (first + PAD);
      let leastTime = keys[cell];
      for (let child = first + 1, c = cell + 2; child < end; child++, c += 2) {
        const childTime = keys[c];
        if (childTime < leastTime || (childTime === leastTime && keys[c + 1] < keys[cell + 1])) {
          least = child;
          cell = c;
          leastTime = childTime;
        }
      }
      if (time < leastTime || (time === leastTime && order < keys[cell + 1])) break;
      const to = 2 * (at + PAD);
      keys[to] = leastTime;
      keys[to + 1] = keys[cell + 1];
      tokens[at + PAD] = tokens[least + PAD];
      at = least;
    }
    const to = 2 * (at + PAD);
    keys[to] = time;
    keys[to + 1] = order;
    tokens[at + PAD] = token;
  }

  private growHeap(): void {
    const entries = 2 * (this.tokens.length - PAD) + PAD;
    const keys = new Float64Array(2 * entries);
    keys.set(this.keys);
    this.keys = keys;
    const tokens = new Int32Array(entries);
    tokens.set(this.tokens);
    this.tokens = tokens;
  }

  private growPending(token: number): void {
    let length = this.pending.length;
    while (length <= token << 1) length *= 2;
    const grown = new Float64Array(length).fill(-1);
    grown.set(this.pending);
    this.pending = grown;
  }
}

/** An order is the class times this, plus the count of events scheduled: exact up to 2^49 events and 15 classes. */
const CLASS_SPAN = 2 ** 49;
const CLASS_STARTS = Float64Array.from({ length: 15 }, (_, eventClass) => eventClass * CLASS_SPAN);
