/** Stretches of time that events are sorted into. */
const BUCKETS = 1024;
const NONE = -1;

/**
 * Events of a time to come, sorted only roughly: into stretches of equal length, and those beyond
 * the last in one list. Taking them stretch by stretch keeps the heap of the events at hand small
 * (after the ladder queue of Tang, Goh and Thng 2005, with one rung). Entries are kept in one pool that is used again.
 */
export class FarEvents {
  /** Where the first stretch not taken yet begins; all events here are at or after it. */
  horizon = Infinity;
  count = 0;
  private base = 0;
  private width = 0;
  private current = BUCKETS;
  /** First entry of each stretch, and of the list beyond them. */
  private readonly heads = new Int32Array(BUCKETS + 1).fill(NONE);
  private times = new Float64Array(0);
  private orders = new Float64Array(0);
  private tokens = new Int32Array(0);
  private next = new Int32Array(0);
  private free = NONE;
  private used = 0;

  reset(): void {
    this.horizon = Infinity;
    this.count = 0;
    this.current = BUCKETS;
    this.heads.fill(NONE);
    this.free = NONE;
    this.used = 0;
  }

  /**
   * Begins anew, empty, with stretches from `from` to `until`; false where they would be too short to tell times
   * apart.
   */
  cover(from: number, until: number): boolean {
    const width = (until - from) / BUCKETS;
    if (!(width > 0 && width < Infinity && from + width > from)) return false;
    this.base = from;
    this.width = width;
    this.current = 0;
    this.horizon = from + 1 * width;
    return true;
  }

  add(time: number, order: number, token: number): void {
    let entry = this.free;
    if (entry !== NONE) this.free = this.next[entry];
    else {
      entry = this.used++;
      if (entry === this.tokens.length) this.grow();
    }
    const bucket = this.bucketOf(time);
    this.times[entry] = time;
    this.orders[entry] = order;
    this.tokens[entry] = token;
    this.next[entry] = this.heads[bucket];
    this.heads[bucket] = entry;
    this.count += 1;
  }

  /** The stretch that a time belongs to, by the very sums that the horizon is told by. */
  private bucketOf(time: number): number {
    const { base, width } = this;
    let stretch = Math.floor((time - base) / width);
    if (stretch >= BUCKETS) return BUCKETS;
    if (time < base + stretch * width) stretch -= 1;
    else if (time >= base + (stretch + 1) * width) stretch += 1;
    return stretch;
  }

  /** Gives the entries of the next stretch that has some to `take`, in no order. There must be some. */
  takeNext(take: (time: number, order: number, token: number) => void): void {
    let bucket = this.current + 1;
    while (bucket < BUCKETS && this.heads[bucket] === NONE) bucket += 1;
    if (bucket >= BUCKETS) {
      this.spreadBeyond(take);
      return;
    }
    this.current = bucket;
    this.horizon = this.base + (bucket + 1) * this.width;
    this.empty(bucket, take);
  }

  /** Sorts the list beyond all stretches into new ones, and gives the first of those. */
  private spreadBeyond(take: (time: number, order: number, token: number) => void): void {
    let first = Infinity;
    let last = -Infinity;
    for (let entry = this.heads[BUCKETS]; entry !== NONE; entry = this.next[entry]) {
      if (this.times[entry] < first) first = this.times[entry];
      if (this.times[entry] > last) last = this.times[entry];
    }
    let entry = this.heads[BUCKETS];
    this.heads[BUCKETS] = NONE;
    if (!this.cover(first, last + (last - first) / BUCKETS)) {
      // All at one time: nothing is gained by keeping them apart.
      this.horizon = Infinity;
      this.current = BUCKETS;
      while (entry !== NONE) entry = this.give(entry, take);
      return;
    }
    const { horizon } = this;
    while (entry !== NONE) {
      if (this.times[entry] < horizon) {
        entry = this.give(entry, take);
        continue;
      }
      const next = this.next[entry];
      const bucket = this.bucketOf(this.times[entry]);
      this.next[entry] = this.heads[bucket];
      this.heads[bucket] = entry;
      entry = next;
    }
  }

  private empty(bucket: number, take: (time: number, order: number, token: number) => void): void {
    let entry = this.heads[bucket];
    this.heads[bucket] = NONE;
    while (entry !== NONE) entry = this.give(entry, take);
  }

  /** Gives one entry, frees its place, and returns the one after it. */
  private give(entry: number, take: (time: number, order: number, token: number) => void): number {
    const next = this.next[entry];
    this.count -= 1;
    this.next[entry] = this.free;
    this.free = entry;
    take(this.times[entry], this.orders[entry], this.tokens[entry]);
    return next;
  }

  /** Gives all entries to `take`, in no order, and is empty then. */
  takeAll(take: (time: number, order: number, token: number) => void): void {
    for (let bucket = 0; bucket <= BUCKETS; bucket++) this.empty(bucket, take);
    this.horizon = Infinity;
    this.current = BUCKETS;
  }

  private grow(): void {
    const size = Math.max(1024, 2 * this.tokens.length);
    const [times, orders, tokens, next] = [
      new Float64Array(size),
      new Float64Array(size),
      new Int32Array(size),
      new Int32Array(size),
    ];
    times.set(this.times);
    orders.set(this.orders);
    tokens.set(this.tokens);
    next.set(this.next);
    Object.assign(this, { times, orders, tokens, next });
  }
}
