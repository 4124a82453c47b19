import type { Read } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { grown, lengthFor } from "../kernel/grown.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Model } from "../model/model.ts";
import {
  type CarryRequest,
  type CarryWay,
  DOING,
  type FleetMeters,
  type FleetSettings,
  type Tour,
  type VehicleState,
} from "./carrying.ts";
import { CarryLine } from "./carryLine.ts";
import { Charge } from "./charge.ts";
import { noHome, noLimit, noWorth, runOut, tooMuch } from "./fleetFaults.ts";
import { Legs } from "./legs.ts";
import { LoadSetups } from "./loadSetups.ts";
import { Movers } from "./movers.ts";
import { TourTimes } from "./tourTimes.ts";
import type { Traffic } from "./traffic.ts";
import type { Transport } from "./transport.ts";
import { VehicleHours } from "./vehicleHours.ts";

const [IDLE, EMPTY, LOADING, LOADED, UNLOADING, RETURNING, CRUISING, HELD_UP, AT_STOP, REFILLING, OFF_SHIFT, DOWN] =
  DOING.keys();

/** Rounding keeps out nobody who just fits. */
const SLACK = 1e-9;

/**
 * Vehicles that carry entities, as many as fit: those that go the same way, or all that wait, to several places on one
 * trip; or those who wait at the stops of a tour. Requests are served in an order; among vehicles that are idle one is
 * chosen when all at an instant have asked and come free. One that has brought its load refills if it must, and stays
 * there, or goes where it waits; off shift it does nothing, and while it is down all that it does stands still.
 */
export class Fleet {
  private readonly doing: Uint8Array;
  private readonly movers: Movers;
  private readonly idleSince: Float64Array;
  /** By vehicle: its home, where it waits (-1: where it is), and the most that it carries. */
  private readonly homes: Int32Array;
  private readonly rests: Int32Array;
  private readonly limits: Float64Array;
  private readonly trips: Int32Array;
  /** Those whom a vehicle goes for, or has on it; the first is the one that it set out for. */
  private readonly jobs: CarryRequest[][];
  /** On a tour: the place of its stop among them, -1 on none, and until when it stands there. */
  private readonly stopAt: Int32Array;
  private readonly standsUntil: Float64Array;
  /** By vehicle: which place of its round it came to last, -1 for none. */
  private readonly roundAt: Int32Array;
  private readonly setups: LoadSetups;
  private readonly tours: TourTimes | undefined;
  private readonly hours: VehicleHours;
  private readonly charge: Charge | undefined;
  /** What one does that is held up by others. */
  private readonly drives: Uint8Array;
  /** Since when its present work lasts. */
  private readonly since: Float64Array;
  /** While it is down: what it was doing, and the seconds of that which are left. */
  private readonly stopped: Uint8Array;
  private readonly left: Float64Array;
  /** The most that any of them carries. */
  private most = 0;
  /** Elements that there are. */
  private readonly places: number;
  private vehicleOf = new Int32Array(256);
  private readonly line = new CarryLine();
  private readonly goOn: number;
  private readonly breakOrRepair: number;
  private readonly overdue: number;
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
    const { id, name, acceleration, turning, charge, tour } = settings;
    this.movers = new Movers(count, new Legs(model, settings.going, traffic), kernel, traffic, {
      id,
      field: "speed",
      nameOf: (v) => `${name} ${v + 1}`,
      ...(acceleration === undefined ? {} : { acceleration }),
      ...(turning === undefined ? {} : { turning }),
      arrived: (v) => this.arrived(v),
      held: (v, isHeld) => this.hold(v, isHeld),
      went: (v, metres) => this.went(v, metres),
      ...(charge ? { reach: (v: number) => this.charge!.reachOf(v), stranded: (v: number) => this.stranded(v) } : {}),
    });
    this.places = model.nodes.length;
    this.charge = charge && new Charge(count, charge);
    this.stopAt = new Int32Array(count);
    this.standsUntil = new Float64Array(count);
    this.doing = new Uint8Array(count);
    this.idleSince = new Float64Array(count);
    this.homes = new Int32Array(count);
    this.rests = new Int32Array(count);
    this.limits = new Float64Array(count);
    this.trips = new Int32Array(count);
    this.drives = new Uint8Array(count);
    this.roundAt = new Int32Array(count);
    this.since = new Float64Array(count);
    this.stopped = new Uint8Array(count);
    this.left = new Float64Array(count);
    this.jobs = Array.from({ length: count }, () => []);
    this.goOn = kernel.emit((token) => {
      this.done(this.vehicleOf[token]);
      return SUSPEND;
    });
    this.setups = new LoadSetups(count);
    this.hours = new VehicleHours(settings, kernel, () => this.setShift());
    this.tours = tour && new TourTimes(tour, kernel, id, () => this.dispatch());
    this.breakOrRepair = kernel.emit((token) => {
      this.fails(token);
      return SUSPEND;
    });
    this.overdue = kernel.emit((token) => {
      kernel.pool.release(token);
      this.dispatch();
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
    const { count } = this.settings;
    const { kernel } = this;
    this.line.clear();
    this.charge?.begin();
    this.setups.begin();
    this.tours?.begin();
    this.hours.begin();
    const { breaks } = this.settings;
    for (let v = 0; v < count; v++) {
      this.doing[v] = this.hours.isOff(v) ? OFF_SHIFT : IDLE;
      this.meters.doing[this.doing[v]].add(1);
      this.idleSince[v] = 0;
      this.trips[v] = 0;
      this.stopAt[v] = this.roundAt[v] = -1;
      this.since[v] = 0;
      this.jobs[v] = [];
      const token = kernel.pool.take(NO_TYPE, this.goOn, kernel.clock);
      if (token >= this.vehicleOf.length)
        this.vehicleOf = grown(this.vehicleOf, lengthFor(token, this.vehicleOf.length));
      this.vehicleOf[token] = v;
      this.settle(v);
      this.movers.begin(v, this.homes[v], token);
    }
    for (let v = 0; breaks && v < count; v++) {
      const token = kernel.pool.take(NO_TYPE, this.breakOrRepair, kernel.clock);
      kernel.pool.setWay(token, v);
      this.awaitBreakdown(token);
    }
    this.most = Math.max(...this.limits);
    if (this.settings.rest === "cruises") this.dispatch();
  }

  /** The settings as they are of one vehicle. */
  private of(v: number): FleetSettings {
    this.settings.setRow?.(v);
    return this.settings;
  }

  /** Reads what one vehicle has for good. */
  private settle(v: number): void {
    const { home, rest, limit, id } = this.of(v);
    const at = home(-1);
    if (!(Number.isInteger(at) && at >= 0 && at < this.places)) this.kernel.fail(noHome(id, at));
    this.homes[v] = at;
    this.rests[v] = rest === "home" ? this.homes[v] : typeof rest === "number" ? rest : -1;
    this.limits[v] = limit(-1);
    if (!(this.limits[v] > 0)) this.kernel.fail(noLimit(id, this.limits[v]));
  }

  private awaitBreakdown(token: number): void {
    const { breaks, id } = this.of(this.kernel.pool.wayOf(token));
    this.kernel.delay(token, breaks!.every(-1), EventClass.activityEnd, id, "every");
  }

  /** A vehicle breaks down, or is repaired: what it was doing stands still meanwhile. */
  private fails(token: number): void {
    const { kernel } = this;
    const v = kernel.pool.wayOf(token);
    const settings = this.of(v);
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
    const was = this.stopped[v];
    this.awaitBreakdown(token);
    if (was === IDLE || was === OFF_SHIFT) this.standBy(v);
    else this.become(v, was);
    this.movers.goOn(v);
    if (this.isAtWork(was)) kernel.schedule(this.tokenOf(v), this.left[v], EventClass.activityEnd);
  }

  private isAtWork(doing: number): boolean {
    return doing === LOADING || doing === UNLOADING || doing === AT_STOP || doing === REFILLING;
  }

  private tokenOf(v: number): number {
    return this.movers.tokens[v];
  }

  /** Some come or go by their hours: those that are under way come to the end of their trip first. */
  private setShift(): void {
    for (let v = 0; v < this.count; v++) {
      const isOff = this.hours.isOff(v);
      if ((this.doing[v] === IDLE && isOff) || (this.doing[v] === OFF_SHIFT && !isOff)) this.standBy(v);
    }
  }

  /** It has nothing to do: it is there for others, or off shift. */
  private standBy(v: number): void {
    this.become(v, this.hours.isOff(v) ? OFF_SHIFT : IDLE);
    this.idleSince[v] = this.kernel.now;
    this.dispatch();
  }

  /** An entity asks to be carried along a way, after which it goes on with a step. */
  ask(token: number, way: CarryWay, then: number): void {
    const { kernel } = this;
    const { now } = kernel;
    const settings = this.of(-1);
    this.meters.waiting.add(1);
    const rank = settings.rankOf?.(token) ?? 0;
    const patience = settings.batch?.patience?.(token) ?? Infinity;
    if (!(patience >= 0)) kernel.failDuration(patience, settings.id, "patience");
    const takes = settings.takes(token);
    if (!(takes >= 0 && takes <= this.most + SLACK)) return kernel.fail(tooMuch(settings.id, takes, this.most));
    const due = now + patience;
    this.line.add({ token, way, then, since: now, rank, takes, due, answered: Number.NaN, isOn: false });
    if (patience < Infinity) kernel.startProcess(this.overdue, now + patience, EventClass.activityEnd);
    this.dispatch();
  }

  /** Each vehicle as it is at an instant up to which nothing more happens, for watching. */
  *vehicles(now: number): Generator<VehicleState> {
    for (let v = 0; v < this.settings.count; v++) {
      const doing = DOING[this.doing[v]];
      const [job, ...others] = this.jobs[v].filter(({ isOn }) => isOn);
      const motion = this.movers.motionOf(v, now);
      let does = this.doing[v] === DOWN ? this.stopped[v] : this.doing[v];
      if (does === HELD_UP) does = this.drives[v];
      yield {
        number: v,
        doing,
        from: this.movers.from[v],
        to: this.movers.at[v],
        way: does === LOADED && job ? job.way.index : -1,
        load: job ? job.token : -1,
        others: others.map(({ token }) => token),
        since: motion ? now : this.since[v],
        until: motion ? motion.until : this.kernel.calendar.timeOf(this.tokenOf(v)),
        metres: motion ? [motion.at, motion.end] : undefined,
        points: motion?.points,
      };
    }
  }

  /** Gives those who are next to vehicles that are idle; of the others, those that do not stay go where they wait. */
  private match(): void {
    const { tour, batch, count } = this.settings;
    if (tour) this.beginTours(tour, this.tours!);
    else if (batch) this.answerBatches(batch.least);
    else this.answer();
    const { rest: does } = this.settings;
    if (does === "stays") return;
    for (let v = 0; v < count; v++) {
      const rest = this.rests[v];
      if (does === "cruises") this.cruise(v);
      else if ((this.doing[v] === IDLE || this.doing[v] === OFF_SHIFT) && this.movers.at[v] !== rest)
        this.drive(v, RETURNING, rest, this.of(v).speed(-1));
    }
  }

  /** One that nobody waits for goes on to the next place of its round, and answers from there. */
  private cruise(v: number): void {
    if (this.doing[v] !== IDLE) return;
    const { rounds } = this.settings;
    this.roundAt[v] = (this.roundAt[v] + 1) % rounds.length;
    this.drive(v, CRUISING, rounds[this.roundAt[v]], this.of(v).speed(-1));
  }

  /** Whoever is next has the vehicle that answers; where trips are for several, others come along. */
  private answer(): void {
    const { line, settings } = this;
    while (line.length > 0) {
      const v = this.choose(line.at(0));
      if (v < 0) return;
      const first = line.take(0);
      const joined =
        settings.trip === "same way" ? [] : this.gather(v, [first], (other) => this.isOfTrip(other, first));
      this.setOut(v, [first, ...joined]);
    }
  }

  /**
   * As `answer`, but a trip begins only when enough wait for it, as much as one carries at most, or somebody has waited
   * as long as they do.
   */
  private answerBatches(least: number): void {
    const { line, kernel, limits } = this;
    for (let i = 0; i < line.length;) {
      const first = line.at(i);
      const v = this.choose(first);
      if (v < 0) return;
      const isReady =
        kernel.now >= first.due ||
        line.load((other) => this.isOfTrip(other, first)) >= Math.min(least, limits[v]) - SLACK;
      if (!isReady) {
        i += 1;
        continue;
      }
      line.take(i);
      this.setOut(v, [first, ...this.gather(v, [first], (other) => this.isOfTrip(other, first))]);
      i = 0;
    }
  }

  /** Whether one may be on a trip that begins for another. */
  private isOfTrip({ way }: CarryRequest, { way: of }: CarryRequest): boolean {
    const { trip } = this.settings;
    return trip === "several stops" || (way.from === of.from && (trip === "same place" || way.to === of.to));
  }

  /** A vehicle sets out on a trip for these. */
  private setOut(v: number, jobs: CarryRequest[]): void {
    for (const job of jobs) job.answered = this.kernel.now;
    this.jobs[v] = jobs;
    this.goToNext(v);
  }

  /** Takes those out of the line that fit onto a vehicle besides these. */
  private gather(
    v: number,
    on: readonly CarryRequest[],
    may: (request: CarryRequest) => boolean,
  ): readonly CarryRequest[] {
    const joined = this.line.takeFitting(this.limits[v], on, may);
    for (const request of joined) request.answered = this.kernel.now;
    return joined;
  }

  /** The idle vehicle that answers a request, and on which it fits; -1 where none is idle. */
  private choose({ way, takes, token }: CarryRequest): number {
    return this.idleFor(way.from, takes, token);
  }

  /** The idle vehicle on which so much fits, for who asks at an element; a tour begins for nobody, -1. */
  private idleFor(place: number, takes: number, token: number): number {
    const { answers, count } = this.settings;
    let best = -1;
    let least = Infinity;
    for (let v = 0; v < count; v++) {
      if (this.doing[v] !== IDLE || takes > this.limits[v] + SLACK) continue;
      if (answers === "fixed order") return v;
      const worth =
        answers === "nearest"
          ? this.movers.ways.far(this.movers.at[v], place)
          : answers === "least used"
            ? this.trips[v]
            : answers === "least value" && token >= 0
              ? this.worthOf(v, token)
              : this.idleSince[v];
      if (best >= 0 && !(worth < least)) continue;
      least = worth;
      best = v;
    }
    return best;
  }

  private worthOf(v: number, token: number): number {
    const worth = this.of(v).worth(token);
    if (Number.isNaN(worth)) this.kernel.fail(noWorth(this.settings.id, worth));
    return worth;
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
    this.charge?.use(v, metres);
    if (this.doing[v] === LOADED) this.meters.metresLoaded.total += metres;
  }

  private wait(v: number, seconds: number, field: string): void {
    this.kernel.delay(this.tokenOf(v), seconds, EventClass.activityEnd, this.settings.id, field);
  }

  /** What a vehicle was doing is done. */
  private done(v: number): void {
    const isTouring = this.stopAt[v] >= 0;
    switch (this.doing[v]) {
      case LOADING:
        return isTouring ? this.leaveStop(v) : this.goToNext(v);
      case UNLOADING:
        this.deliver(v);
        return isTouring ? this.board(v) : this.goToNext(v);
      case AT_STOP:
        // Those who came while it stood there come along.
        this.standsUntil[v] = -Infinity;
        return this.board(v);
      case REFILLING:
        this.charge!.fill(v);
        return this.standBy(v);
      default:
        return this.movers.next(v);
    }
  }

  /** The next place of a trip: first those where somebody is picked up, then those where somebody is put down. */
  private goToNext(v: number): void {
    const settings = this.of(v);
    const jobs = this.jobs[v];
    if (jobs.length === 0) return this.endTrip(v);
    const waiting = jobs.filter(({ isOn }) => !isOn);
    const place = this.nextOf(v, waiting.length > 0 ? waiting.map((j) => j.way.from) : jobs.map((j) => j.way.to));
    const isLoaded = waiting.length < jobs.length;
    this.drive(v, isLoaded ? LOADED : EMPTY, place, isLoaded ? settings.speedLoaded(-1) : settings.speed(-1));
  }

  private nextOf(v: number, places: readonly number[]): number {
    const { ways, at } = this.movers;
    let [best] = places;
    if (this.settings.visits === "in order") return best;
    let least = Infinity;
    for (const place of places) {
      const far = ways.far(at[v], place);
      if (far >= least) continue;
      least = far;
      best = place;
    }
    return best;
  }

  private arrived(v: number): void {
    const jobs = this.jobs[v];
    if (this.doing[v] === RETURNING) return this.standBy(v);
    if (this.doing[v] === CRUISING) return this.refillOrStandBy(v);
    if (this.stopAt[v] >= 0) return this.arriveAtStop(v);
    if (jobs.length === 0) {
      this.become(v, REFILLING);
      return this.wait(v, this.charge!.settings.time(-1), "refillTime");
    }
    const place = this.movers.at[v];
    if (!jobs.some(({ isOn }) => !isOn)) return this.unload(v, place);
    // With those that it came for it takes others who wait there, in their order, as far as they fit.
    const [first] = jobs;
    jobs.push(...this.gather(v, jobs, (other) => other.way.from === place && this.isOfTrip(other, first)));
    this.takeUp(
      v,
      jobs.filter((job) => !job.isOn && job.way.from === place),
    );
  }

  /** Begins to put those down who are to go on from where it is. */
  private unload(v: number, place: number): void {
    this.become(v, UNLOADING);
    const those = this.jobs[v].filter(({ isOn, way }) => isOn && way.to === place);
    this.wait(v, sum(those, this.of(v).unload), "unload");
  }

  /** Tours that are due begin, as far as vehicles are there. */
  private beginTours({ stops }: Tour, times: TourTimes): void {
    while (times.due > 0) {
      const v = this.idleFor(stops[0].place, 0, -1);
      if (v < 0) return;
      times.due -= 1;
      this.stopAt[v] = 0;
      this.driveToStop(v, stops[0].place);
    }
  }

  private driveToStop(v: number, place: number): void {
    const settings = this.of(v);
    const isLoaded = this.jobs[v].length > 0;
    this.drive(v, isLoaded ? LOADED : EMPTY, place, isLoaded ? settings.speedLoaded(-1) : settings.speed(-1));
  }

  private arriveAtStop(v: number): void {
    const { kernel, movers } = this;
    const settings = this.of(v);
    const stay = settings.tour!.stops[this.stopAt[v]].stay(-1);
    if (!(stay >= 0)) return kernel.failDuration(stay, settings.id, "stops");
    this.standsUntil[v] = kernel.now + stay;
    const place = movers.at[v];
    if (this.jobs[v].some(({ way }) => way.to === place)) this.unload(v, place);
    else this.board(v);
  }

  /** Those who wait at a stop for one that comes later on the tour come on, as far as they fit. */
  private board(v: number): void {
    const { stops } = this.settings.tour!;
    const later = stops.slice(this.stopAt[v] + 1).map(({ place }) => place);
    const at = this.movers.at[v];
    const come = this.gather(v, this.jobs[v], ({ way }) => way.from === at && later.includes(way.to));
    if (come.length === 0) return this.leaveStop(v);
    this.jobs[v].push(...come);
    this.takeUp(v, come);
  }

  private leaveStop(v: number): void {
    const { stops } = this.settings.tour!;
    const left = this.standsUntil[v] - this.kernel.now;
    if (left > 0) {
      this.become(v, AT_STOP);
      return this.wait(v, left, "stops");
    }
    this.stopAt[v] += 1;
    if (this.stopAt[v] < stops.length) return this.driveToStop(v, stops[this.stopAt[v]].place);
    this.stopAt[v] = -1;
    this.endTrip(v);
  }

  /** A trip is over. */
  private endTrip(v: number): void {
    this.meters.trips.total += 1;
    this.trips[v] += 1;
    this.refillOrStandBy(v);
  }

  private refillOrStandBy(v: number): void {
    if (!this.charge?.isLow(v)) return this.standBy(v);
    this.meters.refills.total += 1;
    this.drive(v, EMPTY, this.charge.settings.place, this.of(v).speed(-1));
  }

  /** Its battery or tank is empty on the way. */
  private stranded(v: number): void {
    const { id, name, charge } = this.settings;
    this.kernel.fail(runOut(id, `${name} ${v + 1}`, charge!.range));
  }

  /** These are on the vehicle from now on, which loads. */
  private takeUp(v: number, those: readonly CarryRequest[]): void {
    const { kernel, meters } = this;
    for (const job of those) {
      const waited = kernel.now - job.since;
      meters.wait.add(waited);
      meters.noneFree.add(job.answered - job.since);
      meters.onTheWay.add(kernel.now - job.answered);
      meters.waiting.add(-1);
      this.transport.addWaited(job.token, waited);
      job.isOn = true;
      // It is where the vehicle is from now on.
      kernel.pool.begin(job.token, -1, kernel.clock);
    }
    this.become(v, LOADING);
    const settings = this.of(v);
    const setup = settings.setup ? this.setups.before(v, settings.setup, those) : 0;
    this.wait(v, setup + sum(those, settings.load), setup >= 0 ? "load" : "setup");
  }

  /** Those go on who are to do so from where it is. */
  private deliver(v: number): void {
    const { kernel, meters, movers } = this;
    const place = movers.at[v];
    const jobs = this.jobs[v];
    this.jobs[v] = jobs.filter(({ isOn, way }) => !isOn || way.to !== place);
    for (const { token, then, isOn, way } of jobs) {
      if (!isOn || way.to !== place) continue;
      meters.brought.total += 1;
      // Its phase began when it was taken up.
      this.transport.addCarried(token, kernel.now - kernel.pool.sinceOf(token));
      kernel.pool.setPc(token, then);
      kernel.resume(token);
    }
  }
}

/** A time that each of a load takes, one after another. */
function sum(jobs: readonly CarryRequest[], of: Read): number {
  let seconds = 0;
  for (const { token } of jobs) seconds += of(token);
  return seconds;
}
