import type { Escort } from "../document/link.ts";
import { type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Model } from "../model/model.ts";
import type { Point } from "../settings/parts.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Counter } from "./counter.ts";
import { type Going, Legs } from "./legs.ts";
import { Movers } from "./movers.ts";
import type { Traffic } from "./traffic.ts";
import { UNIT, type Units } from "./units.ts";
import type { WhoGoes } from "./whoGoes.ts";

const [STANDS, COMES, RETURNS, ESCORTS] = [0, 1, 2, 3];

export interface WalkersSettings {
  /** The index of the element at which a unit is at the start, and to which it goes home. */
  readonly home: (unit: number) => number;
  readonly going: Going;
  readonly speed: (unit: number) => number;
  /** To which element one goes that nobody needs: its home, or one for all by its index; -1 where it stays. */
  readonly rest: "home" | number;
  /** Of those that wait with the highest priority the nearest is gone to first. */
  readonly nearestFirst: boolean;
  /** Id of the element, for what fails. */
  readonly id: string;
  readonly name: string;
}

export interface WalkersMeters {
  readonly walks: Counter;
  readonly metres: Counter;
  /** From when a member is given to who asked until it has come, where it walks at all. */
  readonly walk: Tally;
}

/** A walk under way. */
export interface Walk {
  readonly unit: number;
  /** Index of the element from which it goes. */
  readonly from: number;
  /** Metres along the way now, where its stretch ends, and when one is there; NaN where others hold it up. */
  readonly at: number;
  readonly end: number;
  readonly until: number;
  /** How it goes with the one that has it; undefined where it goes alone. */
  readonly goes: Manner | undefined;
  /** The way it goes, where that may be another than it would be now. */
  readonly points?: readonly Point[] | undefined;
}

/** How somebody of a crew goes with an entity: beside it, pushing it, or carrying it with another, ahead or behind. */
export const MANNERS = ["beside", "pushes", "carries ahead", "carries behind"] as const;
export type Manner = (typeof MANNERS)[number];

/**
 * Members of a crew who walk to the work: where each stands, which of them goes, and when it has come. One that is no
 * longer needed walks on, and is free where it was going; one that nobody needs stays, or goes home or to its post, and
 * is free again when it is there.
 */
export class Walkers {
  private readonly movers: Movers;
  private readonly doing: Uint8Array;
  /** By unit: since when it walks. */
  private readonly since: Float64Array;
  private readonly homes: Int32Array;
  /** Who a unit walks to, or beside; -1 where nobody waits for it any more. */
  private readonly needs: Int32Array;
  private readonly unitOf = new Map<number, number>();
  /** By unit, how it goes with somebody; by token, how many of those who go with it are still on the way. */
  private readonly manners: (Manner | undefined)[] = [];
  private readonly onTheWay = new Map<number, number>();
  private readonly come: number;
  private readonly lookHome: () => void;

  constructor(
    readonly settings: WalkersSettings,
    private readonly units: Units,
    private readonly who: WhoGoes,
    private readonly meters: WalkersMeters,
    model: Model,
    private readonly kernel: Kernel,
    traffic: Traffic,
    /** Told of a token to whom one has come. */
    private readonly arrived: (token: number) => void,
    /** Has something done when all at an instant have asked and been given what there is. */
    whenGiven: (act: () => void) => () => void,
  ) {
    this.lookHome = whenGiven(() => this.goHome());
    const { count } = units;
    this.doing = new Uint8Array(count);
    this.since = new Float64Array(count);
    this.homes = new Int32Array(count);
    who.metresTo = (unit, place) => this.metresTo(unit, place);
    this.needs = new Int32Array(count);
    const { id, name } = settings;
    this.movers = new Movers(count, new Legs(model, settings.going, traffic), kernel, traffic, {
      id,
      field: "speed",
      nameOf: (unit) => `${name} ${unit + 1}`,
      arrived: (unit) => this.done(unit),
    });
    this.come = kernel.emit((token) => {
      this.movers.next(this.unitOf.get(token)!);
      return SUSPEND;
    });
  }

  get count(): number {
    return this.units.count;
  }

  /** Begins a replication: all are at home. */
  begin(): void {
    const { kernel, settings } = this;
    this.doing.fill(STANDS);
    this.needs.fill(-1);
    this.unitOf.clear();
    this.onTheWay.clear();
    for (let unit = 0; unit < this.count; unit++) {
      const token = kernel.pool.take(NO_TYPE, this.come, kernel.clock);
      this.homes[unit] = settings.home(unit);
      this.movers.begin(unit, this.homes[unit], token);
      this.unitOf.set(token, unit);
    }
  }

  /** Metres from an element to the nearest that is free. */
  nearestTo(place: number): number {
    const { state } = this.units;
    let least = Infinity;
    for (let unit = 0; unit < state.length; unit++)
      if (state[unit] === UNIT.idle) least = Math.min(least, this.metresTo(unit, place));
    return least;
  }

  /** A unit has been given to a token at an element: true where it has to walk there first. */
  goTo(unit: number, token: number, place: number): boolean {
    if (place < 0 || !this.walk(unit, place, COMES)) return false;
    this.needs[unit] = token;
    this.units.setDoing(unit, UNIT.walking);
    return true;
  }

  /**
   * Units set out for an element with a token that moves at most so fast (NaN: as they do), all as fast as the slowest;
   * the token is resumed when all are there.
   */
  escort(units: readonly number[], to: number, metresASecond: number, token: number, how: Escort): void {
    let pace = Number.isNaN(metresASecond) ? Infinity : metresASecond;
    for (const unit of units) pace = Math.min(pace, this.settings.speed(unit));
    this.onTheWay.set(token, units.length);
    units.forEach((unit, i) => {
      this.manners[unit] = how !== "carries" ? how : i === 0 ? "carries ahead" : "carries behind";
      this.doing[unit] = ESCORTS;
      this.needs[unit] = token;
      this.since[unit] = this.kernel.now;
      this.meters.metres.total += this.movers.ways.between(this.movers.at[unit], to).length;
      this.movers.go(unit, to, pace);
    });
  }

  /** A unit is given back: true where it is not free yet. */
  giveBack(unit: number): boolean {
    const { units } = this;
    if (this.doing[unit] === COMES) {
      this.needs[unit] = -1;
      units.handTo(unit, this.movers.tokens[unit]);
      return true;
    }
    // Whose shift is over goes home before it is off.
    if (units.isLeaving(unit) && this.walk(unit, this.restOf(unit), RETURNS)) {
      units.handTo(unit, this.movers.tokens[unit]);
      units.setDoing(unit, UNIT.returning);
      return true;
    }
    // Whether somebody else needs it is known when all who ask at this instant have asked.
    const rest = this.restOf(unit);
    if (rest >= 0 && this.movers.at[unit] !== rest) this.lookHome();
    return false;
  }

  /** Those whom nobody needs go home, or to their post. */
  private goHome(): void {
    const { units } = this;
    for (let unit = 0; unit < units.count; unit++) if (units.state[unit] === UNIT.idle) this.goesHome(unit);
  }

  /** The shift of one that is idle ends: it goes home first, where it is not there. */
  goesHome(unit: number): boolean {
    if (!this.walk(unit, this.restOf(unit), RETURNS)) return false;
    this.units.occupyOne(unit, this.movers.tokens[unit], UNIT.returning);
    return true;
  }

  private restOf(unit: number): number {
    const { rest } = this.settings;
    return rest === "home" ? this.homes[unit] : rest;
  }

  /** The element at which a unit stands, or to which it walks. */
  placeOf(unit: number): number {
    return this.movers.at[unit];
  }

  /** Metres of the way that a unit goes, or went last. */
  metresOf(unit: number): number {
    return this.movers.metresOf(unit);
  }

  /** Those who walk, as they are at an instant up to which nothing more happens. */
  *walks(now: number): Generator<Walk> {
    for (let unit = 0; unit < this.doing.length; unit++) {
      const motion = this.movers.motionOf(unit, now);
      if (motion)
        yield {
          unit,
          from: this.movers.from[unit],
          ...motion,
          goes: this.doing[unit] === ESCORTS ? this.manners[unit] : undefined,
        };
    }
  }

  /** Metres from where a unit stands to an element; -1: anywhere. */
  metresTo(unit: number, place: number): number {
    return place < 0 ? 0 : this.movers.ways.between(this.movers.at[unit], place).length;
  }

  /** Sets out for an element; false where it is there. */
  private walk(unit: number, to: number, doing: number): boolean {
    const { kernel, settings } = this;
    if (to < 0) return false;
    const { length } = this.movers.ways.between(this.movers.at[unit], to);
    if (length === 0) {
      this.movers.at[unit] = to;
      return false;
    }
    this.doing[unit] = doing;
    this.since[unit] = kernel.now;
    this.meters.walks.total += 1;
    this.meters.metres.total += length;
    this.movers.go(unit, to, settings.speed(unit));
    return true;
  }

  /** It has come to where it went. */
  private done(unit: number): void {
    const { units, kernel } = this;
    const did = this.doing[unit];
    const token = this.needs[unit];
    this.doing[unit] = STANDS;
    this.needs[unit] = -1;
    if (did === ESCORTS) {
      const left = this.onTheWay.get(token)! - 1;
      this.onTheWay.set(token, left);
      if (left === 0) kernel.resume(token);
      return;
    }
    this.who.freed(unit);
    if (did === COMES && token >= 0) {
      this.meters.walk.add(kernel.now - this.since[unit]);
      units.setDoing(unit, UNIT.busy);
      this.arrived(token);
    } else if (did !== COMES || !this.giveBack(unit)) units.vacate(unit);
  }
}
