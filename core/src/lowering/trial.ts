import { UNIT } from "./units.ts";
import type { Need, Pool } from "./need.ts";

/** A claim that is tried: its rows, what each wants, and of which pools. */
export interface Claim {
  eachRow(token: number, act: (need: Need, row: number) => void): void;
  countOf(need: Need, token: number): number;
  poolsFor(token: number, row: number, need: Need): readonly Pool[];
  /** Index of the element at which a token asks. */
  whereAsked(token: number): number;
}

/** A unit that a row wants, any one that will do. */
interface Wanted {
  readonly row: number;
  readonly pool: Pool;
  readonly able: Need["able"];
}

/**
 * Whether a claim as a whole can be met by what is free: from which pool each row, and, where rows say who can do it,
 * by which units. Those are matched to all rows at once, by augmenting paths (Berge 1957), so that nobody who alone
 * can do one thing is set aside for another.
 */
export class Trial {
  /** By row, the pool from which it would be met. */
  readonly pools: Pool[] = [];
  /** By row, the units that would meet it, where a row of the claim says who can; else empty. */
  readonly units: number[][] = [];
  /** Pools in which units are set aside. */
  private readonly setAside: Pool[] = [];
  private wanted: Wanted[] = [];
  /** By unit of all pools, the place in `wanted` of what it is matched to. */
  private matched = new Map<number, number>();
  private token = -1;
  private alsoFree: ReadonlySet<number> | undefined;

  constructor(private readonly claim: Claim) {}

  /** Whether all that a token wants is free now, with what the tokens in `alsoFree` hold counted as free. */
  fits(token: number, isSkilled: boolean, alsoFree?: ReadonlySet<number>): boolean {
    const { claim } = this;
    let good = true;
    if (isSkilled) {
      this.token = token;
      this.alsoFree = alsoFree;
      this.wanted = [];
      this.matched.clear();
    }
    claim.eachRow(token, (need, row) => {
      if (!good) return;
      const count = claim.countOf(need, token);
      const pool = this.bestOf(token, need, row, claim.poolsFor(token, row, need), count, isSkilled);
      if (!pool) good = false;
      else {
        this.reserve(pool, count);
        if (isSkilled) this.want(pool, need, row, count);
        this.pools[row] = pool;
      }
    });
    this.forgetReserved();
    if (good && isSkilled) this.tellUnits(token);
    return good;
  }

  reserve(pool: Pool, count: number): void {
    pool.reserved += count;
    this.setAside.push(pool);
  }

  forgetReserved(): void {
    for (let pool = this.setAside.pop(); pool; pool = this.setAside.pop()) pool.reserved = 0;
  }

  /** The pool that a row is met from. */
  private bestOf(
    token: number,
    need: Need,
    row: number,
    pools: readonly Pool[],
    count: number,
    isSkilled: boolean,
  ): Pool | undefined {
    const { prefers } = need;
    const enough = (pool: Pool) =>
      isSkilled ? this.could(pool, need, row, count) : pool.units.free - pool.reserved >= count;
    if (!prefers) return pools.find(enough);
    let best: Pool | undefined;
    let least = Infinity;
    for (const pool of pools) {
      if (!enough(pool)) continue;
      const worth = prefers(token, pool);
      if (best && !(worth < least)) continue;
      least = worth;
      best = pool;
    }
    return best;
  }

  private could(pool: Pool, need: Need, row: number, count: number): boolean {
    const [wanted, matched] = [this.wanted.length, new Map(this.matched)];
    const good = this.want(pool, need, row, count);
    this.wanted.length = wanted;
    this.matched = matched;
    return good;
  }

  /** Wants so many more of a pool; false where there are not enough who can. */
  private want(pool: Pool, { able }: Need, row: number, count: number): boolean {
    for (let i = 0; i < count; i++) {
      this.wanted.push({ row, pool, able });
      if (!this.match(this.wanted.length - 1)) return false;
    }
    return true;
  }

  private match(index: number): boolean {
    const { pool, able } = this.wanted[index];
    const { token, matched } = this;
    const first = pool.who?.choose(
      this.claim.whereAsked(token),
      (unit) => !matched.has(pool.base + unit) && (able?.(token, pool, unit) ?? true),
    );
    if (first === undefined || first < 0) return this.augment(index, new Set());
    matched.set(pool.base + first, index);
    return true;
  }

  private augment(index: number, tried: Set<number>): boolean {
    const { pool, able } = this.wanted[index];
    for (let unit = 0; unit < pool.units.count; unit++) {
      const at = pool.base + unit;
      if (tried.has(at) || !this.isFree(pool, unit) || (able && !able(this.token, pool, unit))) continue;
      tried.add(at);
      const other = this.matched.get(at);
      if (other !== undefined && !this.augment(other, tried)) continue;
      this.matched.set(at, index);
      return true;
    }
    return false;
  }

  /** The least of something over the units of a pool that would be given. */
  nearest(of: Pool, metresTo: (unit: number) => number): number {
    let least = Infinity;
    this.pools.forEach((pool, row) => {
      if (pool === of) for (const unit of this.units[row] ?? []) least = Math.min(least, metresTo(unit));
    });
    return least;
  }

  private isFree({ units }: Pool, unit: number): boolean {
    if (units.state[unit] === UNIT.idle) return true;
    return !units.isStopped(unit) && (this.alsoFree?.has(units.occupant[unit]) ?? false);
  }

  private tellUnits(token: number): void {
    this.claim.eachRow(token, (_, row) => (this.units[row] = []));
    for (const [unit, index] of this.matched) {
      const { row, pool } = this.wanted[index];
      this.units[row].push(unit - pool.base);
    }
  }
}
