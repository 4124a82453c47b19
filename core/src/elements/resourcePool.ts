import { PLAIN, type Read, YES_NO } from "../expression/index.ts";
import { cost, count as measureCount, level, meanTime, ratio, tally } from "../measures/spec.ts";
import type { Node } from "../model/model.ts";
import { choice, count, flag, type ValuesOf } from "../settings/setting.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { ElementBase } from "../document/element.ts";
import { Breakdowns, type BREAKDOWNS } from "./breakdowns.ts";
import { COST_RATES } from "./costRates.ts";
import type { Counter } from "../lowering/counter.ts";
import { HOURS, SHIFT_EVENTS, tellShifts } from "./hours.ts";
import type { EventSpecs, Listener } from "../lowering/events.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { hoursOfEach, keepsHours } from "./memberHours.ts";
import { unitWriters } from "./setWhileRunning.ts";
import type { Measured } from "../lowering/measured.ts";
import type { Walkers } from "../lowering/walkers.ts";
import type { WhoGoes } from "../lowering/whoGoes.ts";
import { UNIT, UNIT_MEASURES, Units, type UnitState } from "../lowering/units.ts";

/** Most units of one resource. */
const MOST_UNITS = 10_000;

/** Settings of all resources; `them`: what their units are called. */
export const poolSettings = (them: string) => ({
  count: count("How many", `How many ${them} there are.`, [1, MOST_UNITS], {
    initial: "1",
    fixed: true,
    used: ({ table = "" }) => table === "",
  }),
  ...HOURS,
  order: choice(
    "Served first",
    "Who is served first of those who ask with the same priority.",
    [
      ["first asked", "who asked first"],
      ["last asked", "who asked last"],
    ],
    { told: "order of the line" },
  ),
  preempt: flag(
    "Preempted",
    "Work of higher priority takes them from work of lower",
    "Whether work of higher priority takes them away from work of lower priority.",
    { told: "preemption" },
  ),
  ...COST_RATES,
});

/** Anything with these settings. */
export type Pool = ElementBase & ValuesOf<ReturnType<typeof poolSettings>>;

export const POOL_MEASURES = {
  ...UNIT_MEASURES,
  taken: measureCount("Claims met", "Claims that were met, each once."),
  takenAway: measureCount(
    "Claims taken away for higher priority",
    "Claims that lost what they held to work of higher priority, and waited for it again.",
    { better: "less" },
  ),
  line: level("Claims waiting", "Claims that wait", { merge: "sum", better: "less" }),
  wait: tally("Wait of a claim", "Wait of a claim until it was met, zero waits included.", {
    merge: "pooled",
    better: "less",
  }),
  waited: meanTime("Wait of claims that waited", "Wait over those claims alone that waited at all.", {
    merge: "pooled",
    better: "less",
  }),
  use: ratio(
    "Share of time in use",
    "Share of the time in which one is in use, of each where they are told apart.",
    "(1/T) ∫ [in use] dt",
    {
      each: "member or spot",
    },
  ),
  cost: cost(
    "Cost",
    "Time in use and time on shift by their cost rates.",
    "rate of work × ∫ busy dt + rate on shift × ∫ on shift dt",
    { merge: "sum" },
  ),
} as const;

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
  /** By unit, whether it is in use, where they are told apart. */
  private readonly inUse: Level[] = [];
  /** Units spoken for while a claim is being tried. */
  reserved = 0;
  /** Its units, where they walk to where they are needed. */
  walkers: Walkers | undefined;
  /** Which of them goes, where they are not all the same. */
  who: WhoGoes | undefined;
  private readonly tellClaimed: Listener | undefined;
  private readonly tellFreed: Listener | undefined;

  constructor(node: Node<Pool>, lowering: Lowering) {
    const { element } = node;
    const { requests, work } = lowering.resources;
    const count = node.rows ? Math.max(1, node.rows.table.rows) : (node.settings.get("count")?.constant ?? 1);
    this.id = element.id;
    this.tellClaimed = lowering.events.teller(element.id, "is claimed");
    this.tellFreed = lowering.events.teller(element.id, "is freed");
    this.name = element.name;
    this.preempts = element.preempt;
    this.lastFirst = element.order === "last asked";
    this.line = lowering.meters.level();
    this.wait = lowering.meters.tally();
    this.takenAway = lowering.meters.counter();
    lowering.meters.showWaits(this.wait);
    this.units = new Units(lowering, {
      count,
      timetable: lowering.model.timetables.get(element.calendar),
      timetableOf: hoursOfEach(node, lowering),
      atBell: element.atBell,
      hooks: {
        available: () => requests.serve(this),
        stop: (token) => work.stop(token),
        go: (token) => work.go(token),
        shifted: tellShifts(node, lowering),
        goesHome: (unit) => this.walkers?.goesHome(unit) ?? false,
        working: (unit, atWork) => {
          this.inUse[unit]?.set(atWork ? 1 : 0);
          const breakdowns = this.breakdowns[unit];
          if (!breakdowns) return;
          breakdowns.working(atWork);
          if (!atWork && this.units.state[unit] === UNIT.idle) breakdowns.jobDone();
        },
      },
    });
    this.base = requests.add(this, count);
  }

  /** Gives a free unit to a token at an element, the one that is named or one of its own choosing; returns which. */
  take(token: number, place: number, named?: number): number {
    const { units, who } = this;
    const unit = named ?? (who ? who.choose(place) : units.occupy(token, UNIT.busy));
    if (who || named !== undefined) units.occupyOne(unit, token, UNIT.busy);
    who?.given(unit);
    if (this.tellClaimed) this.tellClaimed(-1);
    return unit;
  }

  /** Takes a unit back. */
  giveBack(unit: number): void {
    if (!this.walkers?.giveBack(unit)) {
      this.who?.freed(unit);
      this.units.vacate(unit);
    }
    if (this.tellFreed) this.tellFreed(-1);
  }

  /** Who reads its properties. */
  get readers(): Record<keyof typeof POOL_PROPERTIES, Read> {
    const { units, line } = this;
    return {
      busy: () => units.levels[UNIT.busy].value,
      free: () => units.free,
      count: () => units.mostInUse,
      down: () => units.levels[UNIT.down].value,
      offShift: () => units.levels[UNIT.offShift].value,
      keepsHours: () => (units.hoursKept ? 1 : 0),
      line: () => line.value,
    };
  }

  writers(node: Node<Pool>, lowering: Lowering) {
    return unitWriters(node, lowering, "count", this.units);
  }

  /** Measures the use of each unit, by what it is called. */
  tellApart({ meters }: Lowering, measured: Measured<typeof POOL_MEASURES>, nameOf: (unit: number) => string): void {
    for (let unit = 0; unit < this.units.count; unit++) {
      const level = meters.level();
      this.inUse.push(level);
      const each = { id: String(unit + 1), name: nameOf(unit) };
      measured.add("use", () => level.integral / meters.time, { each });
    }
  }

  measures(
    node: Node<Pool>,
    lowering: Lowering,
    measured: Measured<typeof POOL_MEASURES>,
    states: readonly UnitState[],
  ): void {
    const { line, wait, units } = this;
    units.measures(measured, states);
    measured.add("taken", () => wait.count);
    if (this.preempts) measured.add("takenAway", () => this.takenAway.n);
    measured.level("line", line);
    measured.tally("wait", [wait]);
    measured.add("waited", () => wait.sum / wait.positive, { part: "mean" });
    const [busy, open] = [node.settings.get("costBusy")?.constant, node.settings.get("costOpen")?.constant];
    if (busy !== undefined || open !== undefined) {
      measured.add(
        "cost",
        () =>
          (busy ?? 0) * units.levels[UNIT.busy].integral +
          (open ?? 0) * (units.count * lowering.meters.time - units.levels[UNIT.offShift].integral),
      );
    }
    lowering.shown.count(node, () => line.value);
    lowering.shown.units(node, units);
  }
}

export const POOL_PROPERTIES = {
  busy: PLAIN,
  free: PLAIN,
  count: PLAIN,
  down: PLAIN,
  offShift: PLAIN,
  keepsHours: YES_NO,
  line: PLAIN,
};

/** What steps may set of a resource. */
export const poolSettable = (of: Pool): readonly ("count" | "keepsHours")[] =>
  keepsHours(of) ? ["count", "keepsHours"] : ["count"];

/** Events of all resources. */
export const POOL_EVENTS = {
  "is claimed": { label: "One of it is given to who claimed it", of: "element" },
  "is freed": { label: "One of it is given back", of: "element" },
  ...SHIFT_EVENTS,
} as const satisfies EventSpecs;

/** Breakdowns of the units of a pool: each unit fails by itself. */
export function breakUnits(
  node: Node<Pool & ValuesOf<typeof BREAKDOWNS>>,
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
          if (holder >= 0) lowering.resources.requests.broken(holder);
        },
        repair: () => units.repair(unit),
      }),
    );
  }
}
