import { Calendar } from "./calendar.ts";
import type { RunFailure } from "./failure.ts";
import { NO_TYPE, PC, STRIDE_BITS, TokenPool } from "./pool.ts";

/**
 * Events at one instant happen in this order of classes, then in the order in
 * which they were scheduled. Releases (a token that was granted what it waited
 * for) need no calendar: they resume at the same instant, first granted first,
 * after any change of capacity and before any arrival. What has to be decided among all who ask at an
 * instant is decided when they have asked: who goes on from a line that is not in the order of coming, which batches
 * start, who gets resources; then conditions are looked at again, and the run may end.
 */
export const EventClass = {
  capacityChange: 0,
  activityEnd: 1,
  arrival: 2,
  lines: 3,
  batches: 4,
  resources: 5,
  recheck: 6,
  end: 7,
} as const;

/** One step of a program: does its work for a token and returns the next step, or `SUSPEND`. */
export type Step = (token: number) => number;
export const SUSPEND = -1;

export interface Limits {
  /** Most entities in the system at once. */
  readonly entities: number;
  /** Most steps of programs at one instant. */
  readonly stepsAtAnInstant: number;
  /** Most events in a replication. */
  readonly events: number;
}

export const DEFAULT_LIMITS: Limits = { entities: 1_000_000, stepsAtAnInstant: 1_000_000, events: 2e10 };

/** Most steps of a token that are taken within the step of another. */
const MOST_AT_ONCE = 64;

/** How many steps are watched, once an endless loop is suspected, to name the elements in it. */
const LOOP_SAMPLE = 1000;

/**
 * Runs step programs of tokens in time. It knows nothing of stations or
 * entities' ways: those are lowered to steps.
 */
export class Kernel {
  /** The one clock, in seconds from the start; meters share it. */
  readonly clock = new Float64Array(1);
  events = 0;
  ended = false;
  failure: RunFailure | undefined;
  /** What is done last of all when a replication comes to its end. */
  readonly onEnd: (() => void)[] = [];
  readonly calendar = new Calendar();
  readonly pool: TokenPool;
  readonly steps: Step[] = [];
  /** The place that each step belongs to, and the place whose steps are being emitted; -1 for none. */
  private readonly owners: number[] = [];
  emittingFor = -1;
  /** The token to go on first, ahead of those in the ring; -1 for none. */
  private onlyReady = -1;
  private ready = new Int32Array(64);
  private readyHead = 0;
  private readyCount = 0;
  private joins = 0;
  /** Steps run at the present instant. */
  private spins = 0;
  private readonly loop = new Set<number>();
  private entities = 0;

  private limits = DEFAULT_LIMITS;

  constructor(
    attributeCount: number,
    /** Turns indices of elements and links into words for messages. */
    private readonly describe: (at: number) => { name: string; id?: string },
    /** The index of the element or link that a place of tokens, by its number, belongs to. */
    private readonly whereIs: (place: number) => number = (place) => place,
  ) {
    this.pool = new TokenPool(attributeCount);
  }

  /** Back to the start: the steps stay, all that happened is forgotten. */
  reset(limits: Limits): void {
    this.limits = limits;
    this.clock[0] = 0;
    this.events = 0;
    this.ended = false;
    this.failure = undefined;
    this.calendar.reset();
    this.pool.reset();
    this.onlyReady = -1;
    this.readyHead = 0;
    this.readyCount = 0;
    this.joins = 0;
    this.spins = 0;
    this.loop.clear();
    this.entities = 0;
  }

  get now(): number {
    return this.clock[0];
  }

  /** Adds a step and returns its number. */
  emit(step: Step): number {
    this.owners.push(this.emittingFor);
    return this.steps.push(step) - 1;
  }

  nextJoin(): number {
    return this.joins++;
  }

  /** Makes the token go on at this instant, after those made to go on before it. */
  resume(token: number): void {
    // Mostly there is one at a time, and it need not go through the ring.
    if (this.readyCount === 0 && this.onlyReady < 0) {
      this.onlyReady = token;
      return;
    }
    if (this.readyCount === this.ready.length) this.growRing();
    this.ready[(this.readyHead + this.readyCount++) & (this.ready.length - 1)] = token;
  }

  /**
   * Has a token that was made to go on do so within the present step, where it would be the next to do so anyway: that
   * saves going round by the loop. To be called last in a step that suspends.
   */
  goOnAtOnce(token: number): void {
    if (this.onlyReady !== token || this.ended) return;
    const { calendar, steps, pool } = this;
    if (calendar.nextTime === this.clock[0] && calendar.nextIsFirstClass) return;
    this.onlyReady = -1;
    let pc = pool.ints[(token << STRIDE_BITS) + PC];
    for (let left = MOST_AT_ONCE; pc >= 0 && left > 0; left--) pc = steps[pc](token);
    if (pc < 0) return;
    // A long chain, perhaps without end, is for the loop, which counts its steps.
    pool.setPc(token, pc);
    if (this.onlyReady >= 0) this.putFirst(this.onlyReady);
    this.onlyReady = token;
  }

  /** Puts a token at the front of the ring. */
  private putFirst(token: number): void {
    if (this.readyCount === this.ready.length) this.growRing();
    this.readyHead = (this.readyHead - 1) & (this.ready.length - 1);
    this.ready[this.readyHead] = token;
    this.readyCount += 1;
  }

  private growRing(): void {
    const grown = new Int32Array(this.ready.length * 2);
    for (let i = 0; i < this.readyCount; i++) grown[i] = this.ready[(this.readyHead + i) & (this.ready.length - 1)];
    this.ready = grown;
    this.readyHead = 0;
  }

  /** Whether a token made to go on now would be the next to do so. */
  get nothingReady(): boolean {
    return (
      this.onlyReady < 0 &&
      this.readyCount === 0 &&
      !(this.calendar.nextTime === this.clock[0] && this.calendar.nextIsFirstClass)
    );
  }

  /** Whether nothing else happens at this instant, once the present step is over. */
  get nothingMoreNow(): boolean {
    return this.onlyReady < 0 && this.readyCount === 0 && this.calendar.nextTime > this.clock[0];
  }

  /** A new entity that starts at step `pc` at this instant; -1 when there are too many. */
  makeEntity(type: number, pc: number): number {
    if (this.pool.alive >= this.limits.entities) {
      this.failTooMany();
      return -1;
    }
    const token = this.pool.take(type, pc, this.clock);
    this.pool.serial[token] = ++this.entities;
    this.resume(token);
    return token;
  }

  /** A process of the system that starts at step `pc` at `time`. */
  startProcess(pc: number, time: number, eventClass: number): void {
    this.calendar.due[0] = time;
    this.calendar.schedule(this.pool.take(NO_TYPE, pc, this.clock), eventClass);
  }

  /**
   * Suspends the token for `duration` seconds. A negative or non-finite duration
   * stops the replication with the place, the setting and the value.
   */
  delay(token: number, duration: number, eventClass: number, id: string, field: string): void {
    if (!(duration >= 0 && duration < Infinity)) {
      this.failDuration(duration, id, field);
      return;
    }
    this.schedule(token, duration, eventClass);
  }

  /** Suspends the token until an instant that is not past. */
  scheduleAt(token: number, time: number, eventClass: number): void {
    this.calendar.due[0] = time;
    this.calendar.schedule(token, eventClass);
  }

  /** Suspends the token for a number of seconds that is known to be good. */
  schedule(token: number, duration: number, eventClass: number): void {
    this.calendar.due[0] = this.clock[0] + duration;
    this.calendar.schedule(token, eventClass);
  }

  /**
   * Runs until after the last event at or before `until`, the end, a failure, or `most` events. True when stopped by
   * `most`.
   */
  run(until: number, most: number): boolean {
    const { calendar, steps, clock, pool } = this;
    const mostSpins = this.limits.stepsAtAnInstant;
    const stopAt = this.events + most;
    let spins = this.spins;
    let events = this.events;
    let stopped = false;
    while (!this.ended) {
      let token: number;
      if (this.onlyReady >= 0 && !(calendar.nextTime === clock[0] && calendar.nextIsFirstClass)) {
        token = this.onlyReady;
        this.onlyReady = -1;
      } else if (this.readyCount > 0 && !(calendar.nextTime === clock[0] && calendar.nextIsFirstClass)) {
        token = this.ready[this.readyHead];
        this.readyHead = (this.readyHead + 1) & (this.ready.length - 1);
        this.readyCount -= 1;
      } else {
        if (events >= stopAt) {
          stopped = true;
          break;
        }
        const time = calendar.nextTime;
        if (!(time <= until) || time === Infinity) break;
        if (time > clock[0]) {
          clock[0] = time;
          spins = 0;
        }
        token = calendar.pop();
        events += 1;
      }
      let pc = pool.ints[(token << STRIDE_BITS) + PC];
      do {
        const step = steps[pc];
        if (++spins > mostSpins && this.watchLoop(pc, spins - mostSpins)) break;
        pc = step(token);
      } while (pc >= 0);
    }
    this.spins = spins;
    this.events = events;
    return stopped;
  }

  /** Events left of the replication's budget. */
  get eventsLeft(): number {
    return this.limits.events - this.events;
  }

  /** Time of the next event; Infinity when there is none. */
  get nextTime(): number {
    return this.calendar.nextTime;
  }

  /** Lets time pass up to an instant before which nothing more happens. */
  waitUntil(time: number): void {
    if (this.ended || !(time > this.clock[0])) return;
    this.clock[0] = time;
    this.spins = 0;
  }

  /** Ends the replication at `time`, when nothing more happens up to then. */
  end(time: number): void {
    if (this.ended) return;
    this.clock[0] = time;
    for (const act of this.onEnd) act();
    this.ended = true;
  }

  fail(failure: Omit<RunFailure, "time">): void {
    if (this.failure) return;
    this.failure = { ...failure, time: this.now };
    this.ended = true;
  }

  /** Stops the replication for a negative or non-finite duration. */
  failDuration(value: number, id: string, field: string): void {
    const negative = value < 0;
    this.fail({
      code: negative ? "negative-duration" : "non-finite-duration",
      message: negative ? `gave ${value} s, and a time cannot be negative.` : "gave no finite time.",
      hint: negative
        ? "Use a distribution without negative values, or max(0 s, …)."
        : "Look for a division by zero or parameters outside a distribution's range.",
      id,
      field,
      value,
    });
  }

  private failTooMany(): void {
    const counts = new Map<number, number>();
    for (let token = 0; token < this.pool.used; token++) {
      if (this.pool.typeOf(token) < 0) continue;
      const place = this.pool.placeOf(token);
      if (place < 0) continue; // inside another
      const at = this.whereIs(place);
      counts.set(at, (counts.get(at) ?? 0) + 1);
    }
    const [at, count] = [...counts].reduce((a, b) => (b[1] > a[1] ? b : a), [0, 0]);
    const { name, id } = this.describe(at);
    this.fail({
      code: "too-many-entities",
      message: `More than ${this.limits.entities} entities are in the system; ${count} of them are at ${name}.`,
      hint: "More arrive than can be worked off there: add capacity, shorten the work, or arrive more slowly.",
      id,
      value: count,
    });
  }

  /** Notes where an endless loop passes, and stops the replication once it has been seen well enough to be named. */
  private watchLoop(pc: number, seen: number): boolean {
    if (this.owners[pc] >= 0) this.loop.add(this.owners[pc]);
    if (seen < LOOP_SAMPLE) return false;
    const places = [...this.loop].sort((a, b) => a - b).map(this.describe);
    this.fail({
      code: "instant-loop",
      message: `Things go on without end at one instant, and no time passes: ${places.map((p) => p.name).join(", ") || "in the whole model"}.`,
      hint: "Give one of these a time above 0, or a way out of the loop.",
      id: places.find((p) => p.id)?.id,
    });
    return true;
  }
}
