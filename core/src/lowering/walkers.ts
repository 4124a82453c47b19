import type { Read } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Model } from "../model/model.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Counter } from "./counter.ts";
import { Legs } from "./legs.ts";
import { UNIT, type Units } from "./units.ts";

const [STANDS, COMES, RETURNS, ESCORTS] = [0, 1, 2, 3];

export interface WalkersSettings {
  /** Index of the element at which they are at the start. */
  readonly home: number;
  readonly overWays: boolean;
  readonly speed: Read;
  /** Which of those that are free goes. */
  readonly chosen: "fixed order" | "nearest" | "longest idle" | "least used";
  readonly idle: "stay" | "home";
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
  /** Metres along the way then, where the stretch with one limit ends, and when one is there. */
  readonly at: number;
  readonly end: number;
  readonly endsAt: number;
  /** Whether it walks beside the one that has it. */
  readonly escorts: boolean;
}

/**
 * Members of a crew who walk to the work: where each stands, which of them goes, and when it has come. One that is no
 * longer needed walks on, and is free where it was going; one that nobody needs stays, or goes home, and is free again
 * when it is there.
 */
export class Walkers {
  /** By unit: index of the element at which it stands or to which it walks, and whence. */
  private readonly at: Int32Array;
  private readonly from: Int32Array;
  private readonly doing: Uint8Array;
  private readonly since: Float64Array;
  private readonly metresASecond: Float64Array;
  private readonly idleSince: Float64Array;
  private readonly uses: Int32Array;
  /** Who a unit walks to; -1 where nobody waits for it any more. */
  private readonly needs: Int32Array;
  private readonly tokens: Int32Array;
  private readonly unitOf = new Map<number, number>();
  private readonly legs: Legs;
  private readonly come: number;
  private readonly lookHome: () => void;

  constructor(
    readonly settings: WalkersSettings,
    private readonly units: Units,
    private readonly meters: WalkersMeters,
    model: Model,
    private readonly kernel: Kernel,
    /** Told of a token to whom one has come. */
    private readonly arrived: (token: number) => void,
    /** Has something done when all at an instant have asked and been given what there is. */
    whenGiven: (act: () => void) => () => void,
  ) {
    this.lookHome = whenGiven(() => this.goHome());
    const { count } = units;
    this.at = new Int32Array(count);
    this.from = new Int32Array(count);
    this.doing = new Uint8Array(count);
    this.since = new Float64Array(count);
    this.metresASecond = new Float64Array(count);
    this.idleSince = new Float64Array(count);
    this.uses = new Int32Array(count);
    this.needs = new Int32Array(count);
    this.tokens = new Int32Array(count);
    this.legs = new Legs(model, settings.overWays);
    this.come = kernel.emit((token) => {
      this.done(this.unitOf.get(token)!);
      return SUSPEND;
    });
  }

  get count(): number {
    return this.units.count;
  }

  /** Begins a replication: all are at home. */
  begin(): void {
    const { kernel, settings } = this;
    this.at.fill(settings.home);
    this.from.fill(settings.home);
    this.doing.fill(STANDS);
    this.idleSince.fill(0);
    this.uses.fill(0);
    this.needs.fill(-1);
    this.unitOf.clear();
    for (let unit = 0; unit < this.tokens.length; unit++) {
      const token = kernel.pool.take(NO_TYPE, this.come, kernel.clock);
      this.tokens[unit] = token;
      this.unitOf.set(token, unit);
    }
  }

  /** The unit that goes to an element, of those that are free; there must be one. -1 for an element: anywhere. */
  choose(place: number): number {
    const { chosen } = this.settings;
    const { state } = this.units;
    let best = -1;
    let least = Infinity;
    for (let unit = 0; unit < state.length; unit++) {
      if (state[unit] !== UNIT.idle) continue;
      const worth =
        chosen === "nearest"
          ? this.metresTo(unit, place)
          : chosen === "longest idle"
            ? this.idleSince[unit]
            : chosen === "least used"
              ? this.uses[unit]
              : 0;
      if (best >= 0 && !(worth < least)) continue;
      least = worth;
      best = unit;
    }
    return best;
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
    this.uses[unit] += 1;
    if (place < 0 || !this.walk(unit, place, COMES)) return false;
    this.needs[unit] = token;
    this.units.setDoing(unit, UNIT.walking);
    return true;
  }

  /**
   * A unit sets out for an element beside one who moves at most so fast (NaN: as it does itself), and is given back
   * there: the seconds that they take.
   */
  escort(unit: number, to: number, metresASecond: number): number {
    const { kernel, settings } = this;
    const own = settings.speed(-1);
    const speed = metresASecond < own ? metresASecond : own;
    const { length, stretches } = this.legs.between(this.at[unit], to);
    let seconds = 0;
    for (const stretch of stretches) seconds += stretch.length / Math.min(speed, stretch.limit);
    this.from[unit] = this.at[unit];
    this.at[unit] = to;
    this.doing[unit] = ESCORTS;
    this.metresASecond[unit] = speed;
    this.since[unit] = kernel.now;
    this.meters.metres.total += length;
    return seconds;
  }

  /** A unit is given back: true where it is not free yet. */
  giveBack(unit: number): boolean {
    const { units, settings } = this;
    if (this.doing[unit] === COMES) {
      this.needs[unit] = -1;
      units.handTo(unit, this.tokens[unit]);
      return true;
    }
    if (this.doing[unit] === ESCORTS) {
      this.doing[unit] = STANDS;
      this.from[unit] = this.at[unit];
    }
    this.idleSince[unit] = this.kernel.now;
    // Whether somebody else needs it is known when all who ask at this instant have asked.
    if (settings.idle === "home" && this.at[unit] !== settings.home) this.lookHome();
    return false;
  }

  /** Those whom nobody needs go home. */
  private goHome(): void {
    const { units, settings } = this;
    for (let unit = 0; unit < units.count; unit++) {
      if (units.state[unit] !== UNIT.idle || !this.walk(unit, settings.home, RETURNS)) continue;
      units.occupyOne(unit, this.tokens[unit], UNIT.returning);
    }
  }

  /** The element at which a unit stands, or to which it walks. */
  placeOf(unit: number): number {
    return this.at[unit];
  }

  /** Metres of the way that a unit goes, or went last. */
  metresOf(unit: number): number {
    return this.legs.between(this.from[unit], this.at[unit]).length;
  }

  /** Those who walk, as they are at an instant up to which nothing more happens. */
  *walks(now: number): Generator<Walk> {
    for (let unit = 0; unit < this.doing.length; unit++) {
      if (this.doing[unit] === STANDS) continue;
      const { [unit]: from } = this.from;
      const { stretches } = this.legs.between(from, this.at[unit]);
      let begins = this.since[unit];
      let walk: Walk | undefined;
      for (const stretch of stretches) {
        const speed = Math.min(this.metresASecond[unit], stretch.limit);
        const end = stretch.from + stretch.length;
        const endsAt = begins + stretch.length / speed;
        const metres = Math.min(end, stretch.from + (now - begins) * speed);
        walk = { unit, from, at: metres, end, endsAt, escorts: this.doing[unit] === ESCORTS };
        if (endsAt > now) break;
        begins = endsAt;
      }
      if (walk) yield walk;
    }
  }

  private metresTo(unit: number, place: number): number {
    return place < 0 ? 0 : this.legs.between(this.at[unit], place).length;
  }

  /** Sets out for an element; false where it is there. */
  private walk(unit: number, to: number, doing: number): boolean {
    const { kernel, settings } = this;
    const { length, stretches } = this.legs.between(this.at[unit], to);
    if (length === 0) {
      this.at[unit] = to;
      return false;
    }
    const metresASecond = settings.speed(-1);
    let seconds = length === Infinity ? Infinity : 0;
    for (const stretch of stretches) seconds += stretch.length / Math.min(metresASecond, stretch.limit);
    if (length === Infinity) {
      kernel.fail({
        code: "no-route",
        message: `No way leads ${settings.name} to where they are needed over the walkways and roads.`,
        hint: "Draw one that begins, ends or passes there, or let them walk straight.",
        id: settings.id,
        field: "walks",
      });
      return true;
    }
    this.from[unit] = this.at[unit];
    this.at[unit] = to;
    this.doing[unit] = doing;
    this.metresASecond[unit] = metresASecond;
    this.since[unit] = kernel.now;
    this.meters.walks.total += 1;
    this.meters.metres.total += length;
    kernel.delay(this.tokens[unit], seconds, EventClass.activityEnd, settings.id, "speed");
    return true;
  }

  private done(unit: number): void {
    const { units } = this;
    const came = this.doing[unit] === COMES;
    this.doing[unit] = STANDS;
    this.from[unit] = this.at[unit];
    this.idleSince[unit] = this.kernel.now;
    const { [unit]: token } = this.needs;
    this.needs[unit] = -1;
    if (came && token >= 0) {
      this.meters.walk.add(this.kernel.now - this.since[unit]);
      units.setDoing(unit, UNIT.busy);
      this.arrived(token);
    } else if (!came || !this.giveBack(unit)) units.vacate(unit);
  }
}
