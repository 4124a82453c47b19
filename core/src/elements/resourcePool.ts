import type { ElementOf } from "../document/schema.ts";
import { PLAIN, type Read } from "../expression/index.ts";
import type { Node } from "../model/model.ts";
import { MONEY, NUMBER, TIME } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import { Breakdowns } from "./breakdowns.ts";
import type { Counter } from "./counter.ts";
import type { Lowering } from "./lowering.ts";
import { UNIT, Units, type UnitState } from "./units.ts";

/**
 * Members of a crew, or pieces of equipment, that work claims and frees: a counted resource whose units have shifts
 * and may break down.
 */
export class ResourcePool {
  readonly units: Units;
  /** Number of its first unit among those of all pools. */
  readonly base: number;
  readonly line: Level;
  readonly wait: Tally;
  /** Claims that lost their units to work of higher priority. */
  readonly takenAway: Counter;
  readonly preempts: boolean;
  readonly lastFirst: boolean;
  readonly id: string;
  readonly name: string;
  /** Ends of the line of requests that wait for it. */
  head = -1;
  tail = -1;
  /** By unit. */
  readonly breakdowns: Breakdowns[] = [];
  /** Units spoken for while a claim is being tried. */
  reserved = 0;

  constructor(node: Node<ElementOf<"crew"> | ElementOf<"equipment">>, lowering: Lowering) {
    const { element } = node;
    const { requests, work } = lowering;
    const count = node.settings.get("count")?.constant ?? 1;
    this.id = element.id;
    this.name = element.name;
    this.preempts = element.preempt;
    this.lastFirst = element.order === "last asked";
    this.line = lowering.level();
    this.wait = lowering.tally();
    this.takenAway = lowering.counter();
    lowering.showWaits(this.wait);
    this.units = new Units(lowering, {
      count,
      timetable: lowering.timetableOf(element.calendar),
      atBell: element.atBell,
      hooks: {
        available: () => requests.serve(this),
        stop: (token) => work.stop(token),
        go: (token) => work.go(token),
        working: (unit, atWork) => {
          const breakdowns = this.breakdowns[unit];
          if (!breakdowns) return;
          breakdowns.working(atWork);
          if (!atWork && this.units.state[unit] === UNIT.idle) breakdowns.jobDone();
        },
      },
    });
    this.base = requests.add(this, count);
  }

  /** Gives a free unit to a token; returns which. */
  take(token: number): number {
    return this.units.occupy(token, UNIT.busy);
  }

  /** Who reads its properties. */
  get readers(): Record<keyof typeof POOL_PROPERTIES, Read> {
    const { units, line } = this;
    return {
      busy: () => units.levels[UNIT.busy].value,
      free: () => units.free,
      count: () => units.count,
      down: () => units.levels[UNIT.down].value,
      offShift: () => units.levels[UNIT.offShift].value,
      line: () => line.value,
    };
  }

  measures(
    node: Node<ElementOf<"crew"> | ElementOf<"equipment">>,
    lowering: Lowering,
    states: readonly UnitState[],
  ): void {
    const { line, wait, units } = this;
    const add = lowering.measuresOf(node.element, node.element.kind);
    units.measures(add, states);
    add("taken", "Claims met", NUMBER, () => wait.count);
    if (this.preempts) add("takenAway", "Claims taken away for higher priority", NUMBER, () => this.takenAway.n);
    lowering.levelMeasures(add, "line", "Claims waiting", line);
    lowering.tallyMeasures(add, "wait", "Wait of a claim", () => wait);
    add("waited.mean", "Wait of claims that waited, mean", TIME, () => wait.sum / wait.positive);
    const [busy, open] = [node.settings.get("costBusy")?.constant, node.settings.get("costOpen")?.constant];
    if (busy !== undefined || open !== undefined) {
      add(
        "cost",
        "Cost",
        MONEY,
        () =>
          (busy ?? 0) * units.levels[UNIT.busy].integral +
          (open ?? 0) * (units.count * lowering.measuredTime - units.levels[UNIT.offShift].integral),
      );
    }
    lowering.shown.count(node, () => line.value);
    lowering.shown.units(node, units);
  }
}

export const POOL_PROPERTIES = { busy: PLAIN, free: PLAIN, count: PLAIN, down: PLAIN, offShift: PLAIN, line: PLAIN };

/** Breakdowns of the units of a pool: each unit fails by itself. */
export function breakUnits(
  node: Node<ElementOf<"equipment">>,
  lowering: Lowering,
  pool: ResourcePool,
  count: Counter,
): void {
  const { units } = pool;
  for (let unit = 0; unit < units.count; unit++) {
    pool.breakdowns.push(
      new Breakdowns(node, lowering, {
        count,
        fail() {
          const holder = units.occupant[unit];
          units.breakDown(unit);
          if (holder >= 0) lowering.requests.broken(holder);
        },
        repair: () => units.repair(unit),
      }),
    );
  }
}
