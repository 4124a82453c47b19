import { grown, lengthFor } from "../kernel/grown.ts";
import { NONE_LEFT, RequestList } from "../kernel/requestList.ts";
import type { Kernel } from "../kernel/kernel.ts";
import type { Need, Pool } from "./need.ts";
import { Trial } from "./trial.ts";
import type { Walkers } from "./walkers.ts";
import type { Work } from "../kernel/work.ts";

/** In place of a row of needs: the unit is kept until it is freed by name. */
const KEPT = -1;

/** Who asks, and is told what becomes of units it holds. */
export interface Asker {
  /** The element, to which failures lead. */
  readonly id: string;
  readonly needs: readonly Need[];
  /** Index of the element at which it asks, where that is not what its id says, or where the entity is. */
  readonly place?: number;
  /** Whether work of higher priority may take units away from it. */
  readonly yields: boolean;
  /** What it is given is kept until `freeKept`, whatever else the token claims and frees meanwhile. */
  readonly keeps?: boolean;
  /** All units were taken away for work of higher priority; it waits in line for them again. */
  lost?(token: number): void;
  /** It has them again. */
  regained?(token: number): void;
  /** A unit it holds has broken down. */
  broken?(token: number): void;
  /** It is given units of a pool. */
  given?(token: number, pool: Pool): void;
  /** It has been given what it wants, but some of it has to walk there first. */
  coming?(token: number): void;
}

/**
 * Claims of resources: several at once and all or none, each from any one of some alternatives. Who asks
 * stands in the line of every resource that would do, and holds nothing until it has all. At the end of an instant at
 * which units came free or somebody asked, the lines are looked through together in their order (highest priority,
 * then who asked first or last), and who can have all it needs has it. So nobody is served before another of higher
 * priority who asks at the same instant, and a small claim may go before a large one that cannot be met yet.
 */
export class Requests {
  private readonly list = new RequestList<Pool>();
  /** Resources whose lines are to be looked at. */
  private readonly dirty: Pool[] = [];
  /** Who asked since the last decision for what may be taken away from others. */
  private readonly fresh: number[] = [];
  private deciding = false;
  /** Whether a decision is not asked for just now, and whether one is to be. */
  private holdsBack = false;
  private toDecide = false;
  /** Told when all that could be given at an instant has been given. */
  afterDecision: (() => void) | undefined;
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
  /** By token, the pools that will do for each row, where a token needs one that is named. */
  private named: (readonly (readonly Pool[])[] | undefined)[] = [];
  private preempted = new Uint8Array(256);
  /** How many that were given to a token are still on the way to it. */
  private coming = new Int32Array(256);
  /** By unit of all pools together. */
  private nextHeld: number[] = [];
  private rowOf: number[] = [];
  private readonly poolOf: Pool[] = [];
  /** By token: how many times as long its work takes with those that it was given. */
  private readonly pace = new Map<number, number>();
  private readonly trial: Trial;

  constructor(
    private readonly kernel: Kernel,
    private readonly work: Work,
    /** Has `decide` done at the end of an instant, in the turn of resources, when what it returns is called. */
    atEndOfInstant: (decide: () => void) => () => void,
    /** Index of the element at which a token asks, -1 for none, by the id of who asks. */
    private readonly placeOf: (token: number, id: string) => number,
  ) {
    this.askDecision = atEndOfInstant(() => this.decide());
    this.trial = new Trial({
      eachRow: (token, act) => this.eachRow(token, act),
      countOf: (need, token) => this.countOf(need, token),
      poolsFor: (token, row, need) => this.poolsFor(token, row, need),
      whereAsked: (token) => this.whereAsked(token),
    });
  }

  private readonly askDecision: () => void;

  /** Adds a pool of `count` units; returns the number of its first unit among all. */
  add(pool: Pool, count: number): number {
    const base = this.poolOf.length;
    for (let i = 0; i < count; i++) this.poolOf.push(pool);
    return base;
  }

  reset(): void {
    this.list.reset();
    this.dirty.length = 0;
    this.fresh.length = 0;
    this.deciding = false;
    this.asked = 0;
    this.granted = 0;
    this.askers = [];
    this.named = [];
    this.wanted.fill(0);
    this.firstHeld.fill(-1);
    this.preempted.fill(0);
    this.coming.fill(0);
    this.pace.clear();
    this.nextHeld = new Array<number>(this.poolOf.length).fill(-1);
    this.rowOf = new Array<number>(this.poolOf.length).fill(0);
  }

  /** Rows of its needs, as bits, of which the token holds units. */
  held(token: number): number {
    if (token >= this.firstHeld.length) return 0;
    let rows = 0;
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit])
      if (this.rowOf[unit] !== KEPT) rows |= 1 << this.rowOf[unit];
    return rows;
  }

  /**
   * Claims the rows of needs in `rows`, as bits. The token must suspend, and is resumed when it has them, at the end
   * of this instant at the earliest. Who needs none of anything is resumed, and has claimed nothing.
   */
  ask(token: number, asker: Asker, rows: number, priority: number): void {
    this.reach(token);
    if (Number.isNaN(priority)) {
      this.kernel.fail({
        code: "bad-rank",
        message: "gave no number to ask by.",
        hint: "Look for a division of 0 by 0.",
        id: asker.id,
        field: "priority",
        value: priority,
      });
      return;
    }
    this.askers[token] = asker;
    this.wanted[token] = rows;
    this.priority[token] = priority;
    this.order[token] = ++this.asked;
    this.since[token] = this.kernel.now;
    this.named[token] = asker.needs.some(({ which }) => which) ? this.namedBy(token, asker) : undefined;
    let none = true;
    this.eachRow(token, (need, row) => {
      const count = this.countOf(need, token);
      if (count > 0) none = false;
      if (need.able) this.checkAble(token, need, row, count);
    });
    if (none) {
      this.kernel.resume(token);
      return;
    }
    this.wait(token);
    if (asker.needs.some(({ anyOf }) => anyOf.some((pool) => pool.preempts))) this.fresh.push(token);
  }

  /** Who asks for somebody whom none of them is would wait for ever. */
  private checkAble(token: number, need: Need, row: number, count: number): void {
    const pools = this.poolsFor(token, row, need);
    if (pools.some((pool) => this.ableIn(pool, need, token, () => true) >= count)) return;
    this.kernel.fail({
      code: "nobody-can",
      message: `${pools.map(({ name }) => name).join(", ")} ${pools.length > 1 ? "have" : "has"} not ${count} who can do what is asked.`,
      hint: "Look at who can do it, or add members to the table.",
      id: this.askers[token]!.id,
      field: "needs",
    });
  }

  /** Units of a pool that can do what a row says, among those of which something holds. */
  private ableIn(pool: Pool, { able }: Need, token: number, holds: (unit: number) => boolean): number {
    let count = 0;
    for (let unit = 0; unit < pool.units.count; unit++)
      if (holds(unit) && (able?.(token, pool, unit) ?? true)) count += 1;
    return count;
  }

  /** Whether it matters which units the token is given. */
  private isSkilled(token: number): boolean {
    const { needs } = this.askers[token]!;
    for (let i = 0; i < needs.length; i++) if (needs[i].able) return true;
    return false;
  }

  /**
   * How many times as long work takes with those whom a token holds for it: as with the slowest of them, 1 where
   * nothing is said of that.
   */
  slowest(token: number): number {
    const needs = this.askers[token]?.needs ?? [];
    if (!needs.some(({ times }) => times)) {
      // What it said of another piece of work does not hold for this one.
      if (this.pace.size > 0) this.pace.delete(token);
      return 1;
    }
    let most = Number.NEGATIVE_INFINITY;
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit]) {
      const row = this.rowOf[unit];
      const pool = this.poolOf[unit];
      const times = row === KEPT ? undefined : needs[row].times?.(token, pool, unit - pool.base);
      if (times !== undefined && !(times <= most)) most = times;
    }
    const pace = most === Number.NEGATIVE_INFINITY ? 1 : most;
    this.pace.set(token, pace);
    return pace;
  }

  /** The pools that will do for each row of needs, the one that is named or all. */
  private namedBy(token: number, { id, needs }: Asker): (readonly Pool[])[] {
    return needs.map(({ anyOf, which }) => {
      if (!which) return anyOf;
      const pool = anyOf[which(token)];
      if (pool) return [pool];
      this.kernel.fail({
        code: "no-such-resource",
        message: `named none of ${anyOf.map(({ name }) => name).join(", ")}.`,
        hint: "Name one of the resources that it needs, or leave it open which.",
        id,
        field: "needs",
      });
      return anyOf;
    });
  }

  /** The pools that will do for a row of what a token needs. */
  private poolsFor(token: number, row: number, need: Need): readonly Pool[] {
    return this.named[token]?.[row] ?? need.anyOf;
  }

  /** Gives back what the token holds of `rows`, or stops waiting. */
  free(token: number, rows = -1): void {
    if (token >= this.firstHeld.length) return;
    this.withdraw(token);
    this.coming[token] = 0;
    let before = -1;
    for (let unit = this.firstHeld[token]; unit >= 0;) {
      const next = this.nextHeld[unit];
      if (this.rowOf[unit] !== KEPT && (rows >> this.rowOf[unit]) & 1) {
        if (before < 0) this.firstHeld[token] = next;
        else this.nextHeld[before] = next;
        const pool = this.poolOf[unit];
        pool.giveBack(unit - pool.base);
      } else before = unit;
      unit = next;
    }
  }

  /**
   * Units of the pool came free, or somebody stands in its line: it is looked at when all who ask at this instant
   * have asked.
   */
  serve(pool: Pool): void {
    if (pool.head === NONE_LEFT) return;
    if (!this.dirty.includes(pool)) this.dirty.push(pool);
    if (this.deciding) return;
    if (this.holdsBack) this.toDecide = true;
    else this.askDecision();
  }

  /**
   * The same as `ask`, as the last thing that a step does: where nothing else is left to happen at this instant, it is
   * decided at once, which saves an event.
   */
  askLast(token: number, asker: Asker, rows: number, priority: number): void {
    this.holdsBack = true;
    this.ask(token, asker, rows, priority);
    this.holdsBack = false;
    if (!this.toDecide) return;
    this.toDecide = false;
    if (this.kernel.nothingMoreNow) this.decide();
    else this.askDecision();
  }

  private whereAsked(token: number): number {
    const { place, id } = this.askers[token]!;
    return place ?? this.placeOf(token, id);
  }

  /** The unit of a pool that a token was given last of those that it has, kept or not; -1 where it has none. */
  lastGiven(token: number, pool: Pool): number {
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit])
      if (this.poolOf[unit] === pool) return unit - pool.base;
    return -1;
  }

  /** The units of a pool that a token was given last, so many at most, the last first. */
  lastOf(token: number, pool: Pool, most: number): number[] {
    const units: number[] = [];
    for (let unit = this.firstHeld[token]; unit >= 0 && units.length < most; unit = this.nextHeld[unit])
      if (this.poolOf[unit] === pool) units.push(unit - pool.base);
    return units;
  }

  /** Whether the token stands in line for something. */
  waits(token: number): boolean {
    return this.list.firstOf(token) !== NONE_LEFT;
  }

  /**
   * Tokens that can never have what they wait for, as others of them hold it: those that are left when all are taken
   * away, one after another, whose needs the units not held by the rest could meet (Coffman, Elphick and Shoshani
   * 1971).
   */
  stuck(): number[] {
    const left = new Set<number>();
    for (let token = 0; token < this.wanted.length; token++) if (this.waits(token)) left.add(token);
    for (let before = -1; before !== left.size;) {
      before = left.size;
      for (const token of left) {
        let met = true;
        this.eachRow(token, (need, row) => {
          const count = this.countOf(need, token);
          met &&= this.poolsFor(token, row, need).some(
            (pool) => this.ableIn(pool, need, token, (unit) => !left.has(pool.units.occupant[unit])) >= count,
          );
        });
        if (met) left.delete(token);
      }
    }
    return [...left];
  }

  /** Names of the resources that a token waits for, one each. */
  waitsFor(token: number): string[] {
    const names: string[] = [];
    for (let node = this.list.firstOf(token); node !== NONE_LEFT; node = this.list.nextOf(node)) {
      const name = this.list.lineOf(node)?.name;
      if (name !== undefined && !names.includes(name)) names.push(name);
    }
    return names;
  }

  /** Frees units that the token keeps, so many at most, of some resources or (none named) of all; tells how many. */
  freeKept(token: number, of: readonly string[], most: number): number {
    if (token >= this.firstHeld.length) return 0;
    let freed = 0;
    let before = -1;
    for (let unit = this.firstHeld[token]; unit >= 0;) {
      const next = this.nextHeld[unit];
      const pool = this.poolOf[unit];
      if (freed < most && this.rowOf[unit] === KEPT && (of.length === 0 || of.includes(pool.id))) {
        if (before < 0) this.firstHeld[token] = next;
        else this.nextHeld[before] = next;
        pool.giveBack(unit - pool.base);
        freed += 1;
      } else before = unit;
      unit = next;
    }
    return freed;
  }

  /** Names of the resources of which the token keeps units, one each. */
  keptBy(token: number): string[] {
    const names: string[] = [];
    if (token >= this.firstHeld.length) return names;
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit])
      if (this.rowOf[unit] === KEPT) names.push(this.poolOf[unit].name);
    return names;
  }

  /** Who holds a unit is told that it broke down. */
  broken(token: number): void {
    this.askers[token]?.broken?.(token);
  }

  private decide(): void {
    this.deciding = true;
    this.serveLines();
    if (this.fresh.length > 0) this.makeWays();
    this.deciding = false;
    if (this.afterDecision) this.afterDecision();
  }

  /** Those who asked since the last decision, and still wait, may take units away from others. */
  private makeWays(): void {
    this.fresh.sort((a, b) => this.priority[b] - this.priority[a] || this.order[a] - this.order[b]);
    for (const token of this.fresh) {
      // It may have got what it asked for, or have left.
      if (this.list.firstOf(token) === NONE_LEFT) continue;
      this.makeWay(token);
      this.serveLines();
    }
    this.fresh.length = 0;
  }

  /** The one line that is to be looked at, in its order. */
  private serveLine(pool: Pool): void {
    if (pool.walkers?.settings.nearestFirst) return this.serveNearest(pool, pool.walkers);
    for (let node = pool.head; node !== NONE_LEFT && pool.units.free > 0;) {
      const next = this.list.after(node);
      const token = this.list.tokenOf(node);
      if (this.fits(token)) this.grant(token);
      node = next;
    }
  }

  /** Of those in line with the highest priority whose needs can be met, the nearest is served, while there is one. */
  private serveNearest(pool: Pool, walkers: Walkers): void {
    while (pool.units.free > 0) {
      let best = -1;
      let least = Infinity;
      for (let node = pool.head; node !== NONE_LEFT; node = this.list.after(node)) {
        const token = this.list.tokenOf(node);
        if (best >= 0 && this.priority[token] < this.priority[best]) break;
        if (!this.fits(token)) continue;
        const place = this.whereAsked(token);
        const metres = this.isSkilled(token)
          ? this.trial.nearest(pool, (unit) => walkers.metresTo(unit, place))
          : walkers.nearestTo(place);
        if (best >= 0 && !(metres < least)) continue;
        least = metres;
        best = token;
      }
      // What was found for the last that was tried is not what this one needs.
      if (best < 0 || !this.fits(best)) return;
      this.grant(best);
    }
  }

  /** Goes through the lines of pools with free units, whoever is next in any of them first. */
  private serveLines(): void {
    while (this.dirty.length > 0) {
      if (this.dirty.length === 1) {
        this.serveLine(this.dirty.pop()!);
        continue;
      }
      for (const pool of this.dirty) if (pool.walkers?.settings.nearestFirst) this.serveLine(pool);
      const pools = this.dirty.splice(0).filter((pool) => !pool.walkers?.settings.nearestFirst);
      const next = pools.map((pool) => pool.head);
      for (;;) {
        let first = -1;
        for (let i = 0; i < pools.length; i++) {
          if (next[i] === NONE_LEFT || pools[i].units.free <= 0) continue;
          if (first < 0 || this.list.isBefore(next[i], next[first])) first = i;
        }
        if (first < 0) break;
        const token = this.list.tokenOf(next[first]);
        for (let i = 0; i < pools.length; i++)
          if (next[i] !== NONE_LEFT && this.list.tokenOf(next[i]) === token) next[i] = this.list.after(next[i]);
        if (this.fits(token)) this.grant(token);
      }
    }
  }

  private grant(token: number): void {
    this.withdraw(token, true);
    this.give(token);
    if (this.coming[token] === 0) return this.begin(token);
    // It asks no longer: how long it would have waited does not count.
    this.kernel.calendar.cancel(token);
    this.askers[token]?.coming?.(token);
  }

  /** One that was given to a token has come to it. */
  arrived(token: number): void {
    if (--this.coming[token] === 0) this.begin(token);
  }

  private begin(token: number): void {
    if (this.preempted[token]) {
      this.preempted[token] = 0;
      const before = this.pace.get(token);
      // What is left of its work goes as with those who go on with it.
      if (before !== undefined) this.work.stretch(token, this.slowest(token) / before);
      this.work.go(token);
      this.askers[token]?.regained?.(token);
    } else this.kernel.resume(token);
  }

  private wait(token: number): void {
    const seen: Pool[] = [];
    this.eachRow(token, (need, row) => {
      for (const pool of this.poolsFor(token, row, need)) {
        if (seen.includes(pool)) continue;
        seen.push(pool);
        this.list.join(pool, token, this.priority[token], pool.lastFirst ? -this.order[token] : this.order[token]);
        pool.line.add(1);
        this.serve(pool);
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
    this.kernel.fail({
      code: "invalid-count",
      message: `gave ${count} of ${need.anyOf[0]?.name ?? "a resource"}, which is no whole number of 0 or more.`,
      hint: "Use round(…).",
      id: this.askers[token]?.id,
      field: "needs",
      value: count,
    });
    return 0;
  }

  /** Whether all it wants is free now; the trial knows from what each row would be met. */
  private fits(token: number): boolean {
    return this.trial.fits(token, this.isSkilled(token));
  }

  private give(token: number): void {
    this.when[token] = ++this.granted;
    const again = this.preempted[token] !== 0;
    const { keeps } = this.askers[token]!;
    const waited = this.kernel.now - this.since[token];
    const place = this.whereAsked(token);
    const skilled = this.isSkilled(token);
    this.eachRow(token, (need, row) => {
      const pool = this.trial.pools[row];
      const count = this.countOf(need, token);
      const named = skilled ? this.trial.units[row] : undefined;
      for (let i = 0; i < count; i++) {
        const own = pool.take(token, place, named?.[i]);
        const unit = pool.base + own;
        if (pool.walkers?.goTo(own, token, place)) this.coming[token] += 1;
        this.nextHeld[unit] = this.firstHeld[token];
        this.rowOf[unit] = keeps ? KEPT : row;
        this.firstHeld[token] = unit;
      }
      this.askers[token]?.given?.(token, pool);
      // What was taken away and is given again is no new claim.
      if (!again && count > 0) pool.wait.add(waited);
    });
  }

  /** Takes units away from work of lower priority, where the resources allow it and it then can have all it wants. */
  private makeWay(token: number): void {
    if (this.isSkilled(token)) return this.makeWayForSkilled(token);
    const victims = new Set<number>();
    let good = true;
    this.eachRow(token, (need, row) => {
      if (!good) return;
      const count = this.countOf(need, token);
      good = this.poolsFor(token, row, need).some((pool) => {
        const free = pool.units.free - pool.reserved;
        if (free >= count) {
          this.trial.reserve(pool, count);
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
    this.trial.forgetReserved();
    if (good) this.rob(victims, token);
  }

  /** The same, where not everybody can do what is asked: as few as will do, of the lowest priority, are robbed. */
  private makeWayForSkilled(token: number): void {
    const holders: number[] = [];
    this.eachRow(token, (need, row) => {
      for (const pool of this.poolsFor(token, row, need))
        if (pool.preempts)
          for (const holder of this.lesserHolders(pool, token)) if (!holders.includes(holder)) holders.push(holder);
    });
    holders.sort((a, b) => this.priority[a] - this.priority[b] || this.when[b] - this.when[a]);
    const victims = new Set<number>();
    for (const holder of holders) {
      victims.add(holder);
      if (this.trial.fits(token, true, victims)) break;
    }
    if (!this.trial.fits(token, true, victims)) return;
    for (const victim of [...victims]) {
      victims.delete(victim);
      if (!this.trial.fits(token, true, victims)) victims.add(victim);
    }
    this.rob(victims, token);
  }

  /** Given before those in line, the robbed among them, are looked at. */
  private rob(victims: ReadonlySet<number>, token: number): void {
    for (const victim of victims) this.takeAway(victim);
    if (this.fits(token)) this.grant(token);
  }

  /** Holders of units of a pool with a lower priority, the lowest first, then who has held for the shortest time. */
  private lesserHolders(pool: Pool, token: number): number[] {
    const holders = new Set<number>();
    for (let unit = 0; unit < pool.units.count; unit++) {
      const holder = pool.units.occupant[unit];
      if (
        holder >= 0 &&
        !pool.units.isStopped(unit) &&
        this.askers[holder]?.yields &&
        this.coming[holder] === 0 &&
        !this.keeps(unit + pool.base) &&
        this.priority[holder] < this.priority[token]
      )
        holders.add(holder);
    }
    return [...holders].sort((a, b) => this.priority[a] - this.priority[b] || this.when[b] - this.when[a]);
  }

  private keeps(unit: number): boolean {
    return this.rowOf[unit] === KEPT;
  }

  private unitsIn(pool: Pool, token: number): number {
    let count = 0;
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit])
      if (this.poolOf[unit] === pool && !this.keeps(unit)) count += 1;
    return count;
  }

  /** The token loses all it holds and waits for it again, in the place its first asking gives it. */
  private takeAway(token: number): void {
    const rows = this.held(token);
    const pools = new Set<Pool>();
    for (let unit = this.firstHeld[token]; unit >= 0; unit = this.nextHeld[unit])
      if (!this.keeps(unit)) pools.add(this.poolOf[unit]);
    for (const pool of pools) pool.takenAway.total += 1;
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
    this.coming = grown(this.coming, size);
  }
}
