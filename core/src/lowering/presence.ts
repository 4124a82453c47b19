/** Entities inside an element or on the way to it, by node index; kept only where some way out asks for that. */
export class Presence {
  readonly counts: Int32Array | undefined;

  constructor(nodes: number, asked: boolean) {
    this.counts = asked ? new Int32Array(nodes) : undefined;
  }

  /** Whether `come` and `gone` must be told. */
  get isKept(): boolean {
    return this.counts !== undefined;
  }

  /** An entity is in the element or on its way to it. */
  come(index: number): void {
    if (this.counts) this.counts[index] += 1;
  }

  /** An entity is no longer in the element (nor on its way to it). */
  gone(index: number): void {
    if (this.counts) this.counts[index] -= 1;
  }

  reset(): void {
    this.counts?.fill(0);
  }
}
