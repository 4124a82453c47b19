import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import { NUMBER } from "../quantity/index.ts";
import { type MeasureSpec, ratio } from "../measures/spec.ts";
import type { Level } from "../statistics/level.ts";
import type { Timetable } from "../timetable/index.ts";
import { Bells } from "./bells.ts";
import type { Measured } from "./measured.ts";
import type { Meters } from "./meters.ts";
import type { Replication } from "./replication.ts";

/** What a slot of a station or a unit of a resource is doing. */
export const UNIT = {
  idle: 0,
  settingUp: 1,
  busy: 2,
  needing: 3,
  blocked: 4,
  down: 5,
  offShift: 6,
  walking: 7,
  returning: 8,
  awaiting: 9,
} as const;
export type UnitState = (typeof UNIT)[keyof typeof UNIT];

export const UNIT_WORDS: readonly string[] = [
  "idle",
  "setting up",
  "busy",
  "waiting for a resource",
  "blocked",
  "down",
  "off shift",
  "walking to work",
  "walking home",
  "waiting for someone on the way",
];
/** How the shares of time in a state are called among the measures. */
export const UNIT_KEYS = Object.keys(UNIT) as readonly (keyof typeof UNIT)[];

/** What is measured of slots or units. */
export const UNIT_MEASURES = {
  utilization: ratio(
    "Utilization, busy over scheduled time",
    "Ratio of averages: time at work divided by time on shift, over all slots or units.",
    "∫ busy dt / ∫ on shift dt",
    { merge: "by units" },
  ),
  "utilization.average": ratio(
    "Utilization, average of busy over available",
    "Average of ratios: at work over available (on shift and not down) at each moment, averaged over the time in which any is available. Equal to the ratio of averages while that number does not change.",
    "∫ busy / available dt / ∫ [available > 0] dt",
  ),
  state: {
    label: "Share of time",
    statistic: "share",
    dimension: NUMBER,
    definition: "Share of the time of all slots or units in a state; the shares of all states sum to 1.",
    formula: "(1/T) ∫ in the state dt / units",
    merge: "by units",
    keeps: true,
    parts: Object.fromEntries(UNIT_KEYS.map((key) => [key, ` ${UNIT_WORDS[UNIT[key]]}`])),
    definitions: {
      idle: "Share of time in which nothing is in the slot, or only an entity on its way to it.",
      settingUp: "Share of time in which a slot is set up or torn down.",
      busy: "Share of time in which entities are worked on, or a unit is in use.",
      needing: "Share of time in which work cannot begin or go on for want of a resource.",
      blocked: "Share of time in which a finished entity cannot leave for want of room.",
      down: "Share of time broken down or under repair, while on shift.",
      offShift: "Share of time off shift, by the calendar and the rule for work in progress.",
      walking: "Share of time in which members walk to where they are needed.",
      returning: "Share of time in which members walk home, and are not free.",
      awaiting: "Share of time in which work cannot begin or go on as someone is still walking there.",
    },
  },
} as const satisfies Record<string, MeasureSpec>;

/** After the states, in counts by state: all units. */
const ALL = UNIT_KEYS.length;

export interface UnitHooks {
  /** A unit can be given out again. */
  available(): void;
  /** The work of the one it is given to must stand still … */
  stop(occupant: number): void;
  /** … and has one reason less to. */
  go(occupant: number): void;
  /** By so many more or fewer are now open: given out, or ready to be. */
  opened?(change: number): void;
  /** More units are there than before, or fewer, by the calendar or by steps. */
  shifted?(more: boolean): void;
  /** A unit begins or ceases to be at work. */
  working?(unit: number, atWork: boolean): void;
  /** The shift of one that is idle ends: true where it goes home first, and has been given out for that. */
  goesHome?(unit: number): boolean;
}

/** What becomes of work in progress when a calendar takes capacity away. */
export type AtBell = "finish, then full break" | "finish, keep the timetable" | "pause at the bell";

/** What units are made with. */
interface Parts {
  readonly kernel: Kernel;
  readonly meters: Meters;
  readonly replication: Replication;
}

interface UnitSettings {
  readonly count: number;
  /** How many are there. */
  readonly timetable: Timetable | undefined;
  /** When each is there by hours of its own, in place of that; asked for when a replication begins. */
  readonly timetableOf?: (unit: number) => Timetable | undefined;
  readonly atBell: AtBell;
  readonly hooks: UnitHooks;
}

/**
 * Slots of a station, or units of a resource: each is given out to one token at a time,
 * is on shift by its place among the others (unit 3 of 5 is, while the calendar says 3 or more) or by hours of its
 * own, and may be down. It keeps the one truth about what each is doing, and measures the shares of time.
 *
 * When the calendar takes a unit away from work in progress: *finish, then full break*: its
 * pause begins when the work ends and keeps its length; *finish, keep the timetable*: its pause begins
 * when the work ends and ends on time; *pause at the bell*: the work stands still.
 * Off shift goes before down, and down before all else.
 */
export class Units {
  readonly levels: readonly Level[];
  /** How many could be given out now. */
  free = 0;
  readonly state: Uint8Array;
  readonly occupant: Int32Array;
  private readonly kernel: Kernel;
  private readonly doing: Uint8Array;
  /** The calendar says off. */
  private readonly closed: Uint8Array;
  /** Is off: with work to finish, later than the calendar says. */
  private readonly off: Uint8Array;
  /** On a break that began late and keeps its length. */
  private readonly onBreak: Uint8Array;
  private readonly owed: Float64Array;
  private readonly downs: Int32Array;
  private readonly open: Uint8Array;
  private firstMaybeFree = 0;
  /** By unit, where each has hours of its own. */
  private own: readonly (Timetable | undefined)[] | undefined;
  /** Most units in use, as steps have it, and whether the calendar is kept. */
  private limit: number;
  private keepsHours = true;
  private busyShare: Level;
  private someAvailable: Level;
  private breakOver = SUSPEND;
  /** Units by state, and all of them. */
  private readonly inState = new Int32Array(ALL + 1);
  private readonly opened: UnitHooks["opened"];
  private readonly working: UnitHooks["working"];

  constructor(
    private readonly lowering: Parts,
    private readonly settings: UnitSettings,
  ) {
    const { kernel } = lowering;
    const { count } = settings;
    this.kernel = kernel;
    this.opened = settings.hooks.opened;
    this.working = settings.hooks.working;
    this.limit = count;
    this.levels = UNIT_KEYS.map(() => lowering.meters.level());
    this.busyShare = lowering.meters.level();
    this.someAvailable = lowering.meters.level();
    this.state = new Uint8Array(count);
    this.occupant = new Int32Array(count);
    this.doing = new Uint8Array(count);
    this.closed = new Uint8Array(count);
    this.off = new Uint8Array(count);
    this.onBreak = new Uint8Array(count);
    this.owed = new Float64Array(count);
    this.downs = new Int32Array(count);
    this.open = new Uint8Array(count);
    const bells = new Bells(kernel, () => this.callShift());
    this.breakOver = kernel.emit((token) => {
      const unit = kernel.pool.wayOf(token);
      kernel.pool.release(token);
      this.onBreak[unit] = 0;
      if (this.closed[unit] === 0) this.comeBack(unit);
      return SUSPEND;
    });
    lowering.replication.atStart(() => {
      this.begin();
      bells.begin(this.own ?? [settings.timetable]);
    });
  }

  get count(): number {
    return this.settings.count;
  }

  private begin(): void {
    const { count, timetableOf } = this.settings;
    this.own = timetableOf && Array.from({ length: count }, (_, unit) => timetableOf(unit));
    this.occupant.fill(-1);
    this.doing.fill(UNIT.idle);
    this.onBreak.fill(0);
    this.owed.fill(0);
    this.downs.fill(0);
    this.limit = count;
    this.keepsHours = true;
    const byCount = this.byCalendar();
    let onShift = 0;
    for (let unit = 0; unit < count; unit++) {
      const on = this.isThere(unit, byCount);
      if (on) onShift += 1;
      this.closed[unit] = this.off[unit] = on ? 0 : 1;
      this.state[unit] = on ? UNIT.idle : UNIT.offShift;
      this.open[unit] = on ? 1 : 0;
    }
    this.inState.fill(0);
    this.inState[UNIT.idle] = onShift;
    this.inState[UNIT.offShift] = count - onShift;
    this.inState[ALL] = count;
    this.free = onShift;
    this.firstMaybeFree = 0;
    this.levels[UNIT.idle].add(onShift);
    this.levels[UNIT.offShift].add(count - onShift);
    this.someAvailable.add(onShift > 0 ? 1 : 0);
    const closed = onShift - count;
    if (closed < 0) this.settings.hooks.opened?.(closed);
  }

  /** Gives out the first free unit, to work of `doing`. There must be one. */
  occupy(token: number, doing: UnitState): number {
    let unit = this.firstMaybeFree;
    while (this.state[unit] !== UNIT.idle) unit += 1;
    this.firstMaybeFree = unit + 1;
    this.occupant[unit] = token;
    this.doing[unit] = doing;
    this.refresh(unit);
    return unit;
  }

  /** The same, of one that is chosen. */
  occupyOne(unit: number, token: number, doing: UnitState): void {
    this.occupant[unit] = token;
    this.doing[unit] = doing;
    this.refresh(unit);
  }

  /** Another token has it from now on; what it does goes on. */
  handTo(unit: number, token: number): void {
    const { hooks } = this.settings;
    const stopped = inProgress(this.doing[unit]) ? (this.off[unit] ? 1 : 0) + (this.downs[unit] > 0 ? 1 : 0) : 0;
    for (let i = 0; i < stopped; i++) {
      hooks.go(this.occupant[unit]);
      hooks.stop(token);
    }
    this.occupant[unit] = token;
  }

  /** The one it is given to does something else now. */
  setDoing(unit: number, doing: UnitState): void {
    if (this.doing[unit] === doing) return;
    const ended = inProgress(this.doing[unit]) && !inProgress(doing);
    this.doing[unit] = doing;
    if (ended) this.workEnded(unit);
    this.refresh(unit);
  }

  /** Takes a unit back. */
  vacate(unit: number): void {
    const ended = inProgress(this.doing[unit]);
    this.doing[unit] = UNIT.idle;
    if (ended) this.workEnded(unit);
    this.occupant[unit] = -1;
    this.refresh(unit);
    if (this.state[unit] === UNIT.idle) this.settings.hooks.available();
  }

  /** Whether work in progress on it stands still. */
  isStopped(unit: number): boolean {
    return this.off[unit] !== 0 || this.downs[unit] > 0;
  }

  breakDown(unit: number): void {
    if (this.downs[unit]++ > 0) return;
    if (inProgress(this.doing[unit])) this.settings.hooks.stop(this.occupant[unit]);
    this.refresh(unit);
  }

  repair(unit: number): void {
    if (--this.downs[unit] > 0) return;
    if (inProgress(this.doing[unit])) this.settings.hooks.go(this.occupant[unit]);
    this.refresh(unit);
    if (this.state[unit] === UNIT.idle) this.settings.hooks.available();
  }

  /** How many of them are in use at most, as steps have it. */
  get mostInUse(): number {
    return this.limit;
  }

  /** Has at most so many in use from now on, as a calendar does: a whole number from 0 to the count. */
  useAtMost(units: number): void {
    this.limit = units;
    this.callShift();
  }

  /** Whether the calendar says how many are there. */
  get hoursKept(): boolean {
    return this.keepsHours;
  }

  keepHours(keep: boolean): void {
    this.keepsHours = keep;
    this.callShift();
  }

  /** Units come or go, by the calendar or by steps. */
  private callShift(): void {
    const { closed, settings } = this;
    const byCount = this.byCalendar();
    let went = 0;
    let came = 0;
    for (let unit = settings.count - 1; unit >= 0; unit--)
      if (closed[unit] === 0 && !this.isThere(unit, byCount)) {
        went += 1;
        this.bell(unit);
      }
    for (let unit = 0; unit < settings.count; unit++)
      if (closed[unit] !== 0 && this.isThere(unit, byCount)) {
        came += 1;
        closed[unit] = 0;
        if (this.off[unit] && !this.onBreak[unit]) this.comeBack(unit);
      }
    if (went > 0) settings.hooks.shifted?.(false);
    if (came > 0) settings.hooks.shifted?.(true);
  }

  /** How many the calendar of all has there. */
  private byCalendar(): number {
    const { timetable, timetableOf } = this.settings;
    return this.keepsHours && timetable && !timetableOf ? timetable.at(this.kernel.now) : Infinity;
  }

  /** Whether the hours of a unit, or of all, have it there now. */
  private hasHours(unit: number, byCount: number): boolean {
    if (unit >= byCount) return false;
    const own = this.keepsHours ? this.own?.[unit] : undefined;
    return own === undefined || own.at(this.kernel.now) > 0;
  }

  private isThere(unit: number, byCount: number): boolean {
    return unit < this.limit && this.hasHours(unit, byCount);
  }

  /** The calendar, or a step, takes a unit away. */
  private bell(unit: number): void {
    const { atBell, hooks } = this.settings;
    this.closed[unit] = 1;
    if (this.off[unit]) return;
    if (atBell === "pause at the bell") this.goOff(unit);
    else if (this.state[unit] === UNIT.idle && hooks.goesHome?.(unit)) this.oweBreak(unit);
    else if (inProgress(this.doing[unit])) this.oweBreak(unit);
    else this.goOff(unit);
  }

  /** What a unit is still to finish takes nothing from its break, where that keeps its length. */
  private oweBreak(unit: number): void {
    const { atBell, timetable } = this.settings;
    if (atBell !== "finish, then full break" || this.hasHours(unit, this.byCalendar())) return;
    const { now } = this.kernel;
    const own = this.own?.[unit];
    const back = own ? own.nextWhere(now, (there) => there > 0) : timetable!.nextWhere(now, (most) => most > unit);
    this.owed[unit] += back - now;
  }

  /** Whether its shift is over once it has finished what it is at. */
  isLeaving(unit: number): boolean {
    return this.closed[unit] !== 0 && this.off[unit] === 0;
  }

  private workEnded(unit: number): void {
    const { hooks } = this.settings;
    // Work that ended at the very instant at which it was stopped: the reasons go with it.
    if (this.off[unit]) hooks.go(this.occupant[unit]);
    if (this.downs[unit] > 0) hooks.go(this.occupant[unit]);
    if (this.off[unit]) return;
    if (this.owed[unit] > 0) {
      const length = this.owed[unit];
      this.owed[unit] = 0;
      this.onBreak[unit] = 1;
      this.goOff(unit);
      if (length < Infinity) {
        const { pool } = this.kernel;
        const timer = pool.take(NO_TYPE, this.breakOver, this.kernel.clock);
        pool.setWay(timer, unit);
        this.kernel.schedule(timer, length, EventClass.capacityChange);
      }
    } else if (this.closed[unit]) this.goOff(unit);
  }

  private goOff(unit: number): void {
    this.off[unit] = 1;
    if (inProgress(this.doing[unit])) this.settings.hooks.stop(this.occupant[unit]);
    this.refresh(unit);
  }

  private comeBack(unit: number): void {
    this.off[unit] = 0;
    if (inProgress(this.doing[unit])) this.settings.hooks.go(this.occupant[unit]);
    this.refresh(unit);
    if (this.state[unit] === UNIT.idle) this.settings.hooks.available();
  }

  private refresh(unit: number): void {
    const { levels, state, inState } = this;
    const before = state[unit];
    const occupied = this.occupant[unit] >= 0;
    const now = this.off[unit]
      ? UNIT.offShift
      : this.downs[unit] > 0
        ? UNIT.down
        : occupied
          ? this.doing[unit]
          : UNIT.idle;
    const open = occupied || now === UNIT.idle ? 1 : 0;
    if (now !== before) {
      state[unit] = now;
      levels[before].add(-1);
      levels[now].add(1);
      inState[before] -= 1;
      inState[now] += 1;
      if (before === UNIT.idle) this.free -= 1;
      if (now === UNIT.idle) {
        this.free += 1;
        if (unit < this.firstMaybeFree) this.firstMaybeFree = unit;
      }
      const available = inState[ALL] - inState[UNIT.offShift] - inState[UNIT.down];
      this.busyShare.set(available > 0 ? inState[UNIT.busy] / available : 0);
      this.someAvailable.set(available > 0 ? 1 : 0);
    }
    if (open !== this.open[unit]) {
      this.open[unit] = open;
      if (this.opened) this.opened(open ? 1 : -1);
    }
    // Last, as it may break down for having been at work.
    if (now !== before && (now === UNIT.busy || before === UNIT.busy) && this.working)
      this.working(unit, now === UNIT.busy);
  }

  /** Both utilizations, and the share of time in each of `states`. */
  measures(measured: Measured<typeof UNIT_MEASURES>, states: readonly UnitState[]): void {
    const { levels, busyShare, someAvailable, lowering, count } = this;
    const whole = () => count * lowering.meters.time;
    measured.add("utilization", () => levels[UNIT.busy].integral / (whole() - levels[UNIT.offShift].integral));
    measured.add("utilization.average", () => busyShare.integral / someAvailable.integral);
    for (const state of states) {
      const part = UNIT_KEYS[state];
      measured.keeps("state", { levels: [levels[state]], read: () => levels[state].value / count }, { part });
      measured.add("state", () => levels[state].integral / whole(), { part });
    }
  }
}

const inProgress = (doing: number): boolean =>
  doing === UNIT.busy ||
  doing === UNIT.settingUp ||
  doing === UNIT.needing ||
  doing === UNIT.walking ||
  doing === UNIT.returning ||
  doing === UNIT.awaiting;
