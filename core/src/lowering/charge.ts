import type { Read } from "../expression/index.ts";

export interface ChargeSettings {
  /** Metres that a vehicle goes with a full battery or tank. */
  readonly range: number;
  /** It refills before it is there for others again when no more than this share of it is left. */
  readonly below: number;
  /** Index of the element at which it refills, and how long that takes. */
  readonly place: number;
  readonly time: Read;
}

/** Rounding empties nobody who just gets there. */
const SLACK = 1e-9;

/** What is left in the batteries or tanks of vehicles, in metres that they still go. */
export class Charge {
  private readonly left: Float64Array;

  constructor(
    count: number,
    readonly settings: ChargeSettings,
  ) {
    this.left = new Float64Array(count);
  }

  /** Begins a replication: all are full. */
  begin(): void {
    this.left.fill(this.settings.range);
  }

  reachOf(v: number): number {
    return this.left[v];
  }

  use(v: number, metres: number): void {
    this.left[v] = Math.max(0, this.left[v] - metres);
  }

  isLow(v: number): boolean {
    const { range, below } = this.settings;
    return this.left[v] <= range * below + SLACK;
  }

  fill(v: number): void {
    this.left[v] = this.settings.range;
  }
}
