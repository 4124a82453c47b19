import { type Checked, type Environment, type Read, type Source } from "../expression/index.ts";
import type { MeasureSpec, MeasureSpecs } from "../measures/spec.ts";
import type { Streams } from "../random/streams.ts";
import { Level } from "../statistics/level.ts";
import type { Measure } from "../measures/info.ts";
import { Tally } from "../statistics/tally.ts";
import { type Model, type Node, streamOf, type Way } from "../model/model.ts";
import { Claimable, WaitList } from "../kernel/claims.ts";
import { Work } from "../kernel/work.ts";
import type { Timetable } from "../timetable/index.ts";
import { EventClass, type Kernel, type Step, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE, PART, PHASE, placeCode } from "../kernel/pool.ts";
import { chooser } from "./chooser.ts";
import { Contents } from "./contents.ts";
import type { Counter } from "./counter.ts";
import { Requests } from "./requests.ts";
import type { ResourcePool } from "./resourcePool.ts";
import { Shown } from "./shown.ts";
import { settingOut } from "./settingOut.ts";
import { Standing } from "./standing.ts";
import { endOnCondition } from "./endOnCondition.ts";
import { initialContents } from "./initial.ts";
import { Measured } from "./measured.ts";
import { EntityTypeMeter } from "./typeMeter.ts";
import { Watching } from "./watching.ts";

/** What is held at an element when an entity leaves it, and what is noted while it cannot. */
export interface Leaving {
  /** Gives up what the entity holds here. Runs once its next place is sure. */
  readonly release?: (token: number) => void;
  readonly onBlocked?: (token: number) => void;
  readonly onUnblocked?: (token: number) => void;
  /**
   * The step with which an entity goes on that had to wait for room, in place of leaving at once: it ends with
   * `Departing.granted`.
   */
  readonly waitAt?: number;
}

/** The steps by which entities leave an element. */
export interface Departing {
  /** Chooses a way, and takes it or waits for room. */
  readonly start: number;
  /** The same, by the way chosen before. */
  readonly again: number;
  /** Leaves: room has been given to it. */
  readonly granted: number;
  /** Takes back the claim of an entity that waits for room; false when room has been given to it just now. */
  withdraw(token: number): boolean;
  /** Whether an entity that had to wait for room still does. */
  waits(token: number): boolean;
  /** Gives back the room that has been given to an entity which does not go after all. */
  giveBack(token: number): void;
}

/** Something measured: set back when the warm-up ends, and when a replication begins. */
interface Meter {
  /** Forgets the past at the end of the warm-up; what is so now stays. */
  restart(): void;
  /** Forgets everything; where it is missing, that is what `restart` does. */
  reset?(): void;
}

/**
 * Builds the step programs and meters of a model, once for all replications run with them. Element
 * kinds use it to say what they do; it knows links, ways out and admission, and
 * nothing of any kind.
 */
export class Lowering {
  /** The only step of elements in which entities end, by node index. */
  readonly lastSteps: (Step | undefined)[];
  /** First step of each element, by node index. */
  readonly entries: Int32Array;
  /**
   * Entities inside an element or on the way to it, by node index; kept only where some way out asks for the shortest
   * line.
   */
  private readonly present: Int32Array | undefined;
  readonly measures: Measure[] = [];
  readonly typeMeters: readonly EntityTypeMeter[];
  /** Rooms a mover claims before it sets out, by node index; absent where all are let in. */
  private readonly admissions: (Claimable | undefined)[];
  private readonly properties = new Map<string, Read>();
  private readonly meters: Meter[] = [];
  private readonly starters: (() => void)[] = [];
  private measuredFrom = 0;
  private workInProgress: Work | undefined;
  private claims: Requests | undefined;
  private readonly pools = new Map<string, ResourcePool>();
  /** What is shown of elements while watching. */
  readonly shown = new Shown();
  private carried: Contents | undefined;
  private stood: Standing | undefined;
  private readonly signals: [elementId: string, act: () => void][] = [];
  private readonly watching: Watching;
  private fillers: readonly (() => void)[] = [];
  /** Departures so far, of all elements. */
  private departures = 0;

  constructor(
    readonly model: Model,
    readonly kernel: Kernel,
    private readonly streams: Streams,
    /** Expressions whose changes somebody is told of: see `onChangeOf`. */
    followed: readonly Checked[],
  ) {
    this.entries = new Int32Array(model.nodes.length).fill(SUSPEND);
    const asked = model.nodes.some(({ element }) => element.wayOut === "shortest line");
    this.present = asked ? new Int32Array(model.nodes.length) : undefined;
    this.admissions = model.nodes.map(() => undefined);
    this.lastSteps = model.nodes.map(() => undefined);
    this.watching = new Watching(kernel, followed);
    this.endRun = this.atEndOfInstant(EventClass.end, () => kernel.end(kernel.now));
    this.typeMeters = model.types.map((type) => new EntityTypeMeter(type.type, this));
  }

  /** Seconds measured so far: since the start, or since the warm-up ended. */
  get measuredTime(): number {
    return this.kernel.now - this.measuredFrom;
  }

  level(): Level {
    return this.meter(this.watching.level());
  }

  tally(): Tally {
    return this.meter(new Tally());
  }

  counter(): Counter {
    return this.meter(this.watching.counter());
  }

  /** Does `prepare` for an element; what is measured in it then tells those who watch the element. */
  prepare<T>(node: Node, prepare: () => T): T {
    this.watching.element = node.index;
    const result = prepare();
    this.watching.element = -1;
    return result;
  }

  /**
   * Has `act` done whenever the value of an expression that is followed may have changed, when all else at that
   * instant is done, and at the start, as long as it is `wanted`. Returns what asks for it besides.
   */
  onChangeOf(checked: Checked, act: () => void, wanted: () => boolean = () => true): () => void {
    const { ask, start } = this.watching.onChangeOf(checked, act, wanted);
    this.atStart(start);
    return ask;
  }

  /** Work in progress of all tokens. */
  get work(): Work {
    if (!this.workInProgress) {
      const work = new Work(this.kernel);
      this.workInProgress = work;
      this.atStart(() => work.reset());
    }
    return this.workInProgress;
  }

  /** Time in which work stood still. */
  get standing(): Standing {
    this.stood ??= new Standing(this.kernel, this.work);
    return this.stood;
  }

  /** Claims of resources. */
  get requests(): Requests {
    if (!this.claims) {
      const claims = new Requests(this.kernel, this.work, (decide) =>
        this.atEndOfInstant(EventClass.resources, decide),
      );
      this.claims = claims;
      this.atStart(() => claims.reset());
    }
    return this.claims;
  }

  /** What entities carry. */
  get contents(): Contents {
    if (!this.carried) {
      const contents = new Contents(this.kernel);
      this.carried = contents;
      this.atStart(() => contents.reset());
    }
    return this.carried;
  }

  /** An entity ends at an element without leaving the system by a way out: it has become part of another, or pieces. */
  endInside(token: number, node: Node): void {
    const { pool } = this.kernel;
    this.carried?.takeOut(token, (member) => {
      this.come(node.index);
      this.endInside(member, node);
    });
    this.typeMeters[pool.typeOf(token)].consume();
    this.gone(node.index);
    pool.release(token);
  }

  /** A signal is given whenever an entity comes into the element. */
  onSignal(elementId: string, act: () => void): void {
    this.signals.push([elementId, act]);
  }

  /** Counts a departure; the last that the run waits for ends it. */
  countDeparture(): void {
    if (++this.departures === this.model.stop.count) this.endRun();
  }

  /** Ends the replication when all else at this instant is done. */
  readonly endRun: () => void;

  /**
   * Has `act` done when all of earlier classes at the instant is done at which what it returns is called, once an
   * instant.
   */
  atEndOfInstant(eventClass: number, act: () => void): () => void {
    const { kernel } = this;
    const step = kernel.emit(() => {
      act();
      return SUSPEND;
    });
    let process = -1;
    this.atStart(() => {
      process = kernel.pool.take(NO_TYPE, step, kernel.clock);
    });
    return () => {
      if (Number.isNaN(kernel.calendar.timeOf(process))) kernel.schedule(process, 0, eventClass);
    };
  }

  /** To be done when all elements are lowered: signals go with the first steps of elements. */
  finish(): void {
    const { kernel, entries, lastSteps, stood } = this;
    if (stood) for (const meter of this.typeMeters) meter.countStanding(stood);
    endOnCondition(this);
    this.fillers = this.model.nodes.flatMap((node) => initialContents(node, this) ?? []);
    for (const [id, act] of this.signals) {
      const index = this.model.nodes.findIndex(({ element }) => element.id === id);
      if (index < 0) continue;
      const step = kernel.steps[entries[index]];
      const signalling: Step = (token) => {
        act();
        return step(token);
      };
      kernel.steps[entries[index]] = signalling;
      if (lastSteps[index]) lastSteps[index] = signalling;
    }
  }

  addPool(pool: ResourcePool): void {
    this.pools.set(pool.id, pool);
  }

  poolOf(id: string): ResourcePool | undefined {
    return this.pools.get(id);
  }

  /** The timetable of a calendar, by its id; undefined for none. */
  timetableOf(calendar: string): Timetable | undefined {
    return this.model.timetables.get(calendar);
  }

  private readonly waits = new Map<number, Tally[]>();

  /** Declares a tally of waits at an element, for groups that merge them. */
  showWaits(tally: Tally): void {
    const list = this.waits.get(this.watching.element);
    if (list) list.push(tally);
    else this.waits.set(this.watching.element, [tally]);
  }

  waitsOf(node: Node): Tally[] {
    return this.waits.get(node.index) ?? [];
  }

  /**
   * Does `start` whenever a replication begins, in the order of these calls.
   * Whatever keeps a state of its own besides meters and claims must set it back so.
   */
  atStart(start: () => void): void {
    this.starters.push(start);
  }

  claimable(capacity: number, index?: number): Claimable {
    const claimable = new Claimable(this.kernel, capacity, index);
    this.atStart(() => claimable.reset());
    return claimable;
  }

  /** Begins a replication: all that the steps and meters keep is as if none had run before. */
  begin(seed: number, replication: number): void {
    this.watching.quiet = true;
    this.streams.begin(seed, replication);
    this.measuredFrom = 0;
    this.departures = 0;
    this.present?.fill(0);
    for (const meter of this.meters) {
      if (meter.reset) meter.reset();
      else meter.restart();
    }
    for (const start of this.starters) start();
    this.watching.quiet = false;
    for (const fill of this.fillers) fill();
  }

  meter<M extends Meter>(meter: M): M {
    this.meters.push(meter);
    return meter;
  }

  /** Discards everything measured so far. */
  restartMeters(): void {
    this.measuredFrom = this.kernel.now;
    for (const meter of this.meters) meter.restart();
  }

  /** What declares the figures of an owner, of measures that its kind describes. */
  measured<M extends MeasureSpecs>(owner: { readonly id: string; readonly name: string }, kind: string, specs: M) {
    return new Measured(owner, kind, specs, this.measures, () => this.measuredTime);
  }

  throughput(measured: Measured<{ throughput: MeasureSpec }>, done: Counter): void {
    measured.add("throughput", () => done.n / this.measuredTime);
  }

  /** Declares what expressions read as `Element.property`. */
  property(node: Node, name: string, read: Read): void {
    this.properties.set(`${node.index}/${name}`, read);
  }

  /** Only so many may be in or on the way to the element; movers wait for room where they are. */
  admit(node: Node, room: Claimable): void {
    this.admissions[node.index] = room;
  }

  /** The room that a mover to the element claims, by its index; undefined where all are let in. */
  roomOf(index: number): Claimable | undefined {
    return this.admissions[index];
  }

  /**
   * The closure of a setting, drawing from the setting's own stream; `fallback` where the setting is empty or a word.
   */
  read(node: Node, field: string, fallback: number): Read {
    const checked = node.settings.get(field);
    return checked ? checked.compile(this.environment(streamOf(node.element, field))) : () => fallback;
  }

  /** Draws from 0 to 1 of a stream. */
  uniform(stream: number): () => number {
    return this.streams.stream(stream).uniform();
  }

  /** Exponential draws of mean 1 of a stream. */
  exponential(stream: number): () => number {
    return this.streams.stream(stream).exponential(1);
  }

  environment(stream: number): Environment {
    return { reader: (source) => this.reader(source), random: () => this.streams.stream(stream) };
  }

  private reader(source: Source): Read {
    const { kernel } = this;
    const { pool } = kernel;
    switch (source.kind) {
      case "clock":
        return () => kernel.now;
      case "timeOfDay":
        return () => this.model.days.wall(kernel.now) % 86400;
      case "day":
        return () => Math.floor(this.model.days.wall(kernel.now) / 86400) + 1;
      case "entityType":
        return (token) => pool.typeOf(token);
      case "entityAge":
        return (token) => kernel.now - pool.bornAt(token);
      case "attribute": {
        const { slot } = source;
        const { attributeCount } = this.model;
        return (token) => pool.attributes[token * attributeCount + slot];
      }
      case "element": {
        const read = this.properties.get(`${source.element}/${source.property}`);
        if (!read) throw new Error(`No reader for ${source.property} of element ${source.element}`);
        return read;
      }
    }
  }

  /**
   * How entities of a type are born: a function that makes one, which goes on at step `pc`, and returns it; -1 when
   * there are too many.
   */
  birth(type: number): (pc: number) => number {
    const { kernel, model } = this;
    const meter = this.typeMeters[type];
    const attributes = model.types[type].attributes.map(({ slot, value, stream }) => ({
      slot,
      value: value.compile(this.environment(stream)),
    }));
    const own = new Set(attributes.map(({ slot }) => slot));
    const others = Array.from({ length: model.attributeCount }, (_, slot) => slot).filter((slot) => !own.has(slot));
    return (pc) => {
      const token = kernel.makeEntity(type, pc);
      if (token < 0) return token;
      // A token is used again: what an entity of another type had is gone.
      for (let i = 0; i < others.length; i++)
        kernel.pool.attributes[token * model.attributeCount + others[i]] = Number.NaN;
      this.carried?.clear(token, false);
      this.stood?.clear(token);
      meter.enter();
      for (let i = 0; i < attributes.length; i++) {
        kernel.pool.attributes[token * model.attributeCount + attributes[i].slot] = attributes[i].value(token);
      }
      return token;
    };
  }

  /** The entity leaves the system unserved, for want of room. */
  lose(token: number, node: Node): number {
    const { kernel } = this;
    this.carried?.takeOut(token, (member) => {
      this.come(node.index);
      this.lose(member, node);
    });
    this.typeMeters[kernel.pool.typeOf(token)].lose();
    this.gone(node.index);
    kernel.pool.release(token);
    return SUSPEND;
  }

  /**
   * What becomes of an entity that an element does not let go on with the others: it takes `way`, waiting
   * for room there if need be, or leaves the system, lost. Emits steps; gives the next one for a token.
   */
  sendAside(node: Node, way: Way | undefined): Read {
    const { kernel, present } = this;
    const { pool } = kernel;
    if (!way) return (token) => this.lose(token, node);
    const depart = this.wayDeparture(way);
    const room = this.admissions[way.to];
    const go = (token: number): number => {
      if (present) present[node.index] -= 1;
      return depart(token);
    };
    if (!room) return go;
    const place = placeCode(node.index, PHASE.blocked);
    const granted = kernel.emit((token) => {
      pool.credit(token, PART.blocked, kernel.clock);
      return go(token);
    });
    return (token) => {
      if (room.claim(token)) return go(token);
      pool.beginUntil(token, place, granted, kernel.clock);
      return SUSPEND;
    };
  }

  /** What becomes of an entity that is turned away: see `sendAside`. */
  turnAway(node: Node): Read {
    return this.sendAside(node, node.turnedAway);
  }

  /** Whether `come` and `gone` must be told: only where some way out asks for the shortest line. */
  get tracksPresence(): boolean {
    return this.present !== undefined;
  }

  /** An entity is no longer in the element (nor on its way to it). */
  gone(index: number): void {
    if (this.present) this.present[index] -= 1;
  }

  /** An entity is in the element or on its way to it. */
  come(index: number): void {
    if (this.present) this.present[index] += 1;
  }

  /**
   * Emits the one step of an element in which entities end, and lets others take it without going round by the
   * kernel.
   */
  endHere(node: Node, step: Step): void {
    this.entries[node.index] = this.kernel.emit(step);
    this.lastSteps[node.index] = step;
  }

  /** What is noted of entities that wait at `node` for room ahead: that they are blocked there. */
  blocking(node: Node): Required<Pick<Leaving, "onBlocked" | "onUnblocked">> {
    const { pool, clock } = this.kernel;
    const place = placeCode(node.index, PHASE.blocked);
    return {
      onBlocked: (token) => pool.begin(token, place, clock),
      onUnblocked: (token) => pool.credit(token, PART.blocked, clock),
    };
  }

  /** Emits the steps by which entities leave `node` along one of its ways, and returns the first. */
  leave(node: Node, leaving: Leaving): number {
    return this.departing(node, leaving).start;
  }

  /** Emits the steps by which entities leave `node`, for kinds in which they may also stay after all. */
  departing(node: Node, leaving: Leaving): Departing {
    const { kernel, present } = this;
    const { pool } = kernel;
    const { release, onBlocked, onUnblocked } = leaving;
    const departs = node.out.map((way) => this.wayDeparture(way));
    const rooms = node.out.map((way) => this.admissions[way.to]);
    const from = node.index;

    const go = (token: number) => {
      if (release) release(token);
      if (present) present[from] -= 1;
      return departs[pool.wayOf(token)](token);
    };
    if (node.element.wayOut === "first free" && departs.length > 1) {
      return this.leaveByFirstFree(node, rooms, go, leaving);
    }
    const choose = chooser(node, this, this.present ?? new Int32Array(0));
    const start = kernel.here;
    const granted = start + 1;
    const waitAt = leaving.waitAt ?? granted;
    kernel.emit((token) => {
      const way = choose(token);
      if (way < 0) return SUSPEND;
      pool.setWay(token, way);
      const room = rooms[way];
      if (!room || room.claim(token)) return go(token);
      if (onBlocked) onBlocked(token);
      pool.setPc(token, waitAt);
      return SUSPEND;
    });
    kernel.emit((token) => {
      if (onUnblocked) onUnblocked(token);
      return go(token);
    });
    const giveBack = (token: number): void => rooms[pool.wayOf(token)]?.release();
    const waits = (token: number): boolean => rooms[pool.wayOf(token)]?.own.holds(kernel, token) ?? false;
    if (leaving.waitAt === undefined) return { start, again: start, granted, waits, withdraw: () => false, giveBack };
    const again = kernel.emit((token) => {
      const room = rooms[pool.wayOf(token)];
      if (!room || room.claim(token)) return go(token);
      if (onBlocked) onBlocked(token);
      pool.setPc(token, waitAt);
      return SUSPEND;
    });
    const withdraw = (token: number): boolean => {
      if (!waits(token)) return false;
      rooms[pool.wayOf(token)]?.own.remove(kernel, token);
      return true;
    };
    return { start, again, granted, waits, withdraw, giveBack };
  }

  /**
   * The element to which entities always go on from `node` at once, in no time
   * and unhindered; -1 if there is no such. `left` then also counts those who
   * pass on the link. Kinds use it to go on without the steps of `leave`.
   */
  straightOn(node: Node, left: Counter): number {
    if (node.out.length !== 1 || this.present) return -1;
    const [way] = node.out;
    if (way.link.kind !== "direct" || this.admissions[way.to]) return -1;
    this.passedCounters.set(way.index, left);
    this.wayDeparture(way);
    return way.to;
  }

  /** The first way, in order, whose target has room; failing that, the first to get room. */
  private leaveByFirstFree(
    node: Node,
    rooms: readonly (Claimable | undefined)[],
    go: (token: number) => number,
    { onBlocked, onUnblocked, ...leaving }: Leaving,
  ): Departing {
    const { kernel } = this;
    const { pool } = kernel;
    const waiting = new WaitList();
    this.atStart(() => waiting.reset());
    for (const room of new Set(rooms)) room?.serve(waiting);
    const wayByTarget = new Int32Array(this.model.nodes.length);
    for (let i = node.out.length - 1; i >= 0; i--) wayByTarget[node.out[i].to] = i;
    const start = kernel.here;
    const granted = start + 1;
    const waitAt = leaving.waitAt ?? granted;
    kernel.emit((token) => {
      for (let way = 0; way < rooms.length; way++) {
        const room = rooms[way];
        if (room && !room.tryClaim()) continue;
        pool.setWay(token, way);
        return go(token);
      }
      waiting.append(kernel, token);
      if (onBlocked) onBlocked(token);
      pool.setPc(token, waitAt);
      return SUSPEND;
    });
    kernel.emit((token) => {
      pool.setWay(token, wayByTarget[pool.wayOf(token)]);
      if (onUnblocked) onUnblocked(token);
      return go(token);
    });
    const waits = (token: number): boolean => waiting.holds(kernel, token);
    const withdraw = (token: number): boolean => {
      if (!waits(token)) return false;
      waiting.remove(kernel, token);
      return true;
    };
    const giveBack = (token: number): void => rooms[wayByTarget[pool.wayOf(token)]]?.release();
    return { start, again: start, granted, waits, withdraw, giveBack };
  }

  private readonly passedCounters = new Map<number, Counter>();
  private readonly wayDepartures = new Map<number, Read>();

  /** What happens when an entity sets out on a link. One for each link. */
  private wayDeparture(way: Way): Read {
    let depart = this.wayDepartures.get(way.index);
    if (!depart) {
      const { kernel } = this;
      const before = kernel.emittingFor;
      kernel.emittingFor = this.model.nodes.length + way.index;
      depart = settingOut(way, this, this.passedCounters.get(way.index) ?? this.counter());
      kernel.emittingFor = before;
      this.wayDepartures.set(way.index, depart);
    }
    return depart;
  }
}
