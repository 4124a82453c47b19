import { type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import type { Model } from "../model/model.ts";
import { Legs } from "./legs.ts";
import { Movers } from "./movers.ts";
import type { Places } from "./places.ts";
import type { Replication } from "./replication.ts";
import type { Traffic } from "./traffic.ts";

/** An entity that steps have walk, as it is now. */
export interface EntityWalk {
  readonly token: number;
  readonly from: number;
  readonly to: number;
  readonly overWays: boolean;
  /** Metres along its way now, where its stretch ends, and when it is there; NaN where others hold it up. */
  readonly at: number;
  readonly end: number;
  readonly until: number;
}

/** Entities that steps have walk from one element to another, straight or over the ways that are drawn. */
export class EntityWalks {
  private readonly straight: Walks;
  private readonly overWays: Walks;

  constructor(model: Model, kernel: Kernel, traffic: Traffic, places: Places, replication: Replication) {
    const walks = (overWays: boolean) => new Walks(overWays, model, kernel, traffic, places);
    this.straight = walks(false);
    this.overWays = walks(true);
    replication.atStart(() => {
      this.straight.reset();
      this.overWays.reset();
    });
  }

  /** Sends a token on its way, after which it goes on with a step. */
  walk(token: number, from: number, to: number, overWays: boolean, metresASecond: number, then: number): void {
    (overWays ? this.overWays : this.straight).walk(token, from, to, metresASecond, then);
  }

  *walks(now: number): Generator<EntityWalk> {
    yield* this.straight.walks(now);
    yield* this.overWays.walks(now);
  }
}

class Walks {
  private readonly movers: Movers;
  private readonly onward: number;
  /** The place of each among the movers, by token, and the step with which it goes on. */
  private readonly at = new Map<number, number>();
  private readonly then: number[] = [];
  private free: number[] = [];

  constructor(
    private readonly overWays: boolean,
    model: Model,
    private readonly kernel: Kernel,
    traffic: Traffic,
    private readonly places: Places,
  ) {
    this.movers = new Movers(0, new Legs(model, { overWays }), kernel, traffic, {
      id: "",
      field: "",
      arrived: (i) => this.arrived(i),
    });
    this.onward = kernel.emit((token) => {
      this.movers.next(this.at.get(token)!);
      return SUSPEND;
    });
  }

  reset(): void {
    this.at.clear();
    this.free = Array.from({ length: this.movers.count }, (_, i) => i);
  }

  walk(token: number, from: number, to: number, metresASecond: number, then: number): void {
    const { kernel, movers } = this;
    if (this.free.length === 0) {
      const before = movers.count;
      movers.grow(Math.max(16, 2 * before));
      for (let i = movers.count - 1; i >= before; i--) this.free.push(i);
    }
    const i = this.free.pop()!;
    this.at.set(token, i);
    this.then[i] = then;
    kernel.pool.beginUntil(token, this.places.walkingTo(to), this.onward, kernel.clock);
    movers.begin(i, from, token);
    movers.go(i, to, metresASecond);
  }

  *walks(now: number): Generator<EntityWalk> {
    for (const [token, i] of this.at) {
      const motion = this.movers.motionOf(i, now);
      const { from, at: to } = this.movers;
      if (motion) yield { token, from: from[i], to: to[i], overWays: this.overWays, ...motion };
    }
  }

  private arrived(i: number): void {
    const { kernel, movers } = this;
    const token = movers.tokens[i];
    this.at.delete(token);
    this.free.push(i);
    kernel.pool.credit(token, PART.moving, kernel.clock);
    kernel.pool.setPc(token, this.then[i]);
    kernel.resume(token);
  }
}
