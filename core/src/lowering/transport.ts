import { grown, lengthFor } from "../kernel/grown.ts";

/** Time in which entities waited for something that carries them, and were carried, as parts of their time. */
export class Transport {
  private waited = new Float64Array(256);
  private carried = new Float64Array(256);

  /** A new entity has not been carried yet. */
  clear(token: number): void {
    this.reach(token);
    this.waited[token] = 0;
    this.carried[token] = 0;
  }

  addWaited(token: number, seconds: number): void {
    this.reach(token);
    this.waited[token] += seconds;
  }

  addCarried(token: number, seconds: number): void {
    this.reach(token);
    this.carried[token] += seconds;
  }

  waitedOf(token: number): number {
    return token < this.waited.length ? this.waited[token] : 0;
  }

  carriedOf(token: number): number {
    return token < this.carried.length ? this.carried[token] : 0;
  }

  private reach(token: number): void {
    if (token < this.waited.length) return;
    const size = lengthFor(token, this.waited.length);
    this.waited = grown(this.waited, size);
    this.carried = grown(this.carried, size);
  }
}
