/** A count that warm-up sets back to 0, and that also knows its value since the start. */
export class Counter {
  total = 0;
  private discarded = 0;
  /** Counted since the last restart. */
  get n(): number {
    return this.total - this.discarded;
  }
  restart(): void {
    this.discarded = this.total;
  }
  reset(): void {
    this.total = 0;
    this.discarded = 0;
  }
}
