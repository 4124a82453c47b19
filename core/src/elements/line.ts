import { PART } from "../kernel/pool.ts";
import { TIME } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Lowering } from "./lowering.ts";

/** What is measured of entities in line, whether the line is a queue or a station's own. */
export class Line {
  readonly length: Level;
  readonly wait: Tally;

  constructor(private readonly lowering: Lowering) {
    this.length = lowering.level();
    this.wait = lowering.tally();
  }

  join(token: number, place: number): void {
    const { pool, clock } = this.lowering.kernel;
    this.length.add(1);
    pool.begin(token, place, clock);
  }

  leave(token: number): void {
    this.length.add(-1);
    this.wait.add(this.lowering.credit(token, PART.waiting));
  }

  measures(add: ReturnType<Lowering["measuresOf"]>): void {
    this.lowering.levelMeasures(add, "line", "In line", this.length);
    this.lowering.tallyMeasures(add, "wait", "Wait", () => this.wait);
    const { wait } = this;
    add("waited.mean", "Wait of those who waited, mean", TIME, () => wait.sum / wait.positive);
    add("waited.p95", "Wait of those who waited, 95 % quantile", TIME, () => wait.histogram.quantile(0.95, true));
  }
}
