import { type Checked, type Environment, type Read, type Source, sourcesOf } from "../expression/index.ts";
import { type Dimension, NUMBER, RATE, TIME } from "../quantity/index.ts";
import type { Streams } from "../random/streams.ts";
import { Level } from "../statistics/level.ts";
import type { Measure } from "../statistics/measure.ts";
import { Tally } from "../statistics/tally.ts";
import { type Model, type Node, streamOf, type Way } from "../model/model.ts";
import { Claimable, WaitList } from "../kernel/claims.ts";
import { Work } from "../kernel/work.ts";
import type { Timetable } from "../timetable/index.ts";
import { EventClass, type Kernel, type Step, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE, PART, PHASE, placeCode } from "../kernel/pool.ts";
import { Contents } from "./contents.ts";
import { Requests } from "./requests.ts";
import type { ResourcePool } from "./resourcePool.ts";
import { EntityTypeMeter } from "./typeMeter.ts";
import type { Units } from "./units.ts";

/** A count that warm-up sets back to 0, and that also knows its value since the start. */
export class Counter {
  total = 0;
  private discarded = 0;
  /** Counted since the last restart. */
  get n(): number {
    return this.total - this.discarded;
  }
  restart(): void {
    this.discarded = this.total;
  }
  reset(): void {
    this.total = 0;
    this.discarded = 0;
  }
}

/** A level that tells when it changes, and a counter that does: made only for elements that a gate reads. */
class WatchedLevel extends Level {
  constructor(
    clock: Float64Array,
    private readonly changed: () => void,
  ) {
    super(clock);
  }
  override add(change: number): void {
    super.add(change);
    if (change !== 0) this.changed();
  }
}

class WatchedCounter extends Counter {
  private count = 0;
  constructor(private readonly changed: () => void) {
    super();
    // The field of the class above would hide these.
    Object.defineProperty(this, "total", {
      get: () => this.count,
      set: (count: number) => {
        this.count = count;
        this.changed?.();
      },
    });
  }
}

/** What is held at an element when an entity leaves it, and what is noted while it cannot. */
export interface Leaving {
  /** Gives up what the entity holds here. Runs once its next place is sure. */
  readonly release?: (token: number) => void;
  readonly onBlocked?: (token: number) => void;
  readonly onUnblocked?: (token: number) => void;
  /** The step with which an entity goes on that had to wait for room, in place of leaving at once: it ends with `Departing.granted`. */
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
  /** Entities inside an element or on the way to it, by node index; kept only where some way out asks for the shortest line. */
  private readonly present: Int32Array | undefined;
  readonly measures: Measure[] = [];
  readonly typeMeters: readonly EntityTypeMeter[];
  /** Rooms a mover claims before it sets out, by node index; absent where all are let in. */
  private readonly admissions: (Claimable | undefined)[];
  private readonly properties = new Map<string, Read>();
  private readonly shownCounts = new Map<number, () => number>();
  private readonly meters: Meter[] = [];
  private readonly starters: (() => void)[] = [];
  private measuredFrom = 0;
  private workInProgress: Work | undefined;
  private claims: Requests | undefined;
  private readonly pools = new Map<string, ResourcePool>();
  private readonly units = new Map<number, Units>();
  private carried: Contents | undefined;
  private readonly signals: [elementId: string, act: () => void][] = [];
  private readonly askers = new Map<number, () => void>();
  /** By index of the element that gates read: what to do when it changes. */
  private readonly watchers = new Map<number, (() => void)[]>();
  private preparing = -1;
  private beginning = false;
  private readonly linkPlaces: number;
  private readonly fillers: (() => void)[] = [];
  /** Departures so far, of all elements. */
  departures = 0;

  constructor(
    readonly model: Model,
    readonly kernel: Kernel,
    private readonly streams: Streams,
  ) {
    this.entries = new Int32Array(model.nodes.length).fill(SUSPEND);
    const asked = model.nodes.some(({ element }) => "wayOut" in element && element.wayOut === "shortest line");
    this.present = asked ? new Int32Array(model.nodes.length) : undefined;
    this.admissions = model.nodes.map(() => undefined);
    this.lastSteps = model.nodes.map(() => undefined);
    this.linkPlaces = model.nodes.length;
    for (const checked of [model.stop.condition, ...model.custom.map((c) => c.value)]) if (checked) this.follow(checked);
    for (const { index, settings, element } of model.nodes) {
      const condition = element.kind === "gate" && element.opens === "condition" ? settings.get("condition") : undefined;
      if (!condition) continue;
      const read = new Set(sourcesOf(condition).flatMap((source) => (source.kind === "element" ? [source.element] : [])));
      for (const watched of read) this.watch(watched, () => this.askers.get(index)?.());
    }
    this.typeMeters = model.types.map((type) => new EntityTypeMeter(type.type, this));
  }

  /** Seconds measured so far: since the start, or since the warm-up ended. */
  get measuredTime(): number {
    return this.kernel.now - this.measuredFrom;
  }

  level(): Level {
    const changed = this.tellsChanges();
    return this.meter(changed ? new WatchedLevel(this.kernel.clock, changed) : new Level(this.kernel.clock));
  }

  tally(): Tally {
    return this.meter(new Tally());
  }

  counter(): Counter {
    const changed = this.tellsChanges();
    return this.meter(changed ? new WatchedCounter(changed) : new Counter());
  }

  /** Does `prepare` for an element; what is measured in it then tells those who watch the element. */
  prepare<T>(node: Node, prepare: () => T): T {
    this.preparing = node.index;
    const result = prepare();
    this.preparing = -1;
    return result;
  }

  /** Who is told, at the end of an instant at which something changed that an expression reads. */
  private readonly followers = new Map<Checked, () => void>();

  /** Has `act` done whenever the value of an expression may have changed, when all else at that instant is done; and at the start. */
  onChangeOf(checked: Checked, act: () => void): void {
    const { kernel } = this;
    let process = -1;
    const step = kernel.emit(() => {
      act();
      return SUSPEND;
    });
    const ask = (): void => {
      if (process >= 0 && Number.isNaN(kernel.calendar.timeOf(process))) kernel.schedule(process, 0, EventClass.recheck);
    };
    this.followers.set(checked, ask);
    this.atStart(() => {
      process = kernel.pool.take(NO_TYPE, step, kernel.clock);
      ask();
    });
  }

  private follow(checked: Checked): void {
    const read = new Set(sourcesOf(checked).flatMap((source) => (source.kind === "element" ? [source.element] : [])));
    for (const watched of read) this.watch(watched, () => this.followers.get(checked)?.());
  }

  /** Asks to be told whenever something that can be read of an element changes. */
  private watch(index: number, changed: () => void): void {
    const list = this.watchers.get(index);
    if (list) list.push(changed);
    else this.watchers.set(index, [changed]);
  }

  private tellsChanges(): (() => void) | undefined {
    const list = this.watchers.get(this.preparing);
    return list && (() => {
      if (!this.beginning) for (const changed of list) changed();
    });
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

  /** Claims of resources. */
  get requests(): Requests {
    if (!this.claims) {
      const claims = new Requests(this.kernel, this.work);
      this.claims = claims;
      this.atStart(() => claims.reset());
    }
    return this.claims;
  }

  /** Whether some entities carry others. */
  get keepsContents(): boolean {
    return this.model.nodes.some(({ element }) => element.kind === "join" && element.keeps === "to be undone");
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

  /** The end of a replication before its length, if the model asks for one. */
  private stopEarly(): void {
    const { condition } = this.model.stop;
    if (!condition) return;
    const holds = condition.compile(this.environment(0));
    this.onChangeOf(condition, () => {
      if (holds(-1) !== 0) this.kernel.end(this.kernel.now);
    });
  }

  /** Counts a departure; the last that the run waits for ends it. */
  countDeparture(): void {
    if (++this.departures === this.model.stop.count) this.kernel.end(this.kernel.now);
  }

  /** What is in queues and stations at the start comes in there, as far as there is room. */
  private fill(node: Node): void {
    const { element } = node;
    if (!("initial" in element) || element.initial.length === 0) return;
    const groups = element.initial.map(({ id, entityType }) => ({
      bear: this.birth(this.model.types.findIndex((t) => t.type.id === entityType)),
      count: node.settings.get(`initial.${id}.count`)?.constant ?? 0,
    }));
    const room = this.admissions[node.index];
    this.fillers.push(() => {
      for (const { bear, count } of groups) {
        for (let i = 0; i < count; i++) {
          if (room && !room.tryClaim()) {
            this.kernel.fail({ code: "no-room-at-start", message: `More are in ${element.name} at the start than it has room for.`, hint: "Let fewer be there, or give it more room.", id: element.id, field: "initial" });
            return;
          }
          this.come(node.index);
          if (bear(this.entries[node.index]) < 0) return;
        }
      }
    });
  }

  /** To be done when all elements are lowered: signals go with the first steps of elements. */
  finish(): void {
    const { kernel, entries, lastSteps } = this;
    this.stopEarly();
    for (const node of this.model.nodes) this.fill(node);
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

  /** What a gate does when something that its condition reads changes. */
  onChange(node: Node, act: () => void): void {
    this.askers.set(node.index, act);
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
    const list = this.waits.get(this.preparing);
    if (list) list.push(tally);
    else this.waits.set(this.preparing, [tally]);
  }

  waitsOf(node: Node): Tally[] {
    return this.waits.get(node.index) ?? [];
  }

  private readonly orders = new Map<number, (visit: (token: number) => void) => void>();

  /** Declares how to go through those in line at an element, the next first, where that is not the order of coming. */
  showOrder(node: Node, walk: (visit: (token: number) => void) => void): void {
    this.orders.set(node.index, walk);
  }

  /** Goes through all lines that are not in the order of coming. */
  eachInOrder(visit: (token: number, position: number) => void): void {
    for (const walk of this.orders.values()) {
      let position = 0;
      walk((token) => visit(token, position++));
    }
  }

  /** Declares the units whose states are shown while watching. */
  showUnits(node: Node, units: Units): void {
    this.units.set(node.index, units);
  }

  unitsOf(node: Node): Units | undefined {
    return this.units.get(node.index);
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
    this.beginning = true;
    this.streams.begin(seed, replication);
    this.measuredFrom = 0;
    this.departures = 0;
    this.present?.fill(0);
    for (const meter of this.meters) {
      if (meter.reset) meter.reset();
      else meter.restart();
    }
    for (const start of this.starters) start();
    this.beginning = false;
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

  /** Declares measures of an owner. */
  measuresOf(owner: { readonly id: string; readonly name: string }, ownerKind: string) {
    return (id: string, label: string, dimension: Dimension, read: () => number): void => {
      this.measures.push({ key: `${owner.id}/${id}`, ownerId: owner.id, owner: owner.name, ownerKind, id, label, dimension, read });
    };
  }

  /** Average, maximum and final value of a level, as three measures. */
  levelMeasures(add: ReturnType<Lowering["measuresOf"]>, id: string, label: string, level: Level): void {
    add(`${id}.mean`, `${label}, average`, NUMBER, () => level.integral / this.measuredTime);
    add(`${id}.max`, `${label}, most`, NUMBER, () => level.max);
    add(`${id}.end`, `${label}, at the end`, NUMBER, () => level.value);
  }

  /** Mean, maximum and quantiles of a tally of times. */
  tallyMeasures(add: ReturnType<Lowering["measuresOf"]>, id: string, label: string, tally: () => Tally): void {
    add(`${id}.mean`, `${label}, mean`, TIME, () => tally().mean);
    add(`${id}.max`, `${label}, longest`, TIME, () => tally().max);
    for (const p of [50, 90, 95, 99]) add(`${id}.p${p}`, `${label}, ${p} % quantile`, TIME, () => tally().histogram.quantile(p / 100));
  }

  throughput(add: ReturnType<Lowering["measuresOf"]>, done: Counter): void {
    add("throughput", "Throughput", RATE, () => done.n / this.measuredTime);
  }

  /** Declares how many have passed, or are inside, for the count beside the symbol while watching. */
  showCount(node: Node, read: () => number): void {
    this.shownCounts.set(node.index, read);
  }

  passed(node: Node): number {
    return this.shownCounts.get(node.index)?.() ?? 0;
  }

  /** Declares what expressions read as `Element.property`. */
  property(node: Node, name: string, read: Read): void {
    this.properties.set(`${node.index}/${name}`, read);
  }

  /** Only so many may be in or on the way to the element; movers wait for room where they are. */
  admit(node: Node, room: Claimable): void {
    this.admissions[node.index] = room;
  }

  /** The closure of a setting, drawing from the setting's own stream; `fallback` where the setting is empty or a word. */
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
      case "clock": return () => kernel.now;
      case "timeOfDay": return () => this.model.days.wall(kernel.now) % 86400;
      case "day": return () => Math.floor(this.model.days.wall(kernel.now) / 86400) + 1;
      case "entityType": return (token) => pool.typeOf(token);
      case "entityAge": return (token) => kernel.now - pool.bornAt(token);
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

  /** How entities of a type are born: a function that makes one, which goes on at step `pc`, and returns it; -1 when there are too many. */
  birth(type: number): (pc: number) => number {
    const { kernel, model } = this;
    const meter = this.typeMeters[type];
    const attributes = model.types[type].attributes.map(({ slot, value, stream }) => ({ slot, value: value.compile(this.environment(stream)) }));
    return (pc) => {
      const token = kernel.makeEntity(type, pc);
      if (token < 0) return token;
      this.carried?.clear(token, false);
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

  /** Emits the one step of an element in which entities end, and lets others take it without going round by the kernel. */
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
    if ("wayOut" in node.element && node.element.wayOut === "first free" && departs.length > 1) {
      return this.leaveByFirstFree(node, rooms, go, leaving);
    }
    const choose = this.chooser(node);
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
    if (leaving.waitAt === undefined) return { start, again: start, granted, withdraw: () => false };
    const again = kernel.emit((token) => {
      const room = rooms[pool.wayOf(token)];
      if (!room || room.claim(token)) return go(token);
      pool.setPc(token, waitAt);
      return SUSPEND;
    });
    const withdraw = (token: number): boolean => {
      const line = rooms[pool.wayOf(token)]?.own;
      if (!line?.holds(kernel, token)) return false;
      line.remove(kernel, token);
      return true;
    };
    return { start, again, granted, withdraw };
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
  private leaveByFirstFree(node: Node, rooms: readonly (Claimable | undefined)[], go: (token: number) => number, { onBlocked, onUnblocked, ...leaving }: Leaving): Departing {
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
    const withdraw = (token: number): boolean => {
      if (!waiting.holds(kernel, token)) return false;
      waiting.remove(kernel, token);
      return true;
    };
    return { start, again: start, granted, withdraw };
  }

  /** How an entity picks a way: returns the position among `node.out`, or -1 after a failure. */
  private chooser(node: Node): Read {
    const present = this.present ?? new Int32Array(0);
    const { out, element } = node;
    if (!("wayOut" in element) || (out.length === 1 && element.wayOut !== "named")) return () => 0;
    switch (element.wayOut) {
      case "shortest line":
        return () => {
          let best = 0;
          for (let i = 1; i < out.length; i++) if (present[out[i].to] < present[out[best].to]) best = i;
          return best;
        };
      case "in turn": {
        let last = -1;
        this.atStart(() => (last = -1));
        return () => (last = (last + 1) % out.length);
      }
      case "cheapest": {
        const costs = out.map((way) => way.settings.get("cost")?.compile(this.environment(streamOf(way.link, "cost"))) ?? (() => 0));
        return (token) => {
          let best = 0;
          let least = Infinity;
          for (let i = 0; i < costs.length; i++) {
            const cost = costs[i](token);
            if (cost < least) [best, least] = [i, cost];
          }
          return best;
        };
      }
      case "named": return this.namedChooser(node);
      case "condition": {
        const conditions = out.map((way) => way.settings.get("condition")?.compile(this.environment(streamOf(way.link, "condition"))));
        const otherwise = conditions.findIndex((c) => c === undefined);
        return (token) => {
          for (let i = 0; i < conditions.length; i++) {
            const condition = conditions[i];
            if (condition && condition(token) !== 0) return i;
          }
          return otherwise;
        };
      }
      default: return this.shareChooser(node);
    }
  }

  /** The way to the element that an expression names. */
  private namedChooser(node: Node): Read {
    const { kernel } = this;
    const { out, element } = node;
    const destination = this.read(node, "destination", -1);
    const wayTo = new Int32Array(this.model.nodes.length).fill(-1);
    for (let i = out.length - 1; i >= 0; i--) wayTo[out[i].to] = i;
    return (token) => {
      const target = destination(token);
      const way = wayTo[target] ?? -1;
      if (way < 0) {
        kernel.fail({
          code: "no-such-way",
          message: `An entity at ${element.name} is to go to ${this.model.nodes[target]?.element.name ?? "no element"}, but no link leads there.`,
          hint: "Draw that link, or change where entities go.",
          id: element.id,
          field: "destination",
        });
      }
      return way;
    };
  }

  private shareChooser(node: Node): Read {
    const { kernel } = this;
    const { out, element } = node;
    const stream = streamOf(element, "wayOut");
    const environment = this.environment(stream);
    const uniform = this.streams.stream(stream).uniform();
    const given = out.map((way) => way.settings.get("share"));
    const none = given.every((share) => share === undefined);
    const shares = given.map((share) => (none ? () => 1 / out.length : share?.compile(environment)));
    const rest = shares.findIndex((share) => share === undefined);
    const weights = new Float64Array(out.length);
    return (token) => {
      let total = 0;
      for (let i = 0; i < weights.length; i++) {
        const share = shares[i];
        weights[i] = share ? share(token) : 0;
        total += weights[i];
      }
      if (rest >= 0) {
        weights[rest] = 1 - total;
        total = 1;
      }
      if (!(Math.abs(total - 1) < 1e-6) || weights.some((w) => !(w >= 0))) {
        kernel.fail({
          code: "bad-share",
          message: `The shares of the ways out of ${element.name} came to ${total}, not to 1.`,
          hint: "Make the shares sum to 100 % for every entity.",
          id: element.id,
          field: "wayOut",
          value: total,
        });
        return -1;
      }
      const u = uniform();
      let sum = 0;
      for (let i = 0; i < weights.length - 1; i++) {
        sum += weights[i];
        if (u < sum) return i;
      }
      return weights.length - 1;
    };
  }

  private readonly passedCounters = new Map<number, Counter>();

  /** Counts entities that set out on a link. */
  private passedOn(way: Way): Counter {
    let counter = this.passedCounters.get(way.index);
    if (!counter) {
      counter = this.counter();
      this.passedCounters.set(way.index, counter);
    }
    return counter;
  }

  private readonly wayDepartures = new Map<number, Read>();

  /** What happens when an entity sets out on a link: returns the next step. One for each link. */
  private wayDeparture(way: Way): Read {
    let depart = this.wayDepartures.get(way.index);
    if (!depart) {
      depart = this.makeWayDeparture(way);
      this.wayDepartures.set(way.index, depart);
    }
    return depart;
  }

  private makeWayDeparture(way: Way): Read {
    const { kernel, entries, present, model } = this;
    const { pool } = kernel;
    const { to, link } = way;
    const passed = this.passedOn(way);
    const name = `${model.nodes[way.from].element.name} to ${model.nodes[to].element.name}`;
    const add = this.measuresOf({ id: link.id, name }, "link");
    add("passed", "Entities that set out", NUMBER, () => passed.n);
    if (link.kind === "direct") {
      return () => {
        passed.total += 1;
        if (present) present[to] += 1;
        return entries[to];
      };
    }
    const underWay = this.level();
    this.levelMeasures(add, "underWay", "Under way", underWay);
    const [field, duration] = this.travelTime(way);
    const place = placeCode(this.linkPlaces + way.index, PHASE.moving);
    const arrive = kernel.emit((token) => {
      underWay.add(-1);
      pool.credit(token, PART.moving, kernel.clock);
      return entries[to];
    });
    return (token) => {
      passed.total += 1;
      if (present) present[to] += 1;
      underWay.add(1);
      pool.beginUntil(token, place, arrive, kernel.clock);
      kernel.delay(token, duration(token), EventClass.activityEnd, link.id, field);
      return SUSPEND;
    };
  }

  private travelTime({ link, settings, drawnLength }: Way): [field: string, duration: Read] {
    const time = settings.get("time");
    if (link.kind === "timed" && time) return ["time", time.compile(this.environment(streamOf(link, "time")))];
    const metres = settings.get("length")?.constant ?? drawnLength;
    const speeds = this.model.types.map(({ speed, type }) => speed?.compile(this.environment(streamOf(type, "speed"))));
    const { pool } = this.kernel;
    return ["length", (token) => metres / (speeds[pool.typeOf(token)]?.(token) ?? Number.NaN)];
  }
}
