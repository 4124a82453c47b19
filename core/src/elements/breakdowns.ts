import type { BREAKDOWN_CLOCKS } from "../document/schema.ts";
import { PLAIN, type Read } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Node } from "../model/model.ts";
import { type FieldSpec, type ListSpec, timeField } from "./fields.ts";
import type { Counter } from "./counter.ts";
import type { Lowering } from "./lowering.ts";
import type { Asker } from "./requests.ts";

/** How many of a resource are needed. */
export const NEED_COUNT: FieldSpec = {
  name: "count",
  label: "How many",
  help: "A whole number; it may go by the entity, such as entity.size.",
  type: PLAIN,
  entity: true,
  steady: true,
  least: 0,
};

export const BREAKDOWN_LIST: ListSpec = {
  name: "breakdowns",
  one: "breakdown",
  fields: [
    timeField("every", "Time to the next", "Time from a repair to the next breakdown.", {
      entity: false,
      used: (row) => row.clock !== "jobs",
    }),
    {
      name: "jobs",
      label: "Jobs to the next",
      help: "Jobs from a repair to the next breakdown, rounded to a whole number: entities finished, batches where several are worked on together, uses of equipment.",
      type: PLAIN,
      least: 1,
      used: (row) => row.clock === "jobs",
    },
    timeField("repair", "Time to repair", "Time from when the repair begins, its crew being there, to its end.", {
      entity: false,
    }),
    { ...NEED_COUNT, entity: false, used: (row) => Array.isArray(row.anyOf) && row.anyOf.length > 0 },
  ],
};

/** What breaks down. */
interface Target {
  /** The counter of breakdowns. */
  readonly count: Counter;
  fail(): void;
  repair(): void;
}

interface Row {
  readonly clock: (typeof BREAKDOWN_CLOCKS)[number];
  readonly every: Read;
  readonly asker: Asker;
  readonly id: string;
  token: number;
  up: boolean;
  jobsLeft: number;
  failPc: number;
}

/**
 * The breakdowns of one thing, each with a clock of its own, which begins anew at the end of its
 * repair: clock time, time at work, or jobs done. They may overlap; the thing is down while any is.
 * Repairs go on off shift, as far as their crew is there.
 */
export class Breakdowns {
  private readonly rows: Row[];
  private atWork = false;

  constructor(
    private readonly node: Node & {
      readonly element: {
        readonly breakdowns: ReadonlyArray<{
          readonly id: string;
          readonly clock: Row["clock"];
          readonly anyOf: readonly string[];
        }>;
      };
    },
    private readonly lowering: Lowering,
    target: Target,
  ) {
    const { kernel, work, requests } = lowering;
    const { element } = node;
    this.rows = element.breakdowns.map(({ id, clock, anyOf }): Row => {
      const key = (field: string) => `breakdowns.${id}.${field}`;
      const repairTime = lowering.read(node, key("repair"), 0);
      const pools = anyOf.flatMap((resource) => lowering.poolOf(resource) ?? []);
      const asker: Asker = {
        id: element.id,
        needs: pools.length > 0 ? [{ anyOf: pools, count: lowering.read(node, key("count"), 1) }] : [],
        yields: false,
      };
      const repaired = kernel.emit((token) => {
        work.end(token);
        requests.free(token);
        target.repair();
        this.arm(row);
        return SUSPEND;
      });
      const repair = kernel.emit((token) => {
        kernel.pool.setPc(token, repaired);
        work.begin(token, repairTime(token), element.id, key("repair"));
        return SUSPEND;
      });
      const failPc = kernel.emit((token) => {
        row.up = false;
        work.end(token);
        work.clear(token);
        target.count.total += 1;
        target.fail();
        if (asker.needs.length === 0) return repair;
        kernel.pool.setPc(token, repair);
        requests.ask(token, asker, 1, 0);
        return SUSPEND;
      });
      const row: Row = {
        clock,
        every: lowering.read(node, key(clock === "jobs" ? "jobs" : "every"), Infinity),
        asker,
        id,
        token: -1,
        up: true,
        jobsLeft: 0,
        failPc,
      };
      return row;
    });
    lowering.atStart(() => {
      this.atWork = false;
      for (const row of this.rows) {
        row.token = kernel.pool.take(NO_TYPE, row.failPc, kernel.clock);
        this.arm(row);
      }
    });
  }

  /** The clock of a breakdown begins. */
  private arm(row: Row): void {
    const { kernel, work } = this.lowering;
    const { token, clock, every } = row;
    row.up = true;
    kernel.pool.setPc(token, row.failPc);
    const value = every(token);
    const field = `breakdowns.${row.id}.${clock === "jobs" ? "jobs" : "every"}`;
    if (clock === "jobs") {
      row.jobsLeft = Math.max(1, Math.round(value));
      if (Number.isNaN(value))
        kernel.fail({
          code: "invalid-count",
          message: "gave no number of jobs.",
          hint: "Look for a division of 0 by 0.",
          id: this.node.element.id,
          field,
          value,
        });
    } else if (clock === "clock time")
      kernel.delay(token, value, EventClass.capacityChange, this.node.element.id, field);
    else {
      work.clear(token);
      if (!this.atWork) work.stop(token);
      work.begin(token, value, this.node.element.id, field);
    }
  }

  /** It begins or ceases to be at work. */
  working(atWork: boolean): void {
    if (atWork === this.atWork) return;
    this.atWork = atWork;
    const { work } = this.lowering;
    for (const { clock, up, token } of this.rows) {
      if (clock !== "busy time" || !up) continue;
      if (atWork) work.go(token);
      else work.stop(token);
    }
  }

  jobDone(): void {
    const { kernel } = this.lowering;
    for (const row of this.rows) {
      if (row.clock !== "jobs" || !row.up || --row.jobsLeft > 0) continue;
      const next = kernel.steps[row.failPc](row.token);
      if (next < 0) continue;
      kernel.pool.setPc(row.token, next);
      kernel.resume(row.token);
    }
  }
}
