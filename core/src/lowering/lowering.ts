import type { Checked } from "../expression/index.ts";
import type { Kernel } from "../kernel/kernel.ts";
import { byLink, type Model, type Node } from "../model/model.ts";
import type { Streams } from "../random/streams.ts";
import { endOnCondition } from "./endOnCondition.ts";
import { EntityWalks } from "./entityWalks.ts";
import { Events } from "./events.ts";
import { Expressions } from "./expressions.ts";
import { Conveyors } from "./conveyor.ts";
import type { Fleet } from "./fleet.ts";
import { Lines } from "./lines.ts";
import { Meters } from "./meters.ts";
import { Network } from "./network.ts";
import { Places } from "./places.ts";
import { provideCells } from "./cells.ts";
import { Population } from "./population.ts";
import { Presence } from "./presence.ts";
import { Replication } from "./replication.ts";
import { Resources } from "./resources.ts";
import { Shelves } from "./shelf.ts";
import { Shown } from "./shown.ts";
import { Traffic } from "./traffic.ts";
import { provideElementAttributes, Variables } from "./variables.ts";
import { Watching } from "./watching.ts";

/**
 * What kinds of elements build with: the step programs and meters of a model, made once for all replications run with
 * them. It knows links, ways out, claims and births, and nothing of any kind. Each part holds one idea.
 *
 * One entity's path, from arrivals A over a link to a station S and on to departures D, as an example:
 *
 * 1. A is *prepared* (its counters, figures and readers are made), then S and D; only then are they *lowered*, so
 *    that each finds what the others have declared, such as the room that S lets in (`network.admit`).
 * 2. A emits two steps for a process of its own. The calendar holds that process until the first arrival; its step
 *    makes an entity (`population.birth`: a token is taken, its attributes are drawn, the type's meter counts it) that
 *    goes on with the step `born`, and asks the calendar for the next arrival.
 * 3. `born` is what `network.leave` gave A: it chooses a way, claims the room of the element that it leads to, and
 *    sets out (`settingOut`). Over a direct link the next step is S's first, `network.entries`; over one that takes
 *    time the token is put into the calendar, and its place is "moving" on the link.
 * 4. S's first step claims a slot. Where none is free the token stands in a list and suspends; whoever gives a slot
 *    back hands it on, and the kernel resumes the token with the step `begin`. Work is a stay in the calendar, after
 *    which the step `finish` gives the slot back once the way on from S is sure.
 * 5. D's only step tallies its time in the system, and gives the token back to the pool.
 *
 * Every number on the way is read from meters: `meters.level` follows a count over time, `meters.tally` observes.
 */
export class Lowering {
  readonly replication: Replication;
  readonly meters: Meters;
  readonly expressions: Expressions;
  readonly resources: Resources;
  readonly presence: Presence;
  readonly population: Population;
  readonly network: Network;
  readonly events = new Events();
  /** Lines that steps look through and change. */
  readonly lines = new Lines();
  /** Units of stock points. */
  readonly shelves = new Shelves();
  readonly places: Places;
  /** Vehicles, by the ids of their elements. */
  readonly fleets = new Map<string, Fleet>();
  /** Who is on the ways that are drawn, where others count. */
  readonly traffic: Traffic;
  /** Entities that steps have walk. */
  readonly walks: EntityWalks;
  /** What is shown of elements while watching. */
  readonly shown = new Shown();
  private readonly watching: Watching;

  constructor(
    readonly model: Model,
    readonly kernel: Kernel,
    streams: Streams,
    /** Expressions whose changes somebody is told of: see `Expressions.onChangeOf`. */
    followed: readonly Checked[],
  ) {
    const { nodes } = model;
    const asked = nodes.some(
      ({ element, out }) =>
        element.wayOut === "shortest line" ||
        byLink(out).some((ways) => ways.length > 1 && (ways[0].link.among ?? "shortest line") === "shortest line"),
    );
    this.watching = new Watching(kernel, nodes, followed);
    const places = new Places(nodes.length);
    this.places = places;
    this.presence = new Presence(nodes.length, asked);
    this.replication = new Replication(kernel, model.stop.count);
    this.meters = new Meters(kernel, this.watching);
    this.expressions = new Expressions(model, kernel, streams, this.replication, this.watching);
    new Variables(model.variables, this.expressions, this.replication);
    provideCells(model.tables, this.expressions, this.replication);
    provideElementAttributes(model.elementAttributes, this.expressions, this.replication);
    const indexOf = new Map(nodes.map(({ element, index }) => [element.id, index]));
    this.resources = new Resources(kernel, this.replication, (token, id) => {
      const index = indexOf.get(id);
      if (index !== undefined) return index;
      // Steps ask where the entity is for which they are done.
      if (kernel.pool.typeOf(token) < 0 || kernel.pool.placeOf(token) < 0) return -1;
      const { at } = places.get(kernel.pool.placeOf(token));
      return at < nodes.length ? at : model.ways[at - nodes.length].to;
    });
    const { meters, expressions, resources, presence, replication, events } = this;
    this.traffic = new Traffic(model, kernel, meters, expressions, replication);
    this.walks = new EntityWalks(model, kernel, this.traffic, replication);
    this.population = new Population(model, kernel, meters, expressions, resources, presence, replication);
    this.network = new Network(
      model,
      kernel,
      meters,
      expressions,
      replication,
      presence,
      this.population,
      events,
      places,
      this.fleets,
      new Conveyors(model, kernel, meters, expressions, replication),
      resources,
      this.traffic,
      this.walks,
    );
  }

  /** Does `prepare` for an element; what is measured in it then tells those who watch the element. */
  prepare<T>(node: Node, prepare: () => T): T {
    this.watching.element = node.index;
    const result = prepare();
    this.watching.element = -1;
    return result;
  }

  /** Metres from one element straight to another, by their indices. */
  metresBetween(from: number, to: number): number {
    const { nodes } = this.model;
    const [[x0, y0], [x1, y1]] = [nodes[from].element.at, nodes[to].element.at];
    return Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2);
  }

  /** Tells those who follow an element that it was changed by steps; undefined where nobody does. */
  changeTeller({ index }: Node): (() => void) | undefined {
    return this.watching.changeTeller(index);
  }

  /** To be done when all elements are lowered. */
  finish(): void {
    this.population.finish();
    this.traffic.lower();
    endOnCondition(this.model, this.expressions, this.replication);
    this.network.finish();
  }

  /** Begins a replication: all that the steps and meters keep is as if none had run before. */
  begin(seed: number, replication: number, mirrored = false): void {
    this.watching.quiet = true;
    this.expressions.begin(seed, replication, mirrored);
    this.presence.reset();
    this.meters.reset();
    this.replication.begin();
    this.watching.quiet = false;
    this.replication.fillUp();
  }
}
