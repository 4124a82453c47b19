import type { Read } from "../expression/index.ts";
import { type Claimable, WaitList } from "../kernel/claims.ts";
import { type Kernel, type Step, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { byLink, type Model, type Node, type Way } from "../model/model.ts";
import { chooser } from "./chooser.ts";
import { type Conveyors, onConveyor } from "./conveyor.ts";
import type { Counter } from "./counter.ts";
import type { EntityWalks } from "./entityWalks.ts";
import type { Events } from "./events.ts";
import type { Expressions } from "./expressions.ts";
import type { Fleet } from "./fleet.ts";
import { type Departing, leaveByChoice, leaveByFirstFree, type Leaving } from "./leaving.ts";
import type { Meters } from "./meters.ts";
import type { Places } from "./places.ts";
import type { Population } from "./population.ts";
import type { Presence } from "./presence.ts";
import type { Replication } from "./replication.ts";
import type { Resources } from "./resources.ts";
import { settingOut } from "./settingOut.ts";
import type { Traffic } from "./traffic.ts";

/** Events that every kind has that entities come to, or go on from. */
export const COMES_IN = "comes in";
export const GOES_ON = "goes on";
export const IS_BLOCKED = "is blocked";

/** Links, ways out and admission: how entities come from one element to the next. */
export class Network {
  /** First step of each element, by node index. */
  readonly entries: Int32Array;
  /** The only step of elements in which entities end, by node index. */
  readonly lastSteps: (Step | undefined)[];
  /** Rooms a mover claims before it sets out, by node index; absent where all are let in. */
  private readonly admissions: (Claimable | undefined)[];
  private readonly passedCounters = new Map<number, Counter>();
  private readonly departures = new Map<number, Read>();
  private readonly before = new Map<number, ((next: number) => number)[]>();

  constructor(
    private readonly model: Model,
    private readonly kernel: Kernel,
    private readonly meters: Meters,
    private readonly expressions: Expressions,
    private readonly replication: Replication,
    private readonly presence: Presence,
    private readonly population: Population,
    private readonly events: Events,
    private readonly places: Places,
    private readonly fleets: ReadonlyMap<string, Fleet>,
    readonly conveyors: Conveyors,
    private readonly resources: Resources,
    private readonly traffic: Traffic,
    private readonly walks: EntityWalks,
  ) {
    this.entries = new Int32Array(model.nodes.length).fill(SUSPEND);
    this.lastSteps = model.nodes.map(() => undefined);
    this.admissions = model.nodes.map(() => undefined);
  }

  /** The step by which entities come into an element. */
  enterBy(node: Node, step: number): void {
    this.entries[node.index] = step;
  }

  /**
   * The one step of an element in which entities end: it lets others take it without going round by the kernel.
   */
  endHere(node: Node, step: Step): void {
    this.enterBy(node, this.kernel.emit(step));
    this.lastSteps[node.index] = step;
  }

  /** Only so many may be in or on the way to the element; movers wait for room where they are. */
  admit(node: Node, room: Claimable): void {
    this.admissions[node.index] = room;
  }

  /** The room that a mover to the element claims, by its index; undefined where all are let in. */
  roomOf(index: number): Claimable | undefined {
    return this.admissions[index];
  }

  /** What a mover claims before it sets out on a way: the start of a conveyor, or room where the way leads. */
  private claimedOf(way: Way): Claimable | undefined {
    return this.conveyors.of(way)?.entry ?? this.admissions[way.to];
  }

  /** Whether those who come off a conveyor to an element pass it in no time, and nobody listens. */
  private passesAt({ element, index, traits }: Node): boolean {
    return traits.passes === true && !this.events.isHeard(element.id, COMES_IN) && !this.before.has(index);
  }

  /**
   * What becomes of an entity that an element does not let go on with the others: it takes `way`, waiting
   * for room there if need be, or leaves the system, lost. Emits steps; gives the next one for a token.
   */
  sendAside(node: Node, way: Way | undefined): Read {
    const { kernel } = this;
    const { counts } = this.presence;
    const { pool } = kernel;
    if (!way) return (token) => this.population.lose(token, node);
    const depart = this.departure(way);
    const room = this.claimedOf(way);
    const go = (token: number): number => {
      if (counts) counts[node.index] -= 1;
      return depart(token);
    };
    if (!room) return go;
    const place = this.places.of(node, "blocked");
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

  /** What is noted of entities that wait at `node` for room ahead: that they are blocked there. */
  blocking(node: Node): Required<Pick<Leaving, "onBlocked" | "onUnblocked">> {
    const { pool, clock } = this.kernel;
    const place = this.places.of(node, "blocked");
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
    const { kernel, model } = this;
    const { counts } = this.presence;
    const { pool } = kernel;
    const departs = node.out.map((way) => this.departure(way));
    const rooms = node.out.map((way) => this.claimedOf(way));
    const from = node.index;
    const tell = this.events.teller(node.element.id, GOES_ON);
    const { release, onBlocked } = leaving;
    const tellBlocked = this.events.teller(node.element.id, IS_BLOCKED);
    if (tellBlocked)
      leaving = {
        ...leaving,
        onBlocked(token) {
          tellBlocked(token);
          if (onBlocked) onBlocked(token);
        },
      };
    const leaves = tell
      ? (token: number) => {
          tell(token);
          if (release) release(token);
        }
      : release;
    const go = (token: number) => {
      if (leaves) leaves(token);
      if (counts) counts[from] -= 1;
      return departs[pool.wayOf(token)](token);
    };
    const ofOneLink = byLink(node.out).length === 1;
    const firstFree = node.element.wayOut === "first free" || (ofOneLink && node.out[0]?.link.among === "first free");
    if (firstFree && departs.length > 1 && !(ofOneLink && ["named", "route"].includes(node.element.wayOut ?? ""))) {
      const waiting = new WaitList();
      this.replication.atStart(() => waiting.reset());
      const wayByTarget = new Int32Array(model.nodes.length + model.ways.length);
      for (let i = node.out.length - 1; i >= 0; i--) wayByTarget[rooms[i]?.index ?? node.out[i].to] = i;
      return leaveByFirstFree(kernel, wayByTarget, waiting, rooms, go, leaving);
    }
    const choose = chooser(node, {
      model,
      kernel,
      expressions: this.expressions,
      replication: this.replication,
      present: counts ?? new Int32Array(0),
    });
    return leaveByChoice(kernel, choose, rooms, go, leaving);
  }

  /**
   * The element to which entities always go on from `node` at once, in no time
   * and unhindered, nobody listening; -1 if there is no such. `left` then also counts those who
   * pass on the link. Kinds use it to go on without the steps of `leave`.
   */
  straightOn(node: Node, left: Counter): number {
    if (
      node.out.length !== 1 ||
      node.element.wayOut === "route" ||
      this.presence.isKept ||
      this.events.isHeard(node.element.id, GOES_ON)
    )
      return -1;
    const [way] = node.out;
    if (way.link.kind !== "direct" || this.admissions[way.to]) return -1;
    this.passedCounters.set(way.index, left);
    this.departure(way);
    return way.to;
  }

  /** What happens when an entity sets out on a link. One for each link. */
  private departure(way: Way): Read {
    let depart = this.departures.get(way.index);
    if (!depart) {
      const { kernel } = this;
      const before = kernel.emittingFor;
      kernel.emittingFor = this.model.nodes.length + way.index;
      const belt = this.conveyors.of(way);
      depart = belt
        ? onConveyor(way, belt, {
            model: this.model,
            kernel,
            meters: this.meters,
            presence: this.presence,
            places: this.places,
            entries: this.entries,
            conveyors: this.conveyors,
            room: this.admissions[way.to],
            passes: () => this.passesAt(this.model.nodes[way.to]),
          })
        : settingOut(way, this.passedCounters.get(way.index) ?? this.meters.counter(), {
            model: this.model,
            kernel,
            meters: this.meters,
            expressions: this.expressions,
            presence: this.presence,
            places: this.places,
            entries: this.entries,
            fleets: this.fleets,
            resources: this.resources,
            traffic: this.traffic,
            walks: this.walks,
          });
      kernel.emittingFor = before;
      this.departures.set(way.index, depart);
    }
    return depart;
  }

  /** Steps that entities take who come into an element, before its own: emitted for where they lead. */
  putBefore(index: number, emit: (next: number) => number): void {
    this.before.set(index, [...(this.before.get(index) ?? []), emit]);
  }

  /** To be done when all elements are lowered: that an entity comes in is told before its first step there. */
  finish(): void {
    const { kernel, entries, lastSteps } = this;
    for (const { index, element, traits } of this.model.nodes) {
      if (!traits.hasWayIn || entries[index] < 0) continue;
      for (const emit of (this.before.get(index) ?? []).reverse()) {
        kernel.emittingFor = index;
        entries[index] = emit(entries[index]);
        kernel.emittingFor = -1;
        lastSteps[index] = undefined;
      }
      const step = kernel.steps[entries[index]];
      const told = this.events.before(element.id, COMES_IN, step);
      if (told === step) continue;
      kernel.steps[entries[index]] = told;
      if (lastSteps[index]) lastSteps[index] = told;
    }
  }
}
