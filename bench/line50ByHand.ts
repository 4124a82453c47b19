import { ln } from "../core/src/numeric/elementary.ts";
import { openStreams } from "../core/src/random/streams.ts";

/*
 * The line of 50 stations of line50.ts written out by hand, as somebody would who needs that one model and no other:
 * two shifts and pauses at the bell, breakdowns by time at work, setters and fitters, lines with room for ten. It
 * keeps for each station the averages of its line and of what its slots do and the quantiles of its waits, and of the
 * entities their times in system with the parts of these: what the kernel reports with no set-up.
 */

const STATIONS = 50;
const DAY = 86_400;
const SETUP_TIME = 5;
const SETTERS = 3;
const FITTERS = 4;
const ROOM = 10;

const IDLE = 0;
const SETTING_UP = 1;
const WORKING = 2;
const NEEDING = 3;
const BLOCKED = 4;
const DOWN = 5;
const OFF = 6;
const STATES = 7;

/** What happens: an arrival, the bell, the end of a slot's phase, a station's breakdown, the end of its repair. */
const ARRIVAL = 0;
const BELL = 1;
const FIRST_SLOT = 2;

export interface ByHand {
  readonly departed: number;
  readonly meanTimeInSystem: number;
  readonly meanWait: number;
  readonly busy: number;
  /** Means of the parts of times in system: waiting, worked on, blocked. */
  readonly parts: readonly number[];
  /** 50, 90, 95 and 99 % quantiles of the waits at each station, then of the times in system. */
  readonly quantiles: readonly (readonly number[])[];
}

/** Events by time in a binary heap; each thing has one at most, and knows where it is. */
class Heap {
  private readonly times: Float64Array;
  private readonly things: Int32Array;
  private readonly at: Int32Array;
  private size = 0;

  constructor(things: number) {
    this.times = new Float64Array(things + 1);
    this.things = new Int32Array(things + 1);
    this.at = new Int32Array(things).fill(-1);
  }
  get nextTime(): number {
    return this.times[0];
  }
  timeOf(thing: number): number {
    return this.times[this.at[thing]];
  }
  isPending(thing: number): boolean {
    return this.at[thing] >= 0;
  }
  add(thing: number, time: number): void {
    this.up(this.size++, thing, time);
  }
  pop(): number {
    const thing = this.things[0];
    this.remove(thing);
    return thing;
  }
  remove(thing: number): void {
    const hole = this.at[thing];
    if (hole < 0) return;
    this.at[thing] = -1;
    const last = --this.size;
    if (hole === last) return;
    const [time, moved] = [this.times[last], this.things[last]];
    if (hole > 0 && this.times[(hole - 1) >> 1] > time) this.up(hole, moved, time);
    else this.down(hole, moved, time);
  }
  private up(from: number, thing: number, time: number): void {
    let i = from;
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (this.times[parent] <= time) break;
      this.put(i, this.things[parent], this.times[parent]);
      i = parent;
    }
    this.put(i, thing, time);
  }
  private down(from: number, thing: number, time: number): void {
    let i = from;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= this.size) break;
      if (child + 1 < this.size && this.times[child + 1] < this.times[child]) child += 1;
      if (this.times[child] >= time) break;
      this.put(i, this.things[child], this.times[child]);
      i = child;
    }
    this.put(i, thing, time);
  }
  private put(i: number, thing: number, time: number): void {
    this.times[i] = time;
    this.things[i] = thing;
    this.at[thing] = i;
  }
}

export function line50ByHand(seed: number, replication: number, seconds: number): ByHand {
  const streams = openStreams(seed, replication);
  let stream = 0;
  const uniform = () => streams.stream(++stream).uniform();
  const between = uniform();
  const works = Array.from({ length: STATIONS }, uniform);
  const fails = Array.from({ length: STATIONS }, uniform);
  const repairs = Array.from({ length: STATIONS }, uniform);
  const exponential = (mean: number, u: number) => -mean * ln(1 - u);
  // Triangular from 40 to 75 with its peak at 55, by inversion.
  const triangular = (u: number) => (u < 15 / 35 ? 40 + Math.sqrt(u * 525) : 75 - Math.sqrt((1 - u) * 700));

  const capacity = Array.from({ length: STATIONS }, (_, s) => (s % 7 === 0 ? 2 : 1));
  const stationOf: number[] = [];
  const firstSlot = capacity.map((units, s) => {
    for (let i = 0; i < units; i++) stationOf.push(s);
    return stationOf.length - units;
  });
  const slots = stationOf.length;
  const FIRST_FAIL = FIRST_SLOT + slots;
  const FIRST_REPAIR = FIRST_FAIL + STATIONS;
  const heap = new Heap(FIRST_REPAIR + STATIONS);

  // Slots: who is in each, what it does but for shifts and breakdowns, what it is seen to do, and what is left of it.
  const occupant = new Int32Array(slots).fill(-1);
  const doing = new Uint8Array(slots);
  const state = new Uint8Array(slots);
  const left = new Float64Array(slots);
  const isOpen = new Uint8Array(slots).fill(1);
  // Stations.
  const down = new Uint8Array(STATIONS);
  const working = new Int32Array(STATIONS);
  const failLeft = new Float64Array(STATIONS);
  const room = Int32Array.from(capacity, (units, s) => (s === 0 ? 1e9 : units + ROOM));
  const area = new Float64Array(STATIONS * STATES);
  const level = new Float64Array(STATIONS * STATES);
  const since = new Float64Array(STATIONS * STATES);
  const lineArea = new Float64Array(STATIONS);
  const lineSince = new Float64Array(STATIONS);
  const lines = Array.from({ length: STATIONS }, () => ({ head: 0, list: [] as number[] }));
  const outside = Array.from({ length: STATIONS }, () => [] as number[]);
  // Entities.
  const born: number[] = [];
  const joined: number[] = [];
  // What its time in system is made of so far, and when the present part began.
  const [waiting, worked, blocked, from]: number[][] = [[], [], [], []];
  const parts = [0, 0, 0];
  const waitsOf = Array.from({ length: STATIONS }, () => [] as number[]);
  const times: number[] = [];
  const unused: number[] = [];
  const needSetter: number[] = [];
  const needFitter: number[] = [];
  let [setters, fitters] = [SETTERS, FITTERS];
  let off = 0;
  let now = 0;
  let [departed, timeInSystem, waits, waited] = [0, 0, 0, 0];

  const change = (cell: number, by: number): void => {
    area[cell] += level[cell] * (now - since[cell]);
    since[cell] = now;
    level[cell] += by;
  };
  const inLine = (s: number): number => lines[s].list.length - lines[s].head;
  const countLine = (s: number): void => {
    lineArea[s] += inLine(s) * (now - lineSince[s]);
    lineSince[s] = now;
  };
  /** What a slot is seen to do follows from shifts, breakdowns and what is in it; so does the clock of breakdowns. */
  const refresh = (slot: number): void => {
    const s = stationOf[slot];
    const seen = off ? OFF : down[s] ? DOWN : occupant[slot] >= 0 ? doing[slot] : IDLE;
    const before = state[slot];
    if (seen !== before) {
      state[slot] = seen;
      change(s * STATES + before, -1);
      change(s * STATES + seen, 1);
      if (before === WORKING && --working[s] === 0 && heap.isPending(FIRST_FAIL + s)) {
        failLeft[s] = heap.timeOf(FIRST_FAIL + s) - now;
        heap.remove(FIRST_FAIL + s);
      } else if (seen === WORKING && working[s]++ === 0 && !down[s]) heap.add(FIRST_FAIL + s, now + failLeft[s]);
    }
    const open = occupant[slot] >= 0 || seen === IDLE ? 1 : 0;
    if (open === isOpen[slot]) return;
    isOpen[slot] = open;
    if (s > 0) giveRoom(s, open ? 1 : -1);
  };
  const stopsWork = (slot: number): boolean => off > 0 || down[stationOf[slot]] > 0;
  const inProgress = (slot: number): boolean =>
    occupant[slot] >= 0 && (doing[slot] === SETTING_UP || doing[slot] === WORKING);
  const pause = (slot: number): void => {
    if (!inProgress(slot) || !heap.isPending(FIRST_SLOT + slot)) return;
    left[slot] = heap.timeOf(FIRST_SLOT + slot) - now;
    heap.remove(FIRST_SLOT + slot);
  };
  const goOn = (slot: number): void => {
    if (inProgress(slot) && !stopsWork(slot)) heap.add(FIRST_SLOT + slot, now + left[slot]);
  };
  const begin = (slot: number, what: number, duration: number): void => {
    from[occupant[slot]] = now;
    doing[slot] = what;
    left[slot] = duration;
    refresh(slot);
    goOn(slot);
  };
  const takeSlot = (s: number, slot: number, entity: number): void => {
    occupant[slot] = entity;
    if (s % 5 > 0) begin(slot, WORKING, triangular(works[s]()));
    else if (setters > 0) {
      setters -= 1;
      begin(slot, SETTING_UP, SETUP_TIME);
    } else {
      doing[slot] = NEEDING;
      refresh(slot);
      needSetter.push(slot);
    }
  };
  const freeSlot = (s: number): number => {
    for (let slot = firstSlot[s], end = slot + capacity[s]; slot < end; slot++) if (state[slot] === IDLE) return slot;
    return -1;
  };
  const serve = (s: number): void => {
    for (let slot = freeSlot(s); slot >= 0 && inLine(s) > 0; slot = freeSlot(s)) {
      countLine(s);
      const line = lines[s];
      const entity = line.list[line.head++];
      if (line.head > 64) {
        line.list.splice(0, line.head);
        line.head = 0;
      }
      const wait = now - joined[entity];
      waits += wait;
      waited += 1;
      waitsOf[s].push(wait);
      waiting[entity] += wait;
      takeSlot(s, slot, entity);
    }
  };
  const come = (s: number, entity: number): void => {
    const slot = inLine(s) > 0 ? -1 : freeSlot(s);
    if (slot >= 0) {
      waited += 1;
      waitsOf[s].push(0);
      takeSlot(s, slot, entity);
      return;
    }
    countLine(s);
    joined[entity] = now;
    lines[s].list.push(entity);
  };
  const vacate = (slot: number): void => {
    const s = stationOf[slot];
    occupant[slot] = -1;
    refresh(slot);
    if (s > 0) giveRoom(s, 1);
    serve(s);
  };
  /** Room comes free or goes; who is blocked before it comes in. */
  function giveRoom(s: number, by: number): void {
    room[s] += by;
    while (room[s] > 0 && outside[s].length > 0) {
      room[s] -= 1;
      const slot = outside[s].shift()!;
      const entity = occupant[slot];
      blocked[entity] += now - from[entity];
      vacate(slot);
      come(s, entity);
    }
  }
  const leave = (slot: number): void => {
    const next = stationOf[slot] + 1;
    const entity = occupant[slot];
    if (next === STATIONS) {
      departed += 1;
      timeInSystem += now - born[entity];
      times.push(now - born[entity]);
      parts[0] += waiting[entity];
      parts[1] += worked[entity];
      parts[2] += blocked[entity];
      unused.push(entity);
      vacate(slot);
    } else if (room[next] > 0) {
      room[next] -= 1;
      vacate(slot);
      come(next, entity);
    } else {
      doing[slot] = BLOCKED;
      refresh(slot);
      outside[next].push(slot);
    }
  };
  const ended = (slot: number): void => {
    const s = stationOf[slot];
    const entity = occupant[slot];
    worked[entity] += now - from[entity];
    from[entity] = now;
    if (doing[slot] === WORKING) {
      leave(slot);
      return;
    }
    begin(slot, WORKING, triangular(works[s]()));
    const next = needSetter.shift();
    if (next === undefined) setters += 1;
    else begin(next, SETTING_UP, SETUP_TIME);
  };
  const eachSlot = (s: number, act: (slot: number) => void): void => {
    for (let slot = firstSlot[s], end = slot + capacity[s]; slot < end; slot++) act(slot);
  };
  const repair = (s: number): void => heap.add(FIRST_REPAIR + s, now + exponential(600, repairs[s]()));
  const fail = (s: number): void => {
    eachSlot(s, pause);
    down[s] = 1;
    eachSlot(s, refresh);
    if (fitters > 0) {
      fitters -= 1;
      repair(s);
    } else needFitter.push(s);
  };
  const repaired = (s: number): void => {
    down[s] = 0;
    failLeft[s] = exponential(21_600, fails[s]());
    const next = needFitter.shift();
    if (next === undefined) fitters += 1;
    else repair(next);
    eachSlot(s, (slot) => {
      refresh(slot);
      goOn(slot);
    });
    serve(s);
  };
  // From 06:00: at work for 8 h, off for half an hour, at work for 8 h, off for 7.5 h.
  const bells = [8 * 3600, 8.5 * 3600, 16.5 * 3600, DAY];
  const bell = (): void => {
    const which = Math.round((now % DAY) / 1800) === 0 ? 3 : bells.findIndex((b) => Math.abs(b - (now % DAY)) < 1);
    const opens = which % 2 === 1;
    if (!opens) for (let slot = 0; slot < slots; slot++) pause(slot);
    off = opens ? 0 : 1;
    for (let slot = 0; slot < slots; slot++) {
      refresh(slot);
      if (opens) goOn(slot);
    }
    if (opens) for (let s = 0; s < STATIONS; s++) serve(s);
    const day = Math.floor(now / DAY + 1e-9) * DAY;
    heap.add(BELL, which === 3 ? day + bells[0] : day + bells[which + 1]);
  };

  for (let s = 0; s < STATIONS; s++) {
    level[s * STATES + IDLE] = capacity[s];
    failLeft[s] = exponential(21_600, fails[s]());
  }
  heap.add(ARRIVAL, exponential(110, between()));
  heap.add(BELL, bells[0]);
  while (heap.nextTime <= seconds) {
    now = heap.nextTime;
    const what = heap.pop();
    if (what === ARRIVAL) {
      const entity = unused.pop() ?? born.length;
      born[entity] = now;
      waiting[entity] = worked[entity] = blocked[entity] = 0;
      come(0, entity);
      heap.add(ARRIVAL, now + exponential(110, between()));
    } else if (what === BELL) bell();
    else if (what < FIRST_FAIL) ended(what - FIRST_SLOT);
    else if (what < FIRST_REPAIR) fail(what - FIRST_FAIL);
    else repaired(what - FIRST_REPAIR);
  }
  now = seconds;
  const quantiles = [...waitsOf, times].map((list) => {
    const sorted = Float64Array.from(list).sort();
    return [0.5, 0.9, 0.95, 0.99].map((p) => sorted[Math.ceil(p * sorted.length) - 1]);
  });
  let busy = 0;
  for (let s = 0; s < STATIONS; s++) {
    for (let k = 0; k < STATES; k++) change(s * STATES + k, 0);
    countLine(s);
    busy += area[s * STATES + WORKING];
  }
  return {
    departed,
    meanTimeInSystem: timeInSystem / departed,
    meanWait: waits / waited,
    busy: busy / (slots * seconds),
    parts: parts.map((sum) => sum / departed),
    quantiles,
  };
}
