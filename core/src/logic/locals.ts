import { grown, lengthFor } from "../kernel/grown.ts";

/** Most calls inside one another. */
const MOST_DEPTH = 1000;

const NONE = -1;

/**
 * Calls of procedures under way: for each token the present one, where it goes on afterwards, and the values that it
 * calls by names. Made only for models with logic.
 */
export class Locals {
  /** By token: the present call. */
  private current = new Int32Array(256).fill(NONE);
  /** By call: the one that it was called from, where that goes on, and how many there are around it. */
  private outer = new Int32Array(64);
  private returnsTo = new Int32Array(64);
  private depth = new Int32Array(64);
  private values: Float64Array;
  private free: number[] = [];
  private used = 0;
  /** What the last procedure that ended has answered: taken at once by who called it. */
  readonly answer = new Float64Array(1);

  /** `size`: values of a call, the most of any. */
  constructor(private readonly size: number) {
    this.values = new Float64Array(64 * size);
  }

  reset(): void {
    this.current.fill(NONE);
    this.free = [];
    this.used = 0;
  }

  /** A call begins, after which the token goes on at `returnsTo`; false where they go too deep. */
  begin(token: number, returnsTo: number): boolean {
    if (token >= this.current.length) this.current = grown(this.current, lengthFor(token, this.current.length), NONE);
    const outer = this.current[token];
    const depth = outer === NONE ? 0 : this.depth[outer] + 1;
    if (depth >= MOST_DEPTH) return false;
    let call = this.free.pop();
    if (call === undefined) {
      call = this.used++;
      if (call >= this.outer.length) this.grow();
    }
    this.outer[call] = outer;
    this.returnsTo[call] = returnsTo;
    this.depth[call] = depth;
    this.values.fill(0, call * this.size, (call + 1) * this.size);
    this.current[token] = call;
    return true;
  }

  /** The present call is over: gives where the token goes on. */
  end(token: number): number {
    const call = this.current[token];
    this.current[token] = this.outer[call];
    this.free.push(call);
    return this.returnsTo[call];
  }

  /** The token does nothing more of what it was called to. */
  drop(token: number): void {
    while (token < this.current.length && this.current[token] !== NONE) this.end(token);
  }

  /** The number of a token's present call. */
  callOf(token: number): number {
    return this.current[token];
  }

  read(token: number, slot: number): number {
    return this.values[this.current[token] * this.size + slot];
  }

  write(token: number, slot: number, value: number): void {
    this.values[this.current[token] * this.size + slot] = value;
  }

  /** The values of a token's present call, for those who watch. */
  valuesOf(token: number): Float64Array {
    const call = token < this.current.length ? this.current[token] : NONE;
    return call === NONE ? new Float64Array(0) : this.values.slice(call * this.size, (call + 1) * this.size);
  }

  private grow(): void {
    const size = this.outer.length * 2;
    this.outer = grown(this.outer, size);
    this.returnsTo = grown(this.returnsTo, size);
    this.depth = grown(this.depth, size);
    const values = new Float64Array(size * this.size);
    values.set(this.values);
    this.values = values;
  }
}
