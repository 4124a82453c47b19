import type { Kernel } from "../kernel/kernel.ts";
import { count, level, type MeasureSpecs, tally } from "../measures/spec.ts";
import type { FollowedRoad, Model } from "../model/model.ts";
import { WAYS } from "../model/sources.ts";
import type { OnWay } from "../movement/network.ts";
import { NUMBER } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import { closedBy } from "./closedBy.ts";
import type { Counter } from "./counter.ts";
import type { Expressions } from "./expressions.ts";
import type { Meters } from "./meters.ts";
import type { Replication } from "./replication.ts";
import { WaysNow } from "./waysNow.ts";

/** What is measured of a walkway or road that is followed. */
export const ROAD_MEASURES = {
  passed: count("Came onto it", "Vehicles, people and entities by themselves that came onto it."),
  on: level("On it", "Vehicles, people and entities by themselves on it"),
  waiting: level("Waiting to come onto it", "Those who wait for room on it, or for it to open", { better: "less" }),
  wait: tally("Wait to come onto it", "From coming to it until being on it, of all who came onto it.", {
    better: "less",
  }),
  behind: level("Held up on it", "Those who could go on, and wait for a slower one ahead of them", { better: "less" }),
  closed: {
    label: "Share of time closed",
    statistic: "share",
    dimension: NUMBER,
    definition: "Share of the time in which nobody could come onto it.",
    formula: "(1/T) ∫ [closed] dt",
    better: "less",
  },
  breakdowns: count("Breakdowns", "Times that it was closed for a repair.", { better: "less" }),
} as const satisfies MeasureSpecs;

interface Meter {
  readonly passed: Counter;
  readonly on: Level;
  readonly waiting: Level;
  readonly wait: Tally;
  readonly behind: Level;
  readonly closed: Level;
}

/** Somebody who waits to come onto a way. */
interface Waiting {
  readonly token: number;
  readonly forth: boolean;
  readonly since: number;
}

/** A way of which it is followed who is on it. */
class FollowedWay {
  /** Who is on it, or has been let in: whether in the direction in which it was drawn. */
  readonly holders = new Map<number, boolean>();
  private forth = 0;
  /** In the order in which they came to it. */
  readonly line: Waiting[] = [];
  isClosed = false;

  constructor(
    readonly name: string,
    readonly id: string,
    private readonly room: number,
    private readonly directions: "together" | "one at a time" | "apart",
    readonly meter: Meter,
  ) {}

  reset(): void {
    this.holders.clear();
    this.line.length = 0;
    this.forth = 0;
    this.isClosed = false;
  }

  /** Whether one more who goes that way may be on it beside so many, of whom so many go forth. */
  fits(forth: boolean, holders = this.holders.size, goingForth = this.forth): boolean {
    const { directions, room } = this;
    const beside = forth ? goingForth : holders - goingForth;
    if (directions === "apart") return beside < room;
    return holders < room && (directions === "together" || beside === holders);
  }

  letIn(token: number, forth: boolean): void {
    this.holders.set(token, forth);
    if (forth) this.forth += 1;
    this.meter.passed.total += 1;
    this.meter.on.add(1);
  }

  letOut(token: number): void {
    if (this.holders.get(token)) this.forth -= 1;
    this.holders.delete(token);
    this.meter.on.add(-1);
  }
}

/**
 * Who is on the ways on which others count. Whoever goes over them, be it an entity, a vehicle or somebody who walks,
 * asks at each joint whether it may go on: `pass`. One that may not waits where it is, on the way that it came over,
 * and is resumed when it may, in the order in which they came there. Those who wait for one another round a ring wait
 * for ever: that is told, and ends the run.
 */
export class Traffic {
  private ways: readonly FollowedWay[] = [];
  /** By lane: who is in it, in the order in which they go. */
  private readonly lanes = new Map<number, number[]>();
  /** By token: the way for which it waits, and that onto which it has been let. */
  private readonly waitsFor = new Map<number, FollowedWay>();
  private readonly letOnto = new Map<number, FollowedWay>();
  /** By token that could go on, and waits for who is ahead in its lane: where it is. */
  private readonly behind = new Map<number, OnWay>();
  /** How a token that is no entity is called. */
  readonly callers: ((token: number) => string | undefined)[] = [];
  /** How ways count when one is looked for. */
  readonly waysNow: WaysNow;

  constructor(
    private readonly model: Model,
    private readonly kernel: Kernel,
    private readonly meters: Meters,
    private readonly expressions: Expressions,
    private readonly replication: Replication,
  ) {
    this.waysNow = new WaysNow(model, kernel, expressions, replication);
    const numbers = new Map(model.followed.map(({ road }, i) => [road.id, i]));
    expressions.provide(WAYS, {
      on: (id) => this.ways[numbers.get(id)!].holders.size,
      waiting: (id) => this.ways[numbers.get(id)!].line.length,
      closed: (id) => (this.ways[numbers.get(id)!].isClosed ? 1 : 0),
    });
  }

  /** To be done when all elements are there: conditions read them. */
  lower(): void {
    this.ways = this.model.followed.map((followed) => this.make(followed));
    if (this.ways.length > 0)
      this.replication.atStart(() => {
        for (const kept of [this.lanes, this.waitsFor, this.letOnto, this.behind]) kept.clear();
      });
  }

  /**
   * Whether a token goes on from one stretch to the next, undefined where it begins or ends. If not it is resumed when
   * it is to ask again; it is still on the stretch that it came over.
   */
  pass(token: number, from: OnWay | undefined, to: OnWay | undefined): boolean {
    // Within one lane, or beside all that are followed.
    if (from === to) return true;
    if (from && from.lane >= 0 && this.lanes.get(from.lane)![0] !== token) {
      if (!this.behind.has(token)) {
        this.behind.set(token, from);
        this.ways[from.way].meter.behind.add(1);
        this.failIfJammed(token);
      }
      return false;
    }
    if (from && this.behind.delete(token)) this.ways[from.way].meter.behind.add(-1);
    if (to && to.way !== from?.way) {
      const way = this.ways[to.way];
      if (this.letOnto.get(token) === way) this.letOnto.delete(token);
      else if (!way.isClosed && way.line.length === 0 && way.fits(to.forth)) {
        way.meter.wait.add(0);
        way.letIn(token, to.forth);
      } else {
        way.line.push({ token, forth: to.forth, since: this.kernel.now });
        way.meter.waiting.add(1);
        this.waitsFor.set(token, way);
        this.failIfJammed(token);
        return false;
      }
    }
    if (from) this.leave(token, from, to);
    if (to && to.lane >= 0) {
      const lane = this.lanes.get(to.lane);
      if (lane) lane.push(token);
      else this.lanes.set(to.lane, [token]);
    }
    return true;
  }

  /** How many are on each way, how many wait to come onto it, and whether it is closed, for watching. */
  state(): { readonly on: number; readonly waiting: number; readonly isClosed: boolean }[] {
    return this.ways.map(({ holders, line, isClosed }) => ({ on: holders.size, waiting: line.length, isClosed }));
  }

  private leave(token: number, from: OnWay, to: OnWay | undefined): void {
    if (from.lane >= 0) {
      const lane = this.lanes.get(from.lane)!;
      lane.shift();
      if (lane.length > 0 && this.behind.has(lane[0])) this.kernel.resume(lane[0]);
    }
    if (from.way === to?.way) return;
    const way = this.ways[from.way];
    way.letOut(token);
    this.letNext(way);
  }

  /** Lets those onto a way who are next, as far as there is room. */
  private letNext(way: FollowedWay): void {
    while (!way.isClosed && way.line.length > 0 && way.fits(way.line[0].forth)) {
      const { token, forth, since } = way.line.shift()!;
      way.letIn(token, forth);
      way.meter.waiting.add(-1);
      way.meter.wait.add(this.kernel.now - since);
      this.waitsFor.delete(token);
      this.letOnto.set(token, way);
      this.kernel.resume(token);
    }
  }

  private setClosed(way: FollowedWay, isClosed: boolean): void {
    if (way.isClosed === isClosed) return;
    way.isClosed = isClosed;
    way.meter.closed.set(isClosed ? 1 : 0);
    if (!isClosed) this.letNext(way);
  }

  private make({ road, room, closedWhile, breaks }: FollowedRoad): FollowedWay {
    const { kernel, model, meters, expressions, replication } = this;
    const name = road.name || (road.kind === "road" ? "Road" : "Walkway");
    const measured = meters.of({ id: road.id, name }, "way", ROAD_MEASURES);
    const meter: Meter = {
      passed: meters.counter(),
      on: meters.level(),
      waiting: meters.level(),
      wait: meters.tally(),
      behind: meters.level(),
      closed: meters.level(),
    };
    const timetable = model.timetables.get(road.calendar ?? "");
    measured.add("passed", () => meter.passed.n);
    measured.level("on", meter.on);
    measured.level("waiting", meter.waiting);
    measured.tally("wait", [meter.wait]);
    if (road.keepsOrder) measured.level("behind", meter.behind);
    if (timetable || closedWhile || breaks) measured.add("closed", () => meter.closed.integral / meters.time);
    const way = new FollowedWay(
      name,
      road.id,
      room,
      road.oneAtATime ? "one at a time" : road.roomEach ? "apart" : "together",
      meter,
    );
    replication.atStart(() => way.reset());
    const holds = closedWhile?.compile(expressions.environment(0, road.id, "closedWhile"));
    const brokeDown = meters.counter();
    if (breaks) measured.add("breakdowns", () => brokeDown.n);
    const read = (field: "every" | "repair") =>
      breaks?.[field].compile(expressions.environment(road.streams?.[field] ?? 0, road.id, field));
    const [every, repair] = [read("every"), read("repair")];
    const closing = {
      timetable,
      condition: closedWhile,
      holds,
      breaks: every && repair && { every, repair, id: road.id, count: () => void (brokeDown.total += 1) },
    };
    closedBy(closing, (isClosed) => this.setClosed(way, isClosed), kernel, expressions, replication);
    return way;
  }

  /**
   * One who has come to wait may wait for ever. Who moves will get where it goes; who waits can go on once those of the
   * others who can have gone, if there is then room for it and for all who came before it. What is left when nobody
   * more can is a jam, if this one is among them.
   */
  private failIfJammed(token: number): void {
    const stuck = this.stuckWith(token);
    if (stuck.length === 0) return;
    const wayOf = (one: number) => this.waitsFor.get(one) ?? this.ways[this.behind.get(one)!.way];
    const ways = new Set(stuck.map((one) => wayOf(one).name));
    const names = stuck.map((one) => this.nameOf(one));
    const told =
      names.length > MOST_NAMED ? [...names.slice(0, MOST_NAMED), `${names.length - MOST_NAMED} more`] : names;
    this.kernel.fail({
      code: "jam",
      message: `A jam on ${[...ways].join(", ")}: ${told.join(", ")} wait for one another, and can never go on.`,
      hint: "Give a way more room or make it one way, or let fewer come there at once.",
      id: wayOf(token).id,
      field: "room",
    });
  }

  /** Those who can never go on, where a token is among them. */
  private stuckWith(token: number): readonly number[] {
    const waiting = new Set([...this.waitsFor.keys(), ...this.behind.keys()]);
    for (let freed = true; freed;) {
      freed = false;
      for (const one of waiting) {
        if (!this.canGoOn(one, waiting)) continue;
        waiting.delete(one);
        if (one === token) return [];
        freed = true;
      }
    }
    return [...waiting];
  }

  /** Whether one that waits can go on once all have gone who are not among those that are stuck. */
  private canGoOn(token: number, stuck: ReadonlySet<number>): boolean {
    const way = this.waitsFor.get(token);
    if (!way) {
      const lane = this.lanes.get(this.behind.get(token)!.lane)!;
      return !lane.slice(0, lane.indexOf(token)).some((ahead) => stuck.has(ahead));
    }
    if (way.isClosed) return true;
    let [holders, forth] = [0, 0];
    for (const [holder, goesForth] of way.holders) {
      if (!stuck.has(holder)) continue;
      holders += 1;
      if (goesForth) forth += 1;
    }
    const place = way.line.findIndex((one) => one.token === token);
    if (way.line.slice(0, place).some((one) => stuck.has(one.token))) return false;
    return way.fits(way.line[place].forth, holders, forth);
  }

  private nameOf(token: number): string {
    const { pool } = this.kernel;
    for (const call of this.callers) {
      const name = call(token);
      if (name !== undefined) return name;
    }
    const type = pool.typeOf(token);
    return type >= 0 ? `${this.model.types[type].type.name} ${pool.serial[token]}` : "somebody";
  }
}

/** Of those in a jam so many are named. */
const MOST_NAMED = 6;
