import type { Read } from "../expression/index.ts";
import type { Claimable } from "../kernel/claims.ts";
import { grown, lengthFor } from "../kernel/grown.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE, PART, STRIDE_BITS } from "../kernel/pool.ts";
import { count, level, type MeasureSpecs, tally } from "../measures/spec.ts";
import { type Model, streamOf, type Way } from "../model/model.ts";
import { LENGTH, NUMBER } from "../quantity/index.ts";
import { Belt, BELT_DOING } from "./belt.ts";
import { closedBy } from "./closedBy.ts";
import type { Expressions } from "./expressions.ts";
import type { Meters } from "./meters.ts";
import type { Places } from "./places.ts";
import type { Presence } from "./presence.ts";
import type { Replication } from "./replication.ts";

/** What is measured of a conveyor. */
export const CONVEYOR_MEASURES = {
  passed: count("Entities that set out", "Entities that set out on the link."),
  underWay: level("Under way", "Entities on the link"),
  doing: {
    label: "Share of time",
    statistic: "share",
    dimension: NUMBER,
    definition: "Share of time in which the belt does this; all together are 1.",
    formula: "(1/T) ∫ [the belt does it] dt",
    keeps: true,
    parts: { running: " running", stopped: " stopped at its end", offShift: " standing", down: " down" },
    definitions: {
      stopped: "One at the end could not go on, and the belt moves all it carries together.",
      offShift: "By its hours or its condition.",
    },
  },
  taken: level("Length taken", "Metres of the belt that entities take, with their gaps", { dimension: LENGTH }),
  delay: tally("Delay on the belt", "Time on the belt beyond that which one alone would take.", { better: "less" }),
} as const satisfies MeasureSpecs;

/** The belts of a model, by the index of their ways, and who stands at the end of which. */
export class Conveyors {
  private readonly belts = new Map<number, Belt>();
  private readonly list: Belt[] = [];
  /** By token: 1 + the place in the list of the belt at whose end it stands, 0 for none. */
  private standsOn = new Int32Array(256);
  private readonly precedenceOf: ((token: number) => number) | undefined;

  constructor(
    private readonly model: Model,
    private readonly kernel: Kernel,
    private readonly meters: Meters,
    private readonly expressions: Expressions,
    private readonly replication: Replication,
  ) {
    if (model.ways.some((way) => (way.settings.get("precedence")?.constant ?? 0) !== 0))
      this.precedenceOf = (token) => this.at(token)?.settings.precedence ?? 0;
    replication.atStart(() => this.standsOn.fill(0));
  }

  get isEmpty(): boolean {
    return this.list.length === 0;
  }

  /** The belt of a way; undefined of one that is no conveyor. */
  of(way: Way): Belt | undefined {
    if (way.link.kind !== "conveyor") return undefined;
    let belt = this.belts.get(way.index);
    if (!belt) {
      belt = this.make(way);
      this.belts.set(way.index, belt);
      this.list.push(belt);
    }
    return belt;
  }

  /** All, by the index of their ways. */
  each(): ReadonlyMap<number, Belt> {
    return this.belts;
  }

  /** A token stands at the end of a belt until it is let off. */
  stand(token: number, belt: Belt): void {
    if (token >= this.standsOn.length) this.standsOn = grown(this.standsOn, lengthFor(token, this.standsOn.length));
    this.standsOn[token] = 1 + belt.number;
    belt.arrive();
  }

  /** Lets a token off that stands at the end of a belt. */
  letOff(token: number): void {
    const belt = this.at(token);
    if (!belt) return;
    this.standsOn[token] = 0;
    belt.letOff();
  }

  /** A token that stands at the end of a belt waits there for room on a way. */
  waits(token: number, way: Way): void {
    const belt = this.at(token);
    const next = this.belts.get(way.index);
    if (!belt || !next) return;
    belt.waitFor(next);
    this.failIfJammed(belt);
  }

  /** Belts that are full, each waiting for the next, wait for ever: that is told, and who is in it. */
  failIfJammed(belt: Belt): void {
    const { jam } = belt;
    if (jam.length === 0) return;
    const { nodes, ways } = this.model;
    const names = jam.map((of) => {
      const way = ways.find(({ index }) => this.belts.get(index) === of)!;
      return `${nodes[way.from].element.name} to ${nodes[way.to].element.name}`;
    });
    const count = jam.reduce((sum, of) => sum + of.count, 0);
    this.kernel.fail({
      code: "jam",
      message: `A ring of full conveyors, ${names.join(", ")}, on each of which the first waits for the next: ${count} entities on them can never move again.`,
      hint: "Let fewer in than fit, or give those at one of their ends another way.",
      id: belt.settings.id,
      field: "kind",
    });
  }

  private at(token: number): Belt | undefined {
    return this.list[(this.standsOn[token] ?? 0) - 1];
  }

  private make(way: Way): Belt {
    const { meters, kernel, expressions, replication, model } = this;
    const { link, settings } = way;
    const name = `${model.nodes[way.from].element.name} to ${model.nodes[way.to].element.name}`;
    const measured = meters.of({ id: link.id, name }, "conveyor", CONVEYOR_MEASURES);
    const doing = BELT_DOING.map(() => meters.level());
    const taken = meters.level();
    BELT_DOING.forEach((part, i) => {
      measured.keeps("doing", { levels: [doing[i]], read: () => doing[i].value }, { part });
      measured.add("doing", () => doing[i].integral / meters.time, { part });
    });
    measured.level("taken", taken);
    const constant = (field: string, otherwise: number) => settings.get(field)?.constant ?? otherwise;
    const read = (field: string): Read | undefined =>
      settings.get(field)?.compile(expressions.environment(streamOf(link, field), link.id, field));
    const belt = new Belt(
      this.list.length,
      {
        id: link.id,
        length: constant("length", way.drawnLength),
        speed: constant("beltSpeed", 1),
        accumulates: link.accumulates !== false,
        precedence: constant("precedence", 0),
        room: read("beltRoom") ?? (() => 1),
      },
      { doing, taken },
      kernel,
      this.precedenceOf,
      model.nodes.length + way.index,
    );
    replication.atStart(() => belt.begin());
    this.byHours(way, belt);
    const every = read("beltEvery");
    const repair = read("beltRepair");
    if (every && repair) this.byBreakdowns(way, belt, every, repair);
    return belt;
  }

  /** It stands by its calendar, and while its condition holds. */
  private byHours({ link, settings }: Way, belt: Belt): void {
    const { kernel, expressions, replication, model } = this;
    const timetable = model.timetables.get(link.calendar ?? "");
    const stands = settings.get("beltStands");
    const holds = stands?.compile(expressions.environment(streamOf(link, "beltStands"), link.id, "beltStands"));
    const closing = { timetable, condition: stands, holds };
    closedBy(closing, (isOff) => belt.setOffShift(isOff), kernel, expressions, replication);
  }

  /** It breaks down when it has run for so long since its last repair. */
  private byBreakdowns({ link }: Way, belt: Belt, every: Read, repair: Read): void {
    const { kernel, replication } = this;
    const checked = (seconds: number, field: string): number => {
      if (!(seconds >= 0 && seconds < Infinity)) kernel.failDuration(seconds, link.id, field);
      return seconds;
    };
    const repaired = kernel.emit((token) => {
      belt.setDown(false);
      kernel.pool.setPc(token, fails);
      belt.afterRunning(token, checked(every(-1), "beltEvery"));
      return SUSPEND;
    });
    const fails = kernel.emit((token) => {
      belt.hasRun();
      belt.setDown(true);
      kernel.pool.setPc(token, repaired);
      kernel.delay(token, repair(-1), EventClass.activityEnd, link.id, "beltRepair");
      return SUSPEND;
    });
    replication.atStart(() => {
      const token = kernel.pool.take(NO_TYPE, fails, kernel.clock);
      belt.afterRunning(token, checked(every(-1), "beltEvery"));
    });
  }
}

/** What is done at the end of a conveyor. */
interface End {
  readonly model: Model;
  readonly kernel: Kernel;
  readonly meters: Meters;
  readonly presence: Presence;
  readonly places: Places;
  readonly entries: Int32Array;
  readonly conveyors: Conveyors;
  /** Room that a mover claims of the element at the end; undefined where all are let in. */
  readonly room: Claimable | undefined;
  /** Whether entities pass there in no time, and are let off once the way on from there is sure. */
  readonly passes: () => boolean;
}

/** What happens when an entity sets out on a conveyor, whose start it has claimed. */
export function onConveyor(way: Way, belt: Belt, end: End): Read {
  const { kernel, entries, presence, places, meters, conveyors, room } = end;
  const { pool } = kernel;
  const { to, link } = way;
  const name = `${end.model.nodes[way.from].element.name} to ${end.model.nodes[to].element.name}`;
  const measured = meters.of({ id: link.id, name }, "conveyor", CONVEYOR_MEASURES);
  const passed = meters.counter();
  const underWay = meters.level();
  const delay = meters.tally();
  measured.add("passed", () => passed.n);
  measured.level("underWay", underWay);
  measured.tally("delay", [delay]);
  const tracked = presence.isKept;
  const alone = belt.settings.length / belt.settings.speed;
  const place = places.on(way, 0, belt.settings.length);
  /** Of the time on the belt that beyond what one alone takes is not moving. */
  const credit = (token: number): void => {
    pool.credit(token, PART.moving, kernel.clock);
    const late = pool.credited[0] - alone;
    // Rounding alone makes nobody late.
    const delayed = late > 1e-9 * (1 + kernel.now) ? late : 0;
    delay.add(delayed);
    if (delayed === 0) return;
    pool.floats[(token << STRIDE_BITS) + PART.moving] -= delayed;
    pool.floats[(token << STRIDE_BITS) + PART.blocked] += delayed;
  };
  const goOn = (token: number): number => {
    underWay.add(-1);
    conveyors.letOff(token);
    return entries[to];
  };
  const granted = kernel.emit((token) => {
    pool.credit(token, PART.blocked, kernel.clock);
    return goOn(token);
  });
  // Known when all elements and rules are there.
  let passes: boolean | undefined;
  const atEnd = kernel.emit((token) => {
    credit(token);
    conveyors.stand(token, belt);
    if ((passes ??= end.passes())) {
      underWay.add(-1);
      belt.wait();
      pool.begin(token, place, kernel.clock);
      return entries[to];
    }
    if (!room || room.claim(token)) return goOn(token);
    belt.wait();
    pool.beginUntil(token, place, granted, kernel.clock);
    return SUSPEND;
  });
  return (token) => {
    passed.total += 1;
    if (tracked) presence.come(to);
    underWay.add(1);
    pool.beginUntil(token, place, atEnd, kernel.clock);
    belt.enter(token);
    // The last that fits may close a ring of belts that wait for one another.
    if (!belt.hasRoom) conveyors.failIfJammed(belt);
    return SUSPEND;
  };
}
