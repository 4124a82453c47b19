import { grown, lengthFor } from "../kernel/grown.ts";
import type { Kernel } from "../kernel/kernel.ts";
import { PART, STRIDE_BITS } from "../kernel/pool.ts";
import type { Work } from "../kernel/work.ts";

/** Time in which the work on entities stood still, off shift or down, as a part of their time in the system. */
export class Standing {
  private seconds = new Float64Array(256);

  constructor(
    private readonly kernel: Kernel,
    private readonly work: Work,
  ) {}

  /** A new entity has not stood still yet. */
  clear(token: number): void {
    this.reach(token);
    this.seconds[token] = 0;
  }

  of(token: number): number {
    return token < this.seconds.length ? this.seconds[token] : 0;
  }

  /**
   * Seconds for which the work of `leader` has stood still since last told. They are given to each worked on by
   * `move`.
   */
  sinceTold(leader: number): number {
    return this.work.takeStanding(leader);
  }

  /** Moves time that was credited as worked on. */
  move(token: number, seconds: number): void {
    if (seconds === 0) return;
    this.reach(token);
    this.seconds[token] += seconds;
    this.kernel.pool.floats[(token << STRIDE_BITS) + PART.worked] -= seconds;
  }

  private reach(token: number): void {
    if (token < this.seconds.length) return;
    this.seconds = grown(this.seconds, lengthFor(token, this.seconds.length));
  }
}
