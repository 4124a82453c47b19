import { PART, type TokenPool } from "../kernel/pool.ts";
import { TIME } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Lowering } from "./lowering.ts";

/** What is measured of entities in line, whether the line is a queue or a station's own. */
export class Line {
  readonly length: Level;
  readonly wait: Tally;

  private readonly pool: TokenPool;
  private readonly clock: Float64Array;

  constructor(private readonly lowering: Lowering) {
    this.pool = lowering.kernel.pool;
    this.clock = lowering.kernel.clock;
    this.length = lowering.level();
    this.wait = lowering.tally();
  }

  /** The token joins the line, and goes on with step `pc` when it is let in. */
  join(token: number, place: number, pc: number): void {
    this.length.add(1);
    this.pool.beginUntil(token, place, pc, this.clock);
  }

  leave(token: number): void {
    this.length.add(-1);
    this.pool.credit(token, PART.waiting, this.clock);
    this.wait.add(this.pool.credited[0]);
  }

  measures(add: ReturnType<Lowering["measuresOf"]>): void {
    this.lowering.levelMeasures(add, "line", "In line", this.length);
    this.lowering.tallyMeasures(add, "wait", "Wait", () => this.wait);
    const { wait } = this;
    add("waited.mean", "Wait of those who waited, mean", TIME, () => wait.sum / wait.positive);
    add("waited.p95", "Wait of those who waited, 95 % quantile", TIME, () => wait.histogram.quantile(0.95, true));
  }
}
