import { type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import type { Model } from "../model/model.ts";
import type { Point } from "../settings/parts.ts";
import { type Going, Legs } from "./legs.ts";
import { Movers } from "./movers.ts";
import type { Replication } from "./replication.ts";
import type { Traffic } from "./traffic.ts";

/** An entity that walks by itself, as it is now. */
export interface EntityWalk {
  readonly token: number;
  readonly from: number;
  readonly to: number;
  readonly overWays: boolean;
  /** Metres along its way now, where its stretch ends, and when it is there; NaN where others hold it up. */
  readonly at: number;
  readonly end: number;
  readonly until: number;
  /** The way it goes, where that may be another than it would be now. */
  readonly points: readonly Point[] | undefined;
}

/** From which element one walks to which, how fast, and the numbers of its places under way and held up there. */
export interface Walk {
  readonly from: number;
  readonly to: number;
  readonly metresASecond: number;
  readonly place: number;
  readonly heldPlace: number;
}

/** Entities that walk from one element to another: where steps have them, or links that lead now here, now there. */
export class EntityWalks {
  private readonly kinds: Walks[] = [];

  constructor(
    private readonly model: Model,
    private readonly kernel: Kernel,
    private readonly traffic: Traffic,
    private readonly replication: Replication,
  ) {}

  /** Those who go in the same manner; to be asked for while the model is lowered. */
  by(going: Going): Walks {
    const known = this.kinds.find((kind) => kind.isOf(going));
    if (known) return known;
    const walks = new Walks(going, this.model, this.kernel, this.traffic);
    this.kinds.push(walks);
    this.replication.atStart(() => walks.reset());
    return walks;
  }

  *walks(now: number): Generator<EntityWalk> {
    for (const kind of this.kinds) yield* kind.walks(now);
  }
}

class Walks {
  private readonly movers: Movers;
  private readonly onward: number;
  /** The place of each among the movers, by token; where it is meanwhile, and the step with which it goes on. */
  private readonly at = new Map<number, number>();
  private readonly goes: Walk[] = [];
  private readonly then: number[] = [];
  private free: number[] = [];

  constructor(
    private readonly going: Going,
    model: Model,
    private readonly kernel: Kernel,
    traffic: Traffic,
  ) {
    this.movers = new Movers(0, new Legs(model, going, traffic), kernel, traffic, {
      id: "",
      field: "",
      arrived: (i) => this.arrived(i),
      held: (i, isHeld) => this.held(i, isHeld),
    });
    this.onward = kernel.emit((token) => {
      this.movers.next(this.at.get(token)!);
      return SUSPEND;
    });
  }

  isOf({ overWays, quickestAt }: Going): boolean {
    return this.going.overWays === overWays && this.going.quickestAt === quickestAt;
  }

  reset(): void {
    this.at.clear();
    this.free = Array.from({ length: this.movers.count }, (_, i) => i);
  }

  /** Sends a token on its way, after which it goes on with a step. */
  walk(token: number, walk: Walk, then: number): void {
    const { kernel, movers } = this;
    if (this.free.length === 0) {
      const before = movers.count;
      movers.grow(Math.max(16, 2 * before));
      for (let i = movers.count - 1; i >= before; i--) this.free.push(i);
    }
    const i = this.free.pop()!;
    this.at.set(token, i);
    this.goes[i] = walk;
    this.then[i] = then;
    kernel.pool.beginUntil(token, walk.place, this.onward, kernel.clock);
    movers.begin(i, walk.from, token);
    movers.go(i, walk.to, walk.metresASecond);
  }

  *walks(now: number): Generator<EntityWalk> {
    for (const [token, i] of this.at) {
      const motion = this.movers.motionOf(i, now);
      const { from, at: to } = this.movers;
      if (motion) yield { token, from: from[i], to: to[i], overWays: this.going.overWays, ...motion };
    }
  }

  /** Others are in its way, and are no more. */
  private held(i: number, isHeld: boolean): void {
    const { pool, clock } = this.kernel;
    const token = this.movers.tokens[i];
    pool.credit(token, isHeld ? PART.moving : PART.blocked, clock);
    const { place, heldPlace } = this.goes[i];
    pool.beginUntil(token, isHeld ? heldPlace : place, this.onward, clock);
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
