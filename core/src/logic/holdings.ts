import { WaitList } from "../kernel/claims.ts";
import { NEXT, STRIDE_BITS } from "../kernel/pool.ts";
import type { Lowering } from "../lowering/lowering.ts";

/** Who waits for an entity that is kept: the key it asks for, and what it does with one that fits. */
interface Taker {
  readonly token: number;
  readonly key: number;
  /** Whether an entity will do. */
  fits(entity: number): boolean;
  /** It has it: the taker is told, and goes on. */
  give(entity: number): void;
}

/** A waiting place by its name: entities are kept in it, apart by a key where one is given, until they are taken. */
export class Holding {
  private readonly kept = new Map<number, WaitList>();
  private takers: Taker[] = [];

  constructor(private readonly lowering: Lowering) {}

  reset(): void {
    for (const list of this.kept.values()) list.reset();
    this.takers = [];
  }

  /** Keeps a token that must suspend; whoever has waited longest for one like it has it at once. */
  keep(token: number, key: number): void {
    const at = this.takers.findIndex((taker) => taker.key === key && taker.fits(token));
    if (at >= 0) {
      const [taker] = this.takers.splice(at, 1);
      taker.give(token);
      return;
    }
    this.listOf(key).append(this.lowering.kernel, token);
  }

  /** A token is kept no longer. */
  leave(token: number, key: number): void {
    this.listOf(key).remove(this.lowering.kernel, token);
  }

  /** The one of those kept, in the order of coming, that `better` prefers to all before it; -1 for none. */
  find(key: number, fits: (token: number) => boolean, better: ((token: number) => number) | undefined): number {
    const { ints } = this.lowering.kernel.pool;
    let best = -1;
    let bestValue = 0;
    for (let token = this.listOf(key).head; token >= 0; token = ints[(token << STRIDE_BITS) + NEXT]) {
      if (!fits(token)) continue;
      if (!better) return token;
      const value = better(token);
      if (best < 0 || value < bestValue) [best, bestValue] = [token, value];
    }
    return best;
  }

  wait(taker: Taker): void {
    this.takers.push(taker);
  }

  /** A taker waits no longer. */
  forget(token: number): void {
    this.takers = this.takers.filter((taker) => taker.token !== token);
  }

  /** The one that has been kept longest. */
  firstOf(key: number): number {
    return this.listOf(key).head;
  }

  countOf(key: number): number {
    return this.listOf(key).length;
  }

  /** Takes out the one that has been kept longest. */
  shift(key: number): number {
    return this.listOf(key).shift(this.lowering.kernel);
  }

  private listOf(key: number): WaitList {
    let list = this.kept.get(key);
    if (!list) this.kept.set(key, (list = new WaitList()));
    return list;
  }
}

/** Waiting places of a model, by their names. */
export class Holdings {
  private readonly holdings = new Map<string, Holding>();

  constructor(private readonly lowering: Lowering) {
    lowering.replication.atStart(() => {
      for (const holding of this.holdings.values()) holding.reset();
    });
  }

  of(name: string): Holding {
    let holding = this.holdings.get(name);
    if (!holding) this.holdings.set(name, (holding = new Holding(this.lowering)));
    return holding;
  }
}
