import { grown, lengthFor } from "../kernel/grown.ts";
import { NONE_LEFT, RequestList } from "../kernel/requestList.ts";
import type { Kernel } from "../kernel/kernel.ts";
import type { Read } from "../expression/index.ts";
import type { ResourcePool } from "./resourcePool.ts";
import type { Work } from "../kernel/work.ts";

/** One row of what work needs: so many of any one of these resources. */
export interface Need {
  /** The preferred first. */
  readonly anyOf: readonly ResourcePool[];
  readonly count: Read;
}

/** Who asks, and is told what becomes of units it holds. */
export interface Asker {
  /** The element, to which failures lead. */
  readonly id: string;
  readonly needs: readonly Need[];
  /** Whether work of higher priority may take units away from it. */
  readonly yields: boolean;
  /** All units were taken away for work of higher priority; it waits in line for them again. */
  lost?(token: number): void;
  /** It has them again. */
  regained?(token: number): void;
  /** A unit it holds has broken down. */
  broken?(token: number): void;
}

/**
 * Claims of resources: several at once and all or none, each from any one of some alternatives. Who
 * cannot have all it needs holds nothing and waits in the line of every resource that would do; when units come free, the line
 * is looked through in its order (highest priority, then who asked first or last), and who can have all it needs has it.
 * So a small claim may go before a large one that cannot be met yet.
 */
export class Requests {
  private readonly list = new RequestList<ResourcePool>();
  private readonly dirty: ResourcePool[] = [];
  private busy = false;
  private asked = 0;
  private granted = 0;
  /** By token. */
  private askers: (Asker | undefined)[] = [];
  private wanted = new Int32Array(256);
  private priority = new Float64Array(256);
  private order = new Float64Array(256);
  private since = new Float64Array(256);
  private when = new Float64Array(256);
  private firstHeld = new Int32Array(256).fill(-1);
  private preempted = new Uint8Array(256);
  /** By unit of all pools together. */
  private nextHeld: number[] = [];
  private rowOf: number[] = [];
  private readonly poolOf: ResourcePool[] = [];
  /** What a trial found: the pool for each row, and the pools it set units aside in. */
  private readonly chosen: ResourcePool[] = [];
  private readonly setAside: ResourcePool[] = [];

  constructor(
    private readonly kernel: Kernel,
    private readonly work: Work,
  ) {}

  /** Adds a pool of `count` units; returns the number of its first unit among all. */
  add(pool: ResourcePool, count: number): number {
    const base = this.poolOf.length;
    for (let i = 0; i < count; i++) this.poolOf.push(pool);
    return base;
  }

  reset(): void {
    this.list.reset();
    this.dirty.length = 0;
    this.busy = false;
    this.asked = 0;
    this.granted = 0;
    this.askers = [];
    this.wanted.fill(0);
    this.firstHeld.fill(-1);
    this.preempted.fill(0);
    this.nextHeld = new Array<number>(this.poolOf.length).fill(-1);
    this.rowOf = new Array<number>(this.poolOf.length).fill(0);
  }

  /** Rows of its needs, as bits, of which the token holds units. */
  held(token: number): number {
    if (token >= this.firstHeld.length) return 0;
    let rows = 0;
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit]) rows |= 1 << this.rowOf[unit];
    return rows;
  }

  /** Whether it holds units or waits for some. */
  concerns(token: number): boolean {
    return token < this.firstHeld.length && (this.firstHeld[token] >= 0 || this.list.firstOf(token) !== NONE_LEFT);
  }

  /**
   * Claims the rows of needs in `rows`, as bits. True when they were all given at once; else the
   * token waits, must suspend, and is resumed when it has them.
   */
  ask(token: number, asker: Asker, rows: number, priority: number): boolean {
    this.reach(token);
    if (Number.isNaN(priority)) {
      this.kernel.fail({ code: "bad-rank", message: "gave no number to ask by.", hint: "Look for a division of 0 by 0.", id: asker.id, field: "priority", value: priority });
      return false;
    }
    this.askers[token] = asker;
    this.wanted[token] = rows;
    this.priority[token] = priority;
    this.order[token] = ++this.asked;
    this.since[token] = this.kernel.now;
    if (this.fits(token)) {
      this.give(token);
      return true;
    }
    if (this.makeWay(token)) return true;
    this.wait(token);
    return false;
  }

  /** Gives back what the token holds of `rows`, or stops waiting. */
  free(token: number, rows = -1): void {
    if (token >= this.firstHeld.length) return;
    this.withdraw(token);
    let before = -1;
    const outer = this.begin();
    for (let unit = this.firstHeld[token]; unit >= 0; ) {
      const next = this.nextHeld[unit];
      if ((rows >> this.rowOf[unit]) & 1) {
        if (before < 0) this.firstHeld[token] = next;
        else this.nextHeld[before] = next;
        const pool = this.poolOf[unit];
        pool.units.vacate(unit - pool.base);
      } else before = unit;
      unit = next;
    }
    this.finish(outer);
  }

  /** Units of the pool came free: those in line are looked at. */
  serve(pool: ResourcePool): void {
    if (!this.dirty.includes(pool)) this.dirty.push(pool);
    this.finish(this.begin());
  }

  /** Who holds a unit is told that it broke down. */
  broken(token: number): void {
    this.askers[token]?.broken?.(token);
  }

  private begin(): boolean {
    const outer = this.busy;
    this.busy = true;
    return outer;
  }

  /** Serves the lines of pools with free units; nested calls leave it to the outermost. */
  private finish(outer: boolean): void {
    if (outer) return;
    for (let pool = this.dirty.pop(); pool; pool = this.dirty.pop()) {
      for (let node = pool.head; node !== NONE_LEFT && pool.units.free > 0; ) {
        const token = this.list.tokenOf(node);
        const next = this.list.after(node);
        if (this.fits(token)) this.grant(token);
        node = next;
      }
    }
    this.busy = false;
  }

  private grant(token: number): void {
    this.withdraw(token, true);
    this.give(token);
    if (this.preempted[token]) {
      this.preempted[token] = 0;
      this.work.go(token);
      this.askers[token]?.regained?.(token);
    } else this.kernel.resume(token);
  }

  private wait(token: number): void {
    const seen: ResourcePool[] = [];
    this.eachRow(token, ({ anyOf }) => {
      for (const pool of anyOf) {
        if (seen.includes(pool)) continue;
        seen.push(pool);
        this.list.join(pool, token, this.priority[token], pool.lastFirst ? -this.order[token] : this.order[token]);
        pool.line.add(1);
      }
    });
  }

  /** Out of all lines. */
  private withdraw(token: number, served = false): void {
    for (let node = this.list.firstOf(token); node !== NONE_LEFT; node = this.list.firstOf(token)) {
      this.list.lineOf(node)?.line.add(-1);
      this.list.leave(node);
    }
    if (!served && this.preempted[token]) {
      this.preempted[token] = 0;
      this.work.go(token);
    }
  }

  private eachRow(token: number, act: (need: Need, row: number) => void): void {
    const { needs } = this.askers[token]!;
    for (let row = 0; row < needs.length; row++) if ((this.wanted[token] >> row) & 1) act(needs[row], row);
  }

  /** Units of one row, for one token. */
  private countOf(need: Need, token: number): number {
    const count = need.count(token);
    if (Number.isInteger(count) && count >= 0) return count;
    this.kernel.fail({ code: "invalid-count", message: `gave ${count} of ${need.anyOf[0]?.name ?? "a resource"}, which is no whole number of 0 or more.`, hint: "Use round(…).", id: this.askers[token]?.id, field: "needs", value: count });
    return 0;
  }

  /** Whether all it wants is free now; notes from which pool each row would be met. */
  private fits(token: number): boolean {
    let good = true;
    this.eachRow(token, (need, row) => {
      if (!good) return;
      const count = this.countOf(need, token);
      const pool = need.anyOf.find((p) => p.units.free - p.reserved >= count);
      if (!pool) good = false;
      else {
        this.reserve(pool, count);
        this.chosen[row] = pool;
      }
    });
    this.forgetReserved();
    return good;
  }

  private reserve(pool: ResourcePool, count: number): void {
    pool.reserved += count;
    this.setAside.push(pool);
  }

  private forgetReserved(): void {
    for (let pool = this.setAside.pop(); pool; pool = this.setAside.pop()) pool.reserved = 0;
  }

  private give(token: number): void {
    this.when[token] = ++this.granted;
    const waited = this.kernel.now - this.since[token];
    this.eachRow(token, (need, row) => {
      const pool = this.chosen[row];
      const count = this.countOf(need, token);
      for (let i = 0; i < count; i++) {
        const unit = pool.base + pool.take(token);
        this.nextHeld[unit] = this.firstHeld[token];
        this.rowOf[unit] = row;
        this.firstHeld[token] = unit;
      }
      pool.wait.add(waited);
    });
    // Only the first wait of a claim counts as one; taken away and given again, it is timed anew.
    this.since[token] = this.kernel.now;
  }

  /** Takes units away from work of lower priority, where the resources allow it and it then can have all it wants. */
  private makeWay(token: number): boolean {
    const victims = new Set<number>();
    let good = true;
    this.eachRow(token, (need) => {
      if (!good) return;
      const count = this.countOf(need, token);
      good = need.anyOf.some((pool) => {
        const free = pool.units.free - pool.reserved;
        if (free >= count) {
          this.reserve(pool, count);
          return true;
        }
        if (!pool.preempts) return false;
        const holders = this.lesserHolders(pool, token).filter((holder) => !victims.has(holder));
        let got = free + [...victims].reduce((sum, victim) => sum + this.unitsIn(pool, victim), 0);
        const chosen: number[] = [];
        for (const holder of holders) {
          if (got >= count) break;
          chosen.push(holder);
          got += this.unitsIn(pool, holder);
        }
        if (got < count) return false;
        for (const victim of chosen) victims.add(victim);
        return true;
      });
    });
    this.forgetReserved();
    if (!good) return false;
    const outer = this.begin();
    for (const victim of victims) this.takeAway(victim);
    const fits = this.fits(token);
    // Given before those in line, the robbed among them, are looked at.
    if (fits) this.give(token);
    this.finish(outer);
    return fits;
  }

  /** Holders of units of a pool with a lower priority, the lowest first, then who has held for the shortest time. */
  private lesserHolders(pool: ResourcePool, token: number): number[] {
    const holders = new Set<number>();
    for (let unit = 0; unit < pool.units.count; unit++) {
      const holder = pool.units.occupant[unit];
      if (holder >= 0 && !pool.units.isStopped(unit) && this.askers[holder]?.yields && this.priority[holder] < this.priority[token]) holders.add(holder);
    }
    return [...holders].sort((a, b) => this.priority[a] - this.priority[b] || this.when[b] - this.when[a]);
  }

  private unitsIn(pool: ResourcePool, token: number): number {
    let count = 0;
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit]) if (this.poolOf[unit] === pool) count += 1;
    return count;
  }

  /** The token loses all it holds and waits for it again, in the place its first asking gives it. */
  private takeAway(token: number): void {
    const rows = this.held(token);
    this.work.stop(token);
    this.free(token);
    this.preempted[token] = 1;
    this.wanted[token] = rows;
    this.since[token] = this.kernel.now;
    this.wait(token);
    this.askers[token]?.lost?.(token);
  }

  private reach(token: number): void {
    if (token < this.wanted.length) return;
    const size = lengthFor(token, this.wanted.length);
    this.wanted = grown(this.wanted, size);
    this.priority = grown(this.priority, size);
    this.order = grown(this.order, size);
    this.since = grown(this.since, size);
    this.when = grown(this.when, size);
    this.firstHeld = grown(this.firstHeld, size, -1);
    this.preempted = grown(this.preempted, size);
  }
}
