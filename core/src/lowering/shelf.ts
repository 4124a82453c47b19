import { WaitList } from "../kernel/claims.ts";
import { grown, lengthFor } from "../kernel/grown.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Level } from "../statistics/level.ts";
import type { Counter } from "./counter.ts";
import type { Meters } from "./meters.ts";
import type { Replication } from "./replication.ts";

/** What a shelf is made with. */
interface Parts {
  readonly kernel: Kernel;
  readonly meters: Meters;
  readonly replication: Replication;
}

/** How an order comes: it is on its way until `deliver` is called with it. */
export type Supply = (amount: number) => void;

/**
 * Units of one item: on hand, on order, and owed to those who wait for them. Position is what is on hand and on order
 * less what is owed (Silver, Pyke and Peterson 1998, section 7.4).
 */
export class Shelf {
  readonly onHand: Level;
  readonly onOrder: Level;
  readonly backorders: Level;
  readonly position: Level;
  /** 1 while nothing is on hand. */
  readonly out: Level;
  /** Units asked for, those of them given at once, and those not given at all. */
  readonly demanded: Counter;
  readonly metAtOnce: Counter;
  readonly lost: Counter;
  /** Units on hand that are set aside for somebody. */
  readonly reserved: Level;
  readonly orders: Counter;
  readonly waiting = new WaitList();
  /** How orders come; set by who knows of lead times and suppliers. */
  supply: Supply = (amount) => this.deliver(amount);
  /** Told after each demand, when the position has fallen. */
  reviewed: (() => void) | undefined;
  /** Told when an order is placed, when one has come, and when nothing is on hand any more. */
  onOrdered: (() => void) | undefined;
  onDelivered: (() => void) | undefined;
  onOut: (() => void) | undefined;
  /** By token: units that are set aside for it. */
  private readonly aside = new Map<number, number>();
  /** By token: the units it waits for. */
  private wanted = new Float64Array(256);

  constructor(
    readonly id: string,
    private readonly parts: Parts,
    /** Units on hand at the start. */
    initial: () => number,
  ) {
    const { meters, replication } = parts;
    this.onHand = meters.level();
    this.onOrder = meters.level();
    this.backorders = meters.level();
    this.position = meters.level();
    this.out = meters.level();
    this.demanded = meters.counter();
    this.metAtOnce = meters.counter();
    this.lost = meters.counter();
    this.reserved = meters.level();
    this.orders = meters.counter();
    replication.atStart(() => {
      this.waiting.reset();
      this.aside.clear();
      const units = initial();
      this.onHand.add(units);
      this.position.add(units);
      this.out.add(units > 0 ? 0 : 1);
    });
  }

  /** Whether so many units can be had now: nobody waits before. */
  has(amount: number): boolean {
    return this.waiting.length === 0 && this.onHand.value - this.reserved.value >= amount;
  }

  /** Units that are set aside for a token. */
  asideFor(token: number): number {
    return this.aside.get(token) ?? 0;
  }

  /** Sets units aside that can be had now: nobody else is given them. */
  reserve(token: number, amount: number): void {
    this.aside.set(token, this.asideFor(token) + amount);
    this.reserved.add(amount);
  }

  /** Units that were set aside for a token can be had by others again; tells how many. */
  unreserve(token: number, most = Infinity): number {
    const amount = Math.min(most, this.asideFor(token));
    if (amount === 0) return 0;
    this.forget(token, amount);
    this.serve();
    return amount;
  }

  /** Gives a token units of those that are set aside for it. */
  giveAside(token: number, amount: number): void {
    this.forget(token, amount);
    this.give(amount);
  }

  private forget(token: number, amount: number): void {
    const left = this.asideFor(token) - amount;
    if (left > 0) this.aside.set(token, left);
    else this.aside.delete(token);
    this.reserved.add(-amount);
  }

  /** Gives units that are there. */
  give(amount: number): void {
    this.demanded.total += amount;
    this.metAtOnce.total += amount;
    this.position.add(-amount);
    this.fall(amount);
    this.reviewed?.();
  }

  /** The token waits for units: it is resumed when it has them. */
  owe(token: number, amount: number): void {
    if (token >= this.wanted.length) this.wanted = grown(this.wanted, lengthFor(token, this.wanted.length));
    this.wanted[token] = amount;
    this.demanded.total += amount;
    this.backorders.add(amount);
    this.position.add(-amount);
    this.waiting.append(this.parts.kernel, token);
    this.reviewed?.();
  }

  /** A demand that is not met, nor waited for. */
  lose(amount: number): void {
    this.demanded.total += amount;
    this.lost.total += amount;
  }

  /** The token waits no longer: what it was owed is lost. */
  withdraw(token: number): void {
    const amount = this.wanted[token];
    this.waiting.remove(this.parts.kernel, token);
    this.backorders.add(-amount);
    this.position.add(amount);
    this.lost.total += amount;
    // Who stands behind it may want less.
    this.serve();
  }

  /** Units come that nobody has ordered. */
  put(amount: number): void {
    this.position.add(amount);
    this.rise(amount);
  }

  /** An order is placed: it comes as `supply` says. */
  order(amount: number): void {
    if (!(amount > 0)) return;
    this.orders.total += 1;
    this.onOrder.add(amount);
    this.position.add(amount);
    this.onOrdered?.();
    this.supply(amount);
  }

  /** An order has come. */
  deliver(amount: number): void {
    this.onOrder.add(-amount);
    this.rise(amount);
    this.onDelivered?.();
  }

  private rise(amount: number): void {
    if (this.onHand.value <= 0 && amount > 0) this.out.set(0);
    this.onHand.add(amount);
    this.serve();
  }

  private fall(amount: number): void {
    const before = this.onHand.value;
    this.onHand.add(-amount);
    if (before > 0 && this.onHand.value <= 0) {
      this.out.set(1);
      this.onOut?.();
    }
  }

  /** Who waited longest is served first, and nobody before. */
  private serve(): void {
    const { kernel } = this.parts;
    while (this.waiting.head >= 0 && this.onHand.value - this.reserved.value >= this.wanted[this.waiting.head]) {
      const token = this.waiting.shift(kernel);
      const amount = this.wanted[token];
      this.backorders.add(-amount);
      this.fall(amount);
      kernel.resume(token);
    }
  }
}

/** Orders that come after a time. */
export function supplyAfter(shelf: Shelf, { kernel, replication }: Parts, lead: () => number, id: string): Supply {
  let amounts = new Float64Array(256);
  const arrive = kernel.emit((token) => {
    kernel.pool.release(token);
    shelf.deliver(amounts[token]);
    return SUSPEND;
  });
  replication.atStart(() => amounts.fill(0));
  return (amount) => {
    const time = lead();
    if (time === 0) {
      shelf.deliver(amount);
      return;
    }
    const token = kernel.pool.take(NO_TYPE, arrive, kernel.clock);
    if (token >= amounts.length) amounts = grown(amounts, lengthFor(token, amounts.length));
    amounts[token] = amount;
    kernel.delay(token, time, EventClass.activityEnd, id, "lead");
  };
}

/** The shelves of a model, by the elements that they are of. */
export class Shelves {
  private readonly shelves = new Map<string, Shelf>();

  add(shelf: Shelf): void {
    this.shelves.set(shelf.id, shelf);
  }

  /** Nothing is set aside for a token any more. */
  forget(token: number): void {
    for (const shelf of this.shelves.values()) shelf.unreserve(token);
  }

  of(id: string): Shelf | undefined {
    return this.shelves.get(id);
  }
}
