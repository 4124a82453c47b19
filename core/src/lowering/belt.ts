import type { Read } from "../expression/index.ts";
import { Claimable, type WaitList } from "../kernel/claims.ts";
import { grown, lengthFor } from "../kernel/grown.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Level } from "../statistics/level.ts";

/** What a belt is doing: stopped, one that moves all it carries together waits for the first to be let off. */
export const BELT_DOING = ["running", "stopped", "offShift", "down"] as const;
const [RUNNING, STOPPED, OFF_SHIFT, DOWN] = BELT_DOING.keys();

/** What a conveyor is, read. */
export interface BeltSettings {
  readonly id: string;
  /** Metres. */
  readonly length: number;
  /** Metres a second. */
  readonly speed: number;
  /** Whether those behind one that waits at the end close up to it; otherwise all stand while it waits. */
  readonly accumulates: boolean;
  /** Of those that wait for the start of one belt at the ends of others, that of the lowest goes first. */
  readonly precedence: number;
  /** Metres that an entity takes, with its gap to the one behind. */
  readonly room: Read;
}

export interface BeltMeters {
  readonly doing: readonly Level[];
  /** Metres taken. */
  readonly taken: Level;
}

/** An event that comes when the belt has run for so long; put off while it stands. */
interface Timer {
  token: number;
  /** Time that the belt will have run; NaN where nothing is due. */
  due: number;
}

/** Rounding must not let one in that would stand right at the start. */
const SLACK = 1e-9;

/** So many that have left are still held: taking each away would take time by how many there are. */
const MOST_LEFT = 256;

/**
 * A conveyor: entities enter at its start one behind the other, move along it at one speed, and are let off at its end.
 *
 * Places are told by their fronts, in metres from the start. Time is that which the belt has run, so that whatever
 * stops it holds all at once. Entity i, which entered at e(i) and takes the room s(i), has its front at
 *
 *   x(i) = min(v (t - e(i)), x(i-1) - s(i-1)),  and no further than the end, L;
 *
 * one that was let off at d moves on, as it were, at L + v (t - d). So the front of i comes to p at the latest of
 * e(i) + p / v and d(k) + (p + s(k) + … + s(i-1) - L) / v, k being the nearest ahead for which this lies beyond the
 * end: those further ahead left early enough. Two events an entity are enough, whatever happens on the belt: the first
 * comes to the end, and the start is clear again.
 */
export class Belt {
  readonly entry: Entry;
  /** By number of entering, those before `base` forgotten. */
  private tokens: number[] = [];
  private entered: number[] = [];
  private left: number[] = [];
  private rooms: number[] = [];
  /** Rooms of all that entered before, added up. */
  private ahead: number[] = [];
  private base = 0;
  /** Number of the first that is on the belt, and of the next that enters. */
  private first = 0;
  private next = 0;
  /** The nearest that is ahead of the last by more than the belt is long. */
  private pointer = 0;
  private isFirstAtEnd = false;
  /** When the start is clear is not known before one that is on the belt has left. */
  private isStuck = false;
  private load = 0;
  /** The belt whose start the first waits for at the end, where it can go nowhere else. */
  private before: Belt | undefined;
  /** Time run up to `since`, at which it last began to run or to stand, and why it stands: bits of what it does. */
  private ran = 0;
  private since = 0;
  private stopped = 0;
  private readonly arrival: Timer = { token: -1, due: Number.NaN };
  private readonly clearing: Timer = { token: -1, due: Number.NaN };
  private readonly failing: Timer = { token: -1, due: Number.NaN };
  private roomOf = new Float64Array(256);
  private readonly clear: number;

  constructor(
    /** Its place among all belts. */
    readonly number: number,
    readonly settings: BeltSettings,
    private readonly meters: BeltMeters,
    private readonly kernel: Kernel,
    /** By a token that waits for the start of a belt: the precedence with which it does. */
    precedenceOf: ((token: number) => number) | undefined,
    index: number,
  ) {
    this.entry = new Entry(kernel, this, precedenceOf, index);
    this.clear = kernel.emit(() => {
      this.clearing.due = Number.NaN;
      this.entry.clear();
      return SUSPEND;
    });
  }

  /** Begins a replication: nothing is on it, and it runs. */
  begin(): void {
    const { kernel } = this;
    for (const list of [this.tokens, this.entered, this.left, this.rooms, this.ahead]) list.length = 0;
    this.base = this.first = this.next = this.pointer = 0;
    this.isFirstAtEnd = this.isStuck = false;
    this.before = undefined;
    this.load = this.ran = this.since = this.stopped = 0;
    this.arrival.due = this.clearing.due = this.failing.due = Number.NaN;
    this.clearing.token = kernel.pool.take(NO_TYPE, this.clear, kernel.clock);
    this.entry.reset();
    this.meters.doing[RUNNING].set(1);
  }

  /** Entities that are on it now. */
  get count(): number {
    return this.next - this.first;
  }

  /** Seconds that it has run. */
  private get time(): number {
    return this.stopped === 0 ? this.kernel.now - this.since + this.ran : this.ran;
  }

  /** Metres that a token takes; asked once, when it wants to enter. */
  measure(token: number): void {
    const metres = this.settings.room(token);
    if (!(metres > 0 && metres < Infinity))
      this.kernel.fail({
        code: "bad-room",
        message: `gave ${metres} m, and what an entity takes of a belt is above 0 m.`,
        hint: "Give each type that goes along it a length, or a room that all take.",
        id: this.settings.id,
        field: "beltRoom",
        value: metres,
      });
    if (token >= this.roomOf.length) this.roomOf = grown(this.roomOf, lengthFor(token, this.roomOf.length));
    this.roomOf[token] = metres;
  }

  /** Whether one more gets onto it at all, however long those ahead stand. */
  get hasRoom(): boolean {
    return this.load < this.settings.length - SLACK;
  }

  /** A token that has been let in sets out from the start; at the end it goes on with the step that it has. */
  enter(token: number): void {
    const { length } = this.settings;
    const now = this.time;
    const room = this.roomOf[token];
    const i = this.next++;
    const behind = i === this.base ? 0 : this.ahead[i - 1 - this.base] + this.rooms[i - 1 - this.base];
    this.tokens.push(token);
    this.entered.push(now);
    this.left.push(Number.NaN);
    this.rooms.push(room);
    this.ahead.push(behind);
    this.load += room;
    this.meters.taken.add(room);
    while (this.pointer < i && this.ahead[this.pointer + 1 - this.base] < behind + room - length) this.pointer += 1;
    if (i === this.first) this.awaitFirst();
    this.clearWhenMoved();
  }

  /** The first has come to the end: it stands there until it is let off. */
  arrive(): void {
    this.arrival.due = Number.NaN;
    this.isFirstAtEnd = true;
  }

  /** The first waits at the end for the start of another, or of this one. */
  waitFor(belt: Belt): void {
    this.before = belt;
  }

  /**
   * The belts in a jam that this one is in, where it is in one: each is full, and its first waits for the start of the
   * next, round to this one. Nothing on them can move any more.
   */
  get jam(): readonly Belt[] {
    const found: Belt[] = [];
    // eslint-disable-next-line @typescript-eslint/no-this-alias
    for (let belt: Belt | undefined = this; belt && !belt.hasRoom && !found.includes(belt); belt = belt.before) {
      found.push(belt);
      if (belt.before === this) return found;
    }
    return [];
  }

  /** It is not let off at once. */
  wait(): void {
    if (!this.settings.accumulates) this.stop(STOPPED, true);
  }

  /** The first is let off: those behind it go on. */
  letOff(): void {
    const at = this.first - this.base;
    this.left[at] = this.time;
    const room = this.rooms[at];
    this.load = this.first + 1 === this.next ? 0 : this.load - room;
    this.meters.taken.add(-room);
    this.first += 1;
    this.isFirstAtEnd = false;
    this.before = undefined;
    this.stop(STOPPED, false);
    if (this.isStuck && this.pointer < this.first) this.clearWhenMoved();
    if (this.first < this.next) this.awaitFirst();
    this.forget();
    this.entry.serveNext();
  }

  /** It stands, or goes on, for a reason: all that is on it stays where it is. */
  stop(reason: number, stands: boolean): void {
    const stopped = stands ? this.stopped | (1 << reason) : this.stopped & ~(1 << reason);
    if (stopped === this.stopped) return;
    const before = this.doing;
    if (this.stopped === 0) {
      this.ran = this.time;
      for (const timer of [this.arrival, this.clearing, this.failing])
        if (!Number.isNaN(timer.due)) this.kernel.calendar.cancel(timer.token);
    }
    this.stopped = stopped;
    this.since = this.kernel.now;
    if (stopped === 0)
      for (const timer of [this.arrival, this.clearing, this.failing])
        if (!Number.isNaN(timer.due)) this.set(timer, timer.due);
    if (before === this.doing) return;
    this.meters.doing[before].add(-1);
    this.meters.doing[this.doing].add(1);
  }

  /** By hours or a condition it stands. */
  setOffShift(stands: boolean): void {
    this.stop(OFF_SHIFT, stands);
  }

  /** It breaks down, or is repaired. */
  setDown(down: boolean): void {
    this.stop(DOWN, down);
  }

  /** A token's step comes when the belt has run for so long. */
  afterRunning(token: number, seconds: number): void {
    this.failing.token = token;
    this.set(this.failing, this.time + seconds);
  }

  /** What was due by `afterRunning` has come. */
  hasRun(): void {
    this.failing.due = Number.NaN;
  }

  /**
   * Where each entity on it is now, from the first: its front in metres from the start, and how far it goes at the
   * belt's speed unless something stops it.
   */
  *positions(): Generator<{ readonly token: number; readonly at: number; readonly to: number }> {
    const { speed, length } = this.settings;
    const now = this.time;
    const last = this.first - 1 - this.base;
    const leftAt = last >= 0 ? this.left[last] : Number.NaN;
    let limit = leftAt >= 0 ? length + speed * (now - leftAt) - this.rooms[last] : Infinity;
    let end = length;
    for (let i = this.first - this.base; i < this.tokens.length; i++) {
      const at = Math.max(0, Math.min(length, limit, speed * (now - this.entered[i])));
      yield { token: this.tokens[i], at, to: this.stopped === 0 ? Math.max(at, end) : at };
      limit = at - this.rooms[i];
      // Behind one that stands at the end they close up; else all may come to the end.
      if (this.isFirstAtEnd) end = end - this.rooms[i];
    }
  }

  private get doing(): number {
    for (const reason of [DOWN, OFF_SHIFT, STOPPED]) if (this.stopped & (1 << reason)) return reason;
    return RUNNING;
  }

  /**
   * The start is clear when the last has its own room on the belt. One ahead may keep it from that: then when that one
   * has been let off, and the last has moved on.
   */
  private clearWhenMoved(): void {
    const { speed, length } = this.settings;
    const i = this.next - 1 - this.base;
    const k = this.pointer - this.base;
    const alone = this.entered[i] + this.rooms[i] / speed;
    const beyond = this.ahead[i] + this.rooms[i] - this.ahead[k] - length;
    this.isStuck = beyond > 0 && !(this.left[k] >= 0);
    if (this.isStuck) return;
    this.set(this.clearing, beyond > 0 ? Math.max(alone, this.left[k] + beyond / speed) : alone);
  }

  /** Has the first come to the end when it does. */
  private awaitFirst(): void {
    const { speed, length } = this.settings;
    const i = this.first - this.base;
    const free = this.entered[i] + length / speed;
    const behind = i > 0 ? this.left[i - 1] + this.rooms[i - 1] / speed : free;
    this.arrival.token = this.tokens[i];
    this.set(this.arrival, Math.max(free, behind));
  }

  private set(timer: Timer, due: number): void {
    timer.due = due;
    // Time run and the clock differ by what they did when it last began to run.
    if (this.stopped === 0)
      this.kernel.scheduleAt(
        timer.token,
        Math.max(this.kernel.now, due - this.ran + this.since),
        EventClass.activityEnd,
      );
  }

  /** Drops what is kept of those that have left and whose room is long gone. */
  private forget(): void {
    const gone = Math.min(this.first - 1, this.pointer) - this.base;
    if (gone < MOST_LEFT || 2 * gone < this.tokens.length) return;
    for (const list of [this.tokens, this.entered, this.left, this.rooms, this.ahead]) list.splice(0, gone);
    this.base += gone;
  }
}

/** The start of a belt: one enters at a time, when the one before it has moved on by its room. */
class Entry extends Claimable {
  constructor(
    private readonly running: Kernel,
    private readonly belt: Belt,
    private readonly precedenceOf: ((token: number) => number) | undefined,
    index: number,
  ) {
    super(running, 1, index);
  }

  override claim(token: number): boolean {
    if (this.tryClaim(token)) return true;
    this.own.append(this.running, token);
    return false;
  }

  /** Nobody passes those that wait, however small. */
  override tryClaim(token: number): boolean {
    this.belt.measure(token);
    if (this.free <= 0 || this.longestWaiting().head >= 0 || !this.belt.hasRoom) return false;
    this.free = 0;
    return true;
  }

  /** The last that entered has moved on. */
  clear(): void {
    this.free = 1;
    this.serveNext();
  }

  override release(): void {
    this.clear();
  }

  override handOver(): number {
    this.free = 1;
    return this.take();
  }

  /** Lets the next in, if the start is clear and it fits. */
  serveNext(): void {
    const token = this.free > 0 ? this.take() : -1;
    if (token >= 0) this.running.resume(token);
  }

  private take(): number {
    if (!this.belt.hasRoom) return -1;
    const list = this.longestWaiting();
    const token = this.nextOf(list);
    if (token < 0) return -1;
    if (list !== this.own) this.belt.measure(token);
    list.remove(this.running, token);
    if (list !== this.own) this.running.pool.setWay(token, this.index);
    this.free = 0;
    return token;
  }

  /** The first of those with the lowest precedence. */
  private nextOf(list: WaitList): number {
    const { precedenceOf, running } = this;
    if (!precedenceOf || list.length < 2) return list.head;
    let best = -1;
    let least = Infinity;
    list.each(running, (token) => {
      const precedence = precedenceOf(token);
      if (precedence < least) {
        least = precedence;
        best = token;
      }
    });
    return best < 0 ? list.head : best;
  }
}
