import { type Kernel, SUSPEND } from "../kernel/kernel.ts";
import type { Model, Node } from "../model/model.ts";
import { Contents } from "./contents.ts";
import type { Expressions } from "./expressions.ts";
import type { Meters } from "./meters.ts";
import type { Presence } from "./presence.ts";
import type { Replication } from "./replication.ts";
import type { Resources } from "./resources.ts";
import type { Tally } from "../statistics/tally.ts";
import { Transport } from "./transport.ts";
import { EntityTypeMeter } from "./typeMeter.ts";

/** Entities: how they are born, what they carry, and how they end. */
export class Population {
  readonly typeMeters: readonly EntityTypeMeter[];
  private carried: Contents | undefined;
  /** By type: times in the system of those who leave where steps have them leave. */
  private readonly exits: (Tally | undefined)[] = [];
  /** Told of each entity that is about to leave, by the index of the element, as long as somebody wants to know. */
  departing: ((token: number, node: number) => void) | undefined;

  constructor(
    private readonly model: Model,
    private readonly kernel: Kernel,
    meters: Meters,
    private readonly expressions: Expressions,
    private readonly resources: Resources,
    private readonly presence: Presence,
    private readonly replication: Replication,
  ) {
    this.typeMeters = model.types.map((type) => new EntityTypeMeter(type.type, meters, model, kernel));
  }

  /** How long entities waited to be carried, and were, where something carries them. */
  private transport: Transport | undefined;

  keepTransport(): Transport {
    return (this.transport ??= new Transport());
  }

  /** What entities carry. */
  get contents(): Contents {
    if (!this.carried) {
      const contents = new Contents(this.kernel);
      this.carried = contents;
      this.replication.atStart(() => contents.reset());
    }
    return this.carried;
  }

  /**
   * How entities of a type are born: a function that makes one, which goes on at step `pc`, and returns it; -1 when
   * there are too many.
   */
  birth(type: number): (pc: number) => number {
    const { kernel, model, resources } = this;
    const meter = this.typeMeters[type];
    const attributes = model.types[type].attributes.map(({ slot, value, stream }) => ({
      slot,
      value: value.compile(this.expressions.environment(stream)),
    }));
    const own = new Set(attributes.map(({ slot }) => slot));
    const others = Array.from({ length: model.attributeCount }, (_, slot) => slot).filter((slot) => !own.has(slot));
    if (model.attributeCount === 0 && !model.carries) {
      // Nothing to be set but what all have: the shortest way.
      let standing = resources.keptStanding;
      this.replication.atStart(() => (standing = resources.keptStanding));
      return (pc) => {
        const token = kernel.makeEntity(type, pc);
        if (token < 0) return token;
        if (standing) standing.clear(token);
        if (this.transport) this.transport.clear(token);
        meter.enter();
        if (meter.onBirth) meter.onBirth(token);
        return token;
      };
    }
    return (pc) => {
      const token = kernel.makeEntity(type, pc);
      if (token < 0) return token;
      // A token is used again: what an entity of another type had is gone.
      for (let i = 0; i < others.length; i++)
        kernel.pool.attributes[token * model.attributeCount + others[i]] = Number.NaN;
      if (model.route) kernel.pool.attributes[token * model.attributeCount + model.route.stepSlot] = 0;
      this.carried?.clear(token, false);
      resources.keptStanding?.clear(token);
      this.transport?.clear(token);
      meter.enter();
      for (let i = 0; i < attributes.length; i++) {
        kernel.pool.attributes[token * model.attributeCount + attributes[i].slot] = attributes[i].value(token);
      }
      if (meter.onBirth) meter.onBirth(token);
      return token;
    };
  }

  /** An entity ends at an element without leaving the system by a way out: it is part of another, or pieces, now. */
  endInside(token: number, node: Node): void {
    const { pool } = this.kernel;
    this.carried?.takeOut(token, (member) => {
      this.presence.come(node.index);
      this.endInside(member, node);
    });
    this.typeMeters[pool.typeOf(token)].consume();
    this.presence.gone(node.index);
    pool.release(token);
  }

  /** The entity leaves the system where it is, and counts as departed. */
  depart(token: number, node: Node): number {
    const { pool } = this.kernel;
    // What it still carries leaves with it.
    this.carried?.takeOut(token, (member) => {
      this.presence.come(node.index);
      this.depart(member, node);
    });
    const type = pool.typeOf(token);
    const exit = (this.exits[type] ??= this.typeMeters[type].exit());
    this.departing?.(token, node.index);
    exit.add(this.kernel.now - pool.bornAt(token));
    this.typeMeters[type].depart(token, this.carried);
    this.replication.countDeparture();
    this.presence.gone(node.index);
    pool.release(token);
    return SUSPEND;
  }

  /** The entity leaves the system unserved, for want of room. */
  lose(token: number, node: Node): number {
    const { pool } = this.kernel;
    this.carried?.takeOut(token, (member) => {
      this.presence.come(node.index);
      this.lose(member, node);
    });
    this.typeMeters[pool.typeOf(token)].lose(token);
    this.presence.gone(node.index);
    pool.release(token);
    return SUSPEND;
  }

  /** To be done when all elements are lowered, as it is known then whether any work can stand still. */
  finish(): void {
    const standing = this.resources.keptStanding;
    for (const meter of this.typeMeters) {
      if (standing) meter.countStanding(standing);
      if (this.transport) meter.countTransport(this.transport);
      meter.finish(this.typeMeters.length);
    }
  }
}
