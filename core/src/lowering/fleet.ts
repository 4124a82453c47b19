import type { Read } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { grown, lengthFor } from "../kernel/grown.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Model, Way } from "../model/model.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Timetable } from "../timetable/index.ts";
import type { Counter } from "./counter.ts";
import { type Going, Legs } from "./legs.ts";
import { Movers } from "./movers.ts";
import type { Traffic } from "./traffic.ts";
import type { Transport } from "./transport.ts";

/** What a vehicle is doing. */
export const DOING = [
  "idle",
  "empty",
  "loading",
  "loaded",
  "unloading",
  "returning",
  "heldUp",
  "offShift",
  "down",
] as const;
export type Doing = (typeof DOING)[number];
const [IDLE, EMPTY, LOADING, LOADED, UNLOADING, RETURNING, HELD_UP, OFF_SHIFT, DOWN] = DOING.keys();

/** Somebody who waits to be carried. */
interface Request {
  readonly token: number;
  readonly way: Way;
  /** The step with which it goes on when it has been brought. */
  readonly then: number;
  readonly since: number;
  readonly rank: number;
  /** A vehicle was idle somewhere when it was asked for; NaN until one has set out. */
  answered: number;
}

/** What a fleet is, read. */
export interface FleetSettings {
  readonly home: number;
  readonly count: number;
  readonly going: Going;
  /** Metres a second a second, and metres a second in turns; undefined where neither matters. */
  readonly acceleration: number | undefined;
  readonly turning: number | undefined;
  /** What orders requests, the lowest first; undefined where who asks first is next. */
  readonly rankOf: Read | undefined;
  readonly answers: "nearest" | "longest idle" | "least used" | "fixed order";
  readonly idle: "stay" | "home";
  readonly speed: Read;
  readonly speedLoaded: Read;
  readonly load: Read;
  readonly unload: Read;
  /** The most that one carries at once, and how much of it an entity takes. */
  readonly limit: number;
  readonly takes: Read;
  /** How many are there; undefined where all always are. */
  readonly timetable: Timetable | undefined;
  /** Time from a repair to the next breakdown, and of a repair; undefined where none breaks down. */
  readonly breaks: { readonly every: Read; readonly repair: Read } | undefined;
  /** Id and name of the element, for what fails. */
  readonly id: string;
  readonly name: string;
}

/** Requests that have been answered and are still held: taking each off the list would take time by its length. */
const MOST_ANSWERED = 256;

/** Rounding keeps out nobody who just fits. */
const SLACK = 1e-9;

/** What is measured of a fleet. */
export interface FleetMeters {
  readonly doing: readonly Level[];
  readonly waiting: Level;
  readonly wait: Tally;
  /** Of that: until a vehicle had set out, and while it was on the way. */
  readonly noneFree: Tally;
  readonly onTheWay: Tally;
  readonly breakdowns: Counter;
  readonly trips: Counter;
  readonly brought: Counter;
  readonly metres: Counter;
  readonly metresLoaded: Counter;
}

/**
 * Vehicles that carry entities, as many as fit that go the same way. Requests are served in an order; among vehicles
 * that are idle one is chosen when all at an instant have asked and come free. One that has brought its load stays
 * there, or goes home; off shift it does nothing, and while it is down all that it does stands still.
 */
export class Fleet {
  private readonly doing: Uint8Array;
  private readonly movers: Movers;
  private readonly idleSince: Float64Array;
  private readonly trips: Int32Array;
  /** Those whom a vehicle goes for, or has on it; the first is the one that it set out for. */
  private readonly jobs: Request[][];
  /** What one does that is held up by others. */
  private readonly drives: Uint8Array;
  /** Since when its present work lasts. */
  private readonly since: Float64Array;
  /** While it is down: what it was doing, and the seconds of that which are left. */
  private readonly stopped: Uint8Array;
  private readonly left: Float64Array;
  private onShift = 0;
  private vehicleOf = new Int32Array(256);
  /** Requests in the order in which they are served; those before `head` have been answered. */
  private queue: Request[] = [];
  private head = 0;
  private readonly goOn: number;
  private readonly changeShift: number;
  private readonly breakOrRepair: number;
  readonly dispatch: () => void;

  constructor(
    private readonly settings: FleetSettings,
    private readonly meters: FleetMeters,
    model: Model,
    private readonly kernel: Kernel,
    traffic: Traffic,
    private readonly transport: Transport,
    atEndOfInstant: (act: () => void) => () => void,
  ) {
    const { count } = settings;
    const { id, name, acceleration, turning } = settings;
    this.movers = new Movers(count, new Legs(model, settings.going), kernel, traffic, {
      id,
      field: "speed",
      nameOf: (v) => `${name} ${v + 1}`,
      ...(acceleration === undefined ? {} : { acceleration }),
      ...(turning === undefined ? {} : { turning }),
      arrived: (v) => this.arrived(v),
      held: (v, isHeld) => this.hold(v, isHeld),
      went: (v, metres) => this.went(v, metres),
    });
    this.doing = new Uint8Array(count);
    this.idleSince = new Float64Array(count);
    this.trips = new Int32Array(count);
    this.drives = new Uint8Array(count);
    this.since = new Float64Array(count);
    this.stopped = new Uint8Array(count);
    this.left = new Float64Array(count);
    this.jobs = Array.from({ length: count }, () => []);
    this.goOn = kernel.emit((token) => {
      this.done(this.vehicleOf[token]);
      return SUSPEND;
    });
    this.changeShift = kernel.emit((token) => {
      this.setShift();
      const next = settings.timetable?.nextChange(kernel.now) ?? Infinity;
      if (next < Infinity) kernel.scheduleAt(token, next, EventClass.capacityChange);
      return SUSPEND;
    });
    this.breakOrRepair = kernel.emit((token) => {
      this.fails(token);
      return SUSPEND;
    });
    this.dispatch = atEndOfInstant(() => this.match());
  }

  get free(): number {
    return this.meters.doing[IDLE].value;
  }

  get count(): number {
    return this.settings.count;
  }

  /** Begins a replication: all are idle at home. */
  begin(): void {
    const { count, home } = this.settings;
    const { kernel } = this;
    this.queue = [];
    this.head = 0;
    const { timetable, breaks } = this.settings;
    this.onShift = Math.min(count, timetable?.at(0) ?? Infinity);
    const first = timetable?.nextChange(0) ?? Infinity;
    if (first < Infinity) kernel.startProcess(this.changeShift, first, EventClass.capacityChange);
    for (let v = 0; v < count; v++) {
      this.doing[v] = v < this.onShift ? IDLE : OFF_SHIFT;
      this.idleSince[v] = 0;
      this.trips[v] = 0;
      this.since[v] = 0;
      this.jobs[v] = [];
      const token = kernel.pool.take(NO_TYPE, this.goOn, kernel.clock);
      if (token >= this.vehicleOf.length)
        this.vehicleOf = grown(this.vehicleOf, lengthFor(token, this.vehicleOf.length));
      this.vehicleOf[token] = v;
      this.movers.begin(v, home, token);
    }
    for (let v = 0; breaks && v < count; v++) {
      const token = kernel.pool.take(NO_TYPE, this.breakOrRepair, kernel.clock);
      kernel.pool.setWay(token, v);
      this.awaitBreakdown(token);
    }
    this.meters.doing[IDLE].add(this.onShift);
    this.meters.doing[OFF_SHIFT].add(count - this.onShift);
  }

  private awaitBreakdown(token: number): void {
    const { breaks, id } = this.settings;
    this.kernel.delay(token, breaks!.every(-1), EventClass.activityEnd, id, "every");
  }

  /** A vehicle breaks down, or is repaired: what it was doing stands still meanwhile. */
  private fails(token: number): void {
    const { kernel, settings } = this;
    const v = kernel.pool.wayOf(token);
    if (this.doing[v] !== DOWN) {
      this.meters.breakdowns.total += 1;
      this.stopped[v] = this.doing[v];
      this.movers.stop(v);
      if (this.isAtWork(this.doing[v])) {
        this.left[v] = kernel.calendar.timeOf(this.tokenOf(v)) - kernel.now;
        kernel.calendar.cancel(this.tokenOf(v));
      }
      this.become(v, DOWN);
      kernel.delay(token, settings.breaks!.repair(-1), EventClass.activityEnd, settings.id, "repair");
      return;
    }
    const { [v]: was } = this.stopped;
    this.awaitBreakdown(token);
    if (was === IDLE || was === OFF_SHIFT) this.standBy(v);
    else this.become(v, was);
    this.movers.goOn(v);
    if (this.isAtWork(was)) kernel.schedule(this.tokenOf(v), this.left[v], EventClass.activityEnd);
  }

  private isAtWork(doing: number): boolean {
    return doing === LOADING || doing === UNLOADING;
  }

  private tokenOf(v: number): number {
    return this.movers.tokens[v];
  }

  /** The calendar says how many are there: those that are under way come to the end of their trip first. */
  private setShift(): void {
    const { count, timetable } = this.settings;
    this.onShift = Math.min(count, timetable!.at(this.kernel.now));
    for (let v = 0; v < count; v++) {
      const isOff = v >= this.onShift;
      if ((this.doing[v] === IDLE && isOff) || (this.doing[v] === OFF_SHIFT && !isOff)) this.standBy(v);
    }
  }

  /** It has nothing to do: it is there for others, or off shift. */
  private standBy(v: number): void {
    this.become(v, v < this.onShift ? IDLE : OFF_SHIFT);
    this.idleSince[v] = this.kernel.now;
    this.dispatch();
  }

  /** An entity asks to be carried along a way, after which it goes on with a step. */
  ask(token: number, way: Way, then: number): void {
    this.meters.waiting.add(1);
    const rank = this.settings.rankOf?.(token) ?? 0;
    const request = { token, way, then, since: this.kernel.now, rank, answered: Number.NaN };
    const place = this.placeOf(rank);
    if (place === this.queue.length) this.queue.push(request);
    else this.queue.splice(place, 0, request);
    this.dispatch();
  }

  /** Each vehicle as it is at an instant up to which nothing more happens, for watching. */
  *vehicles(now: number): Generator<{
    readonly number: number;
    readonly doing: Doing;
    readonly from: number;
    readonly to: number;
    readonly way: number;
    /** Token of what it has on it, -1 for nothing, and of what else it has. */
    readonly load: number;
    readonly others: readonly number[];
    readonly since: number;
    readonly until: number;
    /** Along its way, where it is and where its stretch ends; undefined where it is at an element. */
    readonly metres: readonly [from: number, to: number] | undefined;
  }> {
    for (let v = 0; v < this.settings.count; v++) {
      const doing = DOING[this.doing[v]];
      const [job] = this.jobs[v];
      const motion = this.movers.motionOf(v, now);
      let does = this.doing[v] === DOWN ? this.stopped[v] : this.doing[v];
      if (does === HELD_UP) does = this.drives[v];
      const carries = does === LOADING || does === LOADED || does === UNLOADING;
      yield {
        number: v,
        doing,
        from: this.movers.from[v],
        to: this.movers.at[v],
        way: does === LOADED && job ? job.way.index : -1,
        load: carries && job ? job.token : -1,
        others: carries ? this.jobs[v].slice(1).map(({ token }) => token) : [],
        since: motion ? now : this.since[v],
        until: motion ? motion.until : this.kernel.calendar.timeOf(this.tokenOf(v)),
        metres: motion ? [motion.at, motion.end] : undefined,
      };
    }
  }

  /** Where in the queue a rank comes: behind all that are as low. */
  private placeOf(rank: number): number {
    const { queue } = this;
    let [low, high] = [this.head, queue.length];
    // Most come last.
    if (low === high || queue[high - 1].rank <= rank) return high;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (queue[middle].rank <= rank) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** Gives those who are next to vehicles that are idle; of the others, those that do not stay go home. */
  private match(): void {
    while (this.head < this.queue.length) {
      const { [this.head]: request } = this.queue;
      const v = this.choose(request.way.from);
      if (v < 0) break;
      this.head += 1;
      if (this.head > MOST_ANSWERED && 2 * this.head > this.queue.length) {
        this.queue = this.queue.slice(this.head);
        this.head = 0;
      }
      request.answered = this.kernel.now;
      this.jobs[v] = [request];
      this.drive(v, EMPTY, request.way.from, this.settings.speed(-1));
    }
    const { idle, home } = this.settings;
    if (idle !== "home") return;
    for (let v = 0; v < this.settings.count; v++)
      if ((this.doing[v] === IDLE || this.doing[v] === OFF_SHIFT) && this.movers.at[v] !== home)
        this.drive(v, RETURNING, home, this.settings.speed(-1));
  }

  /** The idle vehicle that answers a request from an element; -1 where none is idle. */
  private choose(place: number): number {
    const { answers, count } = this.settings;
    let best = -1;
    let least = Infinity;
    for (let v = 0; v < count; v++) {
      if (this.doing[v] !== IDLE) continue;
      if (answers === "fixed order") return v;
      const worth =
        answers === "nearest"
          ? this.movers.ways.between(this.movers.at[v], place).length
          : answers === "least used"
            ? this.trips[v]
            : this.idleSince[v];
      if (worth < least) {
        least = worth;
        best = v;
      }
    }
    return best;
  }

  private become(v: number, doing: number): void {
    this.meters.doing[this.doing[v]].add(-1);
    this.meters.doing[doing].add(1);
    this.doing[v] = doing;
    this.since[v] = this.kernel.now;
  }

  /** Sets a vehicle on its way to an element. */
  private drive(v: number, doing: number, to: number, metresASecond: number): void {
    this.become(v, doing);
    this.movers.go(v, to, metresASecond);
  }

  /** It waits for others on its way, or goes on from there. */
  private hold(v: number, isHeld: boolean): void {
    if (isHeld) {
      this.drives[v] = this.doing[v];
      this.become(v, HELD_UP);
    } else this.become(v, this.drives[v]);
  }

  private went(v: number, metres: number): void {
    this.meters.metres.total += metres;
    if (this.doing[v] === LOADED) this.meters.metresLoaded.total += metres;
  }

  private wait(v: number, seconds: number, field: string): void {
    this.kernel.delay(this.tokenOf(v), seconds, EventClass.activityEnd, this.settings.id, field);
  }

  /** What a vehicle was doing is done. */
  private done(v: number): void {
    switch (this.doing[v]) {
      case LOADING:
        return this.drive(v, LOADED, this.jobs[v][0].way.to, this.settings.speedLoaded(-1));
      case UNLOADING:
        return this.deliver(v);
      default:
        return this.movers.next(v);
    }
  }

  private arrived(v: number): void {
    const { settings } = this;
    const { [v]: jobs } = this.jobs;
    if (this.doing[v] === RETURNING || jobs.length === 0) return this.rest(v);
    if (this.doing[v] === EMPTY) {
      this.takeAlong(jobs);
      for (const job of jobs) this.takeUp(job);
      this.become(v, LOADING);
      return this.wait(v, sum(jobs, settings.load), "load");
    }
    this.become(v, UNLOADING);
    this.wait(v, sum(jobs, settings.unload), "unload");
  }

  /** With the one it came for it takes those who wait to go the same way, in their order, as far as they fit. */
  private takeAlong(jobs: Request[]): void {
    const { limit, takes } = this.settings;
    const [{ way, token }] = jobs;
    const first = takes(token);
    let left = limit - first;
    if (!(first >= 0 && left >= -SLACK)) return this.tooMuch(first);
    for (let i = this.head; i < this.queue.length && left > SLACK;) {
      const { [i]: request } = this.queue;
      const of = request.way === way ? takes(request.token) : Infinity;
      if (!(of >= 0)) return this.tooMuch(of);
      if (of <= left + SLACK) {
        left -= of;
        this.queue.splice(i, 1);
        // Nothing had set out for it by itself.
        request.answered = this.kernel.now;
        jobs.push(request);
      } else i += 1;
    }
  }

  private tooMuch(value: number): void {
    const { limit, id } = this.settings;
    this.kernel.fail({
      code: "over-limit",
      message: `gave ${value}, and one carries from 0 to ${limit}.`,
      hint: "Raise the load limit, or have such go another way.",
      id,
      field: "takes",
      value,
    });
  }

  /** One is on the vehicle from now on. */
  private takeUp(job: Request): void {
    const { kernel, meters } = this;
    const waited = kernel.now - job.since;
    meters.wait.add(waited);
    meters.noneFree.add(job.answered - job.since);
    meters.onTheWay.add(kernel.now - job.answered);
    meters.waiting.add(-1);
    this.transport.addWaited(job.token, waited);
    // It is where the vehicle is from now on.
    kernel.pool.begin(job.token, -1, kernel.clock);
  }

  /** The load goes on, and the vehicle is there for others. */
  private deliver(v: number): void {
    const { kernel, meters } = this;
    const { [v]: jobs } = this.jobs;
    this.jobs[v] = [];
    meters.trips.total += 1;
    this.trips[v] += 1;
    for (const { token, then } of jobs) {
      meters.brought.total += 1;
      // Its phase began when it was taken up.
      this.transport.addCarried(token, kernel.now - kernel.pool.sinceOf(token));
      kernel.pool.setPc(token, then);
      kernel.resume(token);
    }
    this.rest(v);
  }

  private rest(v: number): void {
    this.standBy(v);
  }
}

/** A time that each of a load takes, one after another. */
function sum(jobs: readonly Request[], of: Read): number {
  let seconds = 0;
  for (const { token } of jobs) seconds += of(token);
  return seconds;
}
