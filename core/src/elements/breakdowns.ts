import { type Read } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { ElementBase } from "../document/element.ts";
import type { Work } from "../kernel/work.ts";
import type { Node } from "../model/model.ts";
import { needCount, timesAsLong, whoCan } from "../settings/needs.ts";
import { choice, number, resources, rows, time, type ValuesOf } from "../settings/setting.ts";
import type { Counter } from "../lowering/counter.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Asker } from "../lowering/requests.ts";
import { skillsOf } from "../lowering/skills.ts";

const isRepaired = ({ anyOf }: Readonly<Record<string, unknown>>): boolean => Array.isArray(anyOf) && anyOf.length > 0;

export const BREAKDOWNS = {
  breakdowns: rows("Breakdowns", "What breaks it down, each by a clock of its own.", {
    one: "breakdown",
    most: 20,
    row: {
      clock: choice(
        "Counts",
        "What passes from a repair to the next breakdown: time, time at work, or a count of jobs: entities finished, batches where several are worked on together, uses of equipment.",
        [
          ["clock time", "time on the clock"],
          ["busy time", "time at work"],
          ["jobs", "jobs done"],
        ],
      ),
      every: time("Time to the next", "Time from a repair to the next breakdown.", {
        initial: "exponential(20 h)",
        entity: false,
        used: (row) => row.clock !== "jobs",
        draws: 100,
      }),
      jobs: number(
        "Jobs to the next",
        "Jobs from a repair to the next breakdown, rounded to a whole number: entities finished, batches where several are worked on together, uses of equipment.",
        { initial: "100", least: 1, used: (row) => row.clock === "jobs", draws: 101 },
      ),
      repair: time("Time to repair", "Time from when the repair begins, its crew being there, to its end.", {
        initial: "exponential(1 h)",
        entity: false,
        draws: 102,
      }),
      anyOf: resources("Repaired by", "Resources, any one of which will do for the repair, the preferred first."),
      count: needCount({ entity: false, used: isRepaired }),
      can: whoCan({ entity: false, used: isRepaired }),
      times: timesAsLong("The repair with one", { entity: false, used: isRepaired }),
    },
  }),
};

type Breakable = ElementBase & ValuesOf<typeof BREAKDOWNS>;

/** What breaks down. */
interface Target {
  /** The counter of breakdowns. */
  readonly count: Counter;
  fail(): void;
  repair(): void;
}

interface Row {
  readonly clock: Breakable["breakdowns"][number]["clock"];
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
  private readonly work: Work;

  constructor(
    private readonly node: Node<Breakable>,
    private readonly lowering: Lowering,
    target: Target,
  ) {
    const { kernel } = lowering;
    const { work, requests } = lowering.resources;
    this.work = work;
    const { element } = node;
    const fails = lowering.events.before(element.id, "breaks down", () => target.fail());
    const isRepaired = lowering.events.before(element.id, "is repaired", () => target.repair());
    this.rows = element.breakdowns.map(({ id, clock, anyOf }): Row => {
      const key = (field: string) => `breakdowns.${id}.${field}`;
      const { expressions } = lowering;
      const repairTime = expressions.read(node, key("repair"), 0);
      const pools = anyOf.flatMap((resource) => lowering.resources.of(resource) ?? []);
      const asker: Asker = {
        id: element.id,
        needs:
          pools.length > 0
            ? [
                {
                  anyOf: pools,
                  count: expressions.read(node, key("count"), 1),
                  ...skillsOf(
                    node.who,
                    expressions.optional(node, key("can")),
                    expressions.optional(node, key("times")),
                  ),
                },
              ]
            : [],
        yields: false,
      };
      const repaired = kernel.emit((token) => {
        work.end(token);
        requests.free(token);
        isRepaired(-1);
        this.arm(row);
        return SUSPEND;
      });
      const repair = kernel.emit((token) => {
        kernel.pool.setPc(token, repaired);
        const pace = asker.needs.length > 0 ? requests.slowest(token) : 1;
        work.begin(token, pace === 1 ? repairTime(token) : repairTime(token) * pace, element.id, key("repair"));
        return SUSPEND;
      });
      const failPc = kernel.emit((token) => {
        row.up = false;
        work.end(token);
        work.clear(token);
        target.count.total += 1;
        fails(-1);
        if (asker.needs.length === 0) return repair;
        kernel.pool.setPc(token, repair);
        requests.ask(token, asker, 1, 0);
        return SUSPEND;
      });
      const row: Row = {
        clock,
        every: lowering.expressions.read(node, key(clock === "jobs" ? "jobs" : "every"), Infinity),
        asker,
        id,
        token: -1,
        up: true,
        jobsLeft: 0,
        failPc,
      };
      return row;
    });
    lowering.replication.atStart(() => {
      this.atWork = false;
      for (const row of this.rows) {
        row.token = kernel.pool.take(NO_TYPE, row.failPc, kernel.clock);
        this.arm(row);
      }
    });
  }

  /** The clock of a breakdown begins. */
  private arm(row: Row): void {
    const { kernel } = this.lowering;
    const { work } = this.lowering.resources;
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
    const { rows, work } = this;
    for (let i = 0; i < rows.length; i++) {
      const { clock, up, token } = rows[i];
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
