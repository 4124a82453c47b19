import { grown, lengthFor } from "../kernel/grown.ts";
import type { Kernel } from "../kernel/kernel.ts";

/** What entities carry: others that were joined to them and can be set free again. They may carry some in turn. */
export class Contents {
  private first = new Int32Array(256).fill(-1);
  private next = new Int32Array(256).fill(-1);
  /** Made by a join only to hold the others: it ends when it is undone. */
  private onlyHolds = new Uint8Array(256);
  private heldFor = new Float64Array(256);

  constructor(private readonly kernel: Kernel) {}

  reset(): void {
    this.first.fill(-1);
    this.onlyHolds.fill(0);
    this.heldFor.fill(0);
  }

  /** A new entity carries nothing yet. */
  clear(token: number, onlyHolds: boolean): void {
    this.reach(token);
    this.first[token] = -1;
    this.onlyHolds[token] = onlyHolds ? 1 : 0;
    this.heldFor[token] = 0;
  }

  put(carrier: number, token: number): void {
    this.reach(Math.max(carrier, token));
    this.next[token] = this.first[carrier];
    this.first[carrier] = token;
    this.kernel.pool.begin(token, -1, this.kernel.clock);
  }

  isEmpty(token: number): boolean {
    return token >= this.first.length || this.first[token] < 0;
  }

  isOnlyHolding(token: number): boolean {
    return token < this.onlyHolds.length && this.onlyHolds[token] !== 0;
  }

  /** Takes all out, the first put in first, and tells how long each was held. */
  takeOut(carrier: number, act: (token: number) => void): void {
    if (this.isEmpty(carrier)) return;
    const found: number[] = [];
    for (let token = this.first[carrier]; token >= 0; token = this.next[token]) found.push(token);
    this.first[carrier] = -1;
    for (let i = found.length - 1; i >= 0; i--) {
      const token = found[i];
      this.heldFor[token] += this.kernel.now - this.kernel.pool.sinceOf(token);
      act(token);
    }
  }

  /** Seconds spent inside others. */
  heldTime(token: number): number {
    return token < this.heldFor.length ? this.heldFor[token] : 0;
  }

  private reach(token: number): void {
    if (token < this.first.length) return;
    const size = lengthFor(token, this.first.length);
    this.first = grown(this.first, size, -1);
    this.next = grown(this.next, size, -1);
    this.onlyHolds = grown(this.onlyHolds, size);
    this.heldFor = grown(this.heldFor, size);
  }
}
