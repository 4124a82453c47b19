import { grown } from "../kernel/grown.ts";
import { EventClass, type Kernel } from "../kernel/kernel.ts";
import { metresAfter, type Profile, profileOf, secondsOver } from "../movement/motion.ts";
import type { Point } from "../settings/parts.ts";
import type { Leg, Legs } from "./legs.ts";
import type { Traffic } from "./traffic.ts";

/** How what moves does, and who is told of it. */
export interface Moving {
  /** Id of the element that they are of, and the setting that a wrong time on the way comes from. */
  readonly id: string;
  readonly field: string;
  /** What one is called in a message. */
  readonly nameOf?: (i: number) => string;
  /** Metres a second a second; undefined: full speed at once. */
  readonly acceleration?: number;
  /** Metres a second at most where the way turns. */
  readonly turning?: number;
  /** One has come to where it was to go. */
  readonly arrived: (i: number) => void;
  /** One has to wait for others on its way, or goes on from there. */
  readonly held?: (i: number, isHeld: boolean) => void;
  /** One has gone so many metres more. */
  readonly went?: (i: number, metres: number) => void;
  /** Metres that one still goes at most, and what becomes of one that has gone so far on its way. */
  readonly reach?: (i: number) => number;
  readonly stranded?: (i: number) => void;
}

/** Where one is on its way. */
interface Motion {
  readonly at: number;
  readonly end: number;
  readonly until: number;
  readonly points: readonly Point[] | undefined;
}

/** What goes between elements by itself: where each is, and its way stretch by stretch. */
export class Movers {
  /** Index of the element at which one stands or to which it goes, and whence it came. */
  at = new Int32Array(0);
  from = new Int32Array(0);
  /** The token of each, which the calendar holds while it moves. */
  tokens = new Int32Array(0);
  count = 0;
  private readonly legs: (Leg | undefined)[] = [];
  /** Metres of the way that each goes, or went last. */
  private gone = new Float64Array(0);
  private readonly profiles: (Profile | undefined)[] = [];
  private stretch = new Int32Array(0);
  private speed = new Float64Array(0);
  /** Since when it is on its stretch, but for `elapsed` seconds that it was before. */
  private since = new Float64Array(0);
  private elapsed = new Float64Array(0);
  private isHeld = new Uint8Array(0);
  private isStopped = new Uint8Array(0);
  /** It does not get to the end of its stretch. */
  private strands = new Uint8Array(0);

  constructor(
    count: number,
    readonly ways: Legs,
    private readonly kernel: Kernel,
    private readonly traffic: Traffic,
    private readonly moving: Moving,
  ) {
    this.grow(count);
    const { nameOf } = moving;
    if (!nameOf) return;
    traffic.callers.push((token) => {
      const i = this.tokens.indexOf(token);
      return i < 0 ? undefined : nameOf(i);
    });
  }

  /** Has room for so many. */
  grow(count: number): void {
    this.count = count;
    this.at = grown(this.at, count);
    this.from = grown(this.from, count);
    this.tokens = grown(this.tokens, count);
    this.gone = grown(this.gone, count);
    this.stretch = grown(this.stretch, count);
    this.speed = grown(this.speed, count);
    this.since = grown(this.since, count);
    this.elapsed = grown(this.elapsed, count);
    this.isHeld = grown(this.isHeld, count);
    this.isStopped = grown(this.isStopped, count);
    this.strands = grown(this.strands, count);
    while (this.legs.length < count) {
      this.legs.push(undefined);
      this.profiles.push(undefined);
    }
  }

  /** Begins a replication: one stands at an element. */
  begin(i: number, home: number, token: number): void {
    this.at[i] = this.from[i] = home;
    this.tokens[i] = token;
    this.legs[i] = this.profiles[i] = undefined;
    this.gone[i] = this.since[i] = this.elapsed[i] = this.isHeld[i] = this.isStopped[i] = this.strands[i] = 0;
  }

  /** Whether one is on its way. */
  isUnderWay(i: number): boolean {
    return this.legs[i] !== undefined;
  }

  /** Sends one to an element at a speed in metres a second; where it is there already, it arrives at once. */
  go(i: number, to: number, metresASecond: number): void {
    const leg = this.ways.between(this.at[i], to);
    if (leg.length === Infinity) return this.ways.failNoRoute(this.kernel, this.at[i], to, this.moving.id);
    this.from[i] = this.at[i];
    this.at[i] = to;
    this.gone[i] = leg.length;
    if (leg.stretches.length === 0) return this.moving.arrived(i);
    this.legs[i] = leg;
    this.stretch[i] = 0;
    this.speed[i] = metresASecond;
    this.setProfile(i, leg, 0);
    this.setOut(i);
  }

  /** The time of a token is over: it has come to the end of its stretch, or need not wait for others any more. */
  next(i: number): void {
    const { moving, kernel } = this;
    if (this.isStopped[i]) {
      // It may go on when it is not stopped any more.
      this.isStopped[i] = GIVEN_WAY;
      return;
    }
    if (this.strands[i]) return moving.stranded!(i);
    if (this.isHeld[i]) {
      this.isHeld[i] = 0;
      moving.held?.(i, false);
      // It stood: it sets out from rest.
      this.setProfile(i, this.legs[i]!, this.stretch[i]);
    } else {
      const { lengths, seconds } = this.legs[i]!;
      if (Number.isNaN(seconds)) moving.went?.(i, lengths[this.stretch[i]]);
      this.stretch[i] += 1;
      this.since[i] = kernel.now;
      this.elapsed[i] = 0;
    }
    this.setOut(i);
  }

  /** One stands still until it is told to go on. */
  stop(i: number): void {
    const { calendar, now } = this.kernel;
    this.isStopped[i] = STOPPED;
    if (!this.isUnderWay(i) || this.isHeld[i]) return;
    this.elapsed[i] += now - this.since[i];
    this.since[i] = now;
    if (!Number.isNaN(calendar.timeOf(this.tokens[i]))) calendar.cancel(this.tokens[i]);
  }

  /** One goes on from where it was stopped. */
  goOn(i: number): void {
    const mayGo = this.isStopped[i] === GIVEN_WAY;
    this.isStopped[i] = 0;
    if (!this.isUnderWay(i)) return;
    if (this.isHeld[i]) {
      if (mayGo) this.next(i);
      return;
    }
    this.since[i] = this.kernel.now;
    const left = this.secondsTo(i) - this.elapsed[i];
    this.kernel.schedule(this.tokens[i], Math.max(0, left), EventClass.activityEnd);
  }

  /**
   * Where one is on its way, in metres, where its stretch ends, and when it is there, at an instant up to which nothing
   * more happens, and the points of that way where it may be another next time; undefined of one that stands.
   */
  motionOf(i: number, now: number): Motion | undefined {
    const leg = this.legs[i];
    if (!leg) return undefined;
    const { calendar } = this.kernel;
    const s = Math.min(this.stretch[i], leg.stretches.length - 1);
    const { from, length } = leg.stretches[s];
    const { points } = leg;
    if (this.isHeld[i]) {
      const at = this.stretch[i] > s ? from + length : from;
      return { at, end: at, until: Number.NaN, points };
    }
    const seconds = this.elapsed[i] + (this.isStopped[i] ? 0 : now - this.since[i]);
    const profile = this.profiles[i];
    const gone = profile ? metresAfter(profile, s, length, seconds) : (length * seconds) / this.secondsOf(i);
    return {
      at: from + Math.min(length, gone),
      end: from + length,
      until: this.isStopped[i] ? Number.NaN : calendar.timeOf(this.tokens[i]),
      points,
    };
  }

  /** Metres of the way that one goes, or went last. */
  metresOf(i: number): number {
    return this.gone[i];
  }

  private setProfile(i: number, leg: Leg, first: number): void {
    const { acceleration, turning } = this.moving;
    if (acceleration === undefined || !Number.isNaN(leg.seconds)) return;
    this.profiles[i] = profileOf(leg.stretches, this.speed[i], acceleration, turning, first);
  }

  private secondsOf(i: number): number {
    const leg = this.legs[i]!;
    const s = this.stretch[i];
    const length = leg.lengths[s];
    const profile = this.profiles[i];
    if (profile) return secondsOver(profile, s, length);
    return Number.isNaN(leg.seconds) ? length / Math.min(this.speed[i], leg.limits[s]) : leg.seconds;
  }

  /** Seconds to the end of its stretch, or to where it gets on it. */
  private secondsTo(i: number): number {
    const seconds = this.secondsOf(i);
    if (!this.strands[i]) return seconds;
    const length = this.legs[i]!.lengths[this.stretch[i]];
    const reach = this.moving.reach!(i);
    const profile = this.profiles[i];
    if (!profile) return (seconds * reach) / length;
    let [low, high] = [0, seconds];
    for (let n = 0; n < HALVINGS; n++) {
      const middle = (low + high) / 2;
      if (metresAfter(profile, this.stretch[i], length, middle) < reach) low = middle;
      else high = middle;
    }
    return high;
  }

  /** Sets out on its stretch, or waits for others where the one before it ends; after the last it has arrived. */
  private setOut(i: number): void {
    const { kernel, moving, traffic } = this;
    const { stretches, lengths, seconds } = this.legs[i]!;
    const s = this.stretch[i];
    const from = s > 0 ? stretches[s - 1].on : undefined;
    const to = s < stretches.length ? stretches[s].on : undefined;
    if ((from || to) && !traffic.pass(this.tokens[i], from, to)) {
      this.isHeld[i] = 1;
      moving.held?.(i, true);
      return;
    }
    if (s === stretches.length) {
      this.legs[i] = this.profiles[i] = undefined;
      return moving.arrived(i);
    }
    this.since[i] = kernel.now;
    this.elapsed[i] = 0;
    this.strands[i] = Number.isNaN(seconds) && (moving.reach?.(i) ?? Infinity) < lengths[s] - SLACK ? 1 : 0;
    kernel.delay(this.tokens[i], this.secondsTo(i), EventClass.activityEnd, moving.id, moving.field);
  }
}

const [STOPPED, GIVEN_WAY] = [1, 2];
/** Rounding strands nobody who just gets there. */
const SLACK = 1e-9;
/** Of an interval in which an instant is looked for: the bits of a number. */
const HALVINGS = 60;
