import { performance } from "node:perf_hooks";
import { compile, measuresOf, readStudy, run } from "../core/src/index.ts";
import { WayNetwork } from "../core/src/movement/network.ts";
import { ln } from "../core/src/numeric/elementary.ts";
import { openStreams } from "../core/src/random/streams.ts";
import { Level } from "../core/src/statistics/level.ts";
import { Tally } from "../core/src/statistics/tally.ts";

/** Streets across and down: 506 junctions, 50 m apart. */
const ACROSS = 23;
const DOWN = 22;
const APART = 50;
const VEHICLES = 200;
const PAIRS = 25;
const BETWEEN = 40;
const [SPEED, LOADED, LOAD, UNLOAD] = [8, 6, 20, 20];

type Spot = [number, number];
const junction = (i: number): Spot => [(i % ACROSS) * APART, Math.floor(i / ACROSS) * APART];
const homeAt = junction(Math.floor((ACROSS * DOWN) / 2));
/** Where each kind of load begins, and where it goes. */
const starts = Array.from({ length: PAIRS }, (_, i) => junction((i * 37 + 5) % (ACROSS * DOWN)));
const goals = Array.from({ length: PAIRS }, (_, i) => junction((i * 53 + 211) % (ACROSS * DOWN)));
const streets: Spot[][] = [
  ...Array.from({ length: DOWN }, (_, y) => Array.from({ length: ACROSS }, (_, x): Spot => [x * APART, y * APART])),
  ...Array.from({ length: ACROSS }, (_, x) => Array.from({ length: DOWN }, (_, y): Spot => [x * APART, y * APART])),
];

function yard(hours: number) {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Yard",
    run: { length: `${hours} h` },
    designs: [
      {
        id: "d",
        name: "Yard",
        entityTypes: [{ id: "t", name: "Load" }],
        elements: [
          ...starts.map((at, i) => ({
            ...{ id: `a${i}`, kind: "arrivals", name: `From ${i}`, at, entityType: "t" },
            between: `exponential(${BETWEEN} s)`,
          })),
          ...goals.map((at, i) => ({ id: `d${i}`, kind: "departures", name: `To ${i}`, at })),
          {
            ...{ id: "v", kind: "vehicle", name: "Trucks", at: homeAt, count: String(VEHICLES), over: "ways" },
            ...{ speed: `${SPEED} m/s`, speedLoaded: `${LOADED} m/s`, load: `${LOAD} s`, unload: `${UNLOAD} s` },
          },
        ],
        links: starts.map((_, i) => ({ id: `l${i}`, from: `a${i}`, to: `d${i}`, kind: "carried", by: "v" })),
        roads: streets.map((points, i) => ({ id: `r${i}`, kind: "road", points })),
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems.slice(0, 3)));
  const { program, problems } = compile(read.study, "d");
  if (!program) throw new Error(JSON.stringify(problems.slice(0, 3)));
  return program;
}

/** The same yard as somebody would write it who needs that one model: a table of distances, a heap of events. */
function byHand(seconds: number): { readonly events: number; readonly trips: number; readonly wait: number } {
  const places = [homeAt, ...starts, ...goals];
  const network = new WayNetwork(
    streets.map((points) => ({ points, oneWay: false, limit: Infinity })),
    places,
  );
  const n = places.length;
  const metres = Float64Array.from({ length: n * n }, (_, i) =>
    network.distance(places[Math.floor(i / n)], places[i % n]),
  );
  const streams = openStreams(1, 1);
  const uniform = starts.map((_, i) => streams.stream(i + 1).uniform());
  const clock = new Float64Array(1);
  const doing = Array.from({ length: 5 }, () => new Level(clock));
  const [inSystem, waiting] = [new Level(clock), new Level(clock)];
  const [wait, noneFree, onTheWay] = [new Tally(), new Tally(), new Tally()];
  const times = goals.map(() => new Tally());
  const state = new Uint8Array(VEHICLES);
  const at = new Int32Array(VEHICLES);
  const job = new Int32Array(VEHICLES);
  const asked = new Float64Array(VEHICLES);
  const answered = new Float64Array(VEHICLES);
  const heapTimes = new Float64Array(VEHICLES + PAIRS + 1);
  const heap = new Int32Array(VEHICLES + PAIRS + 1);
  let size = 0;
  const push = (time: number, thing: number): void => {
    let i = size++;
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (heapTimes[parent] <= time) break;
      heapTimes[i] = heapTimes[parent];
      heap[i] = heap[parent];
      i = parent;
    }
    heapTimes[i] = time;
    heap[i] = thing;
  };
  const pop = (): number => {
    const top = heap[0];
    size -= 1;
    const [time, thing] = [heapTimes[size], heap[size]];
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= size) break;
      if (child + 1 < size && heapTimes[child + 1] < heapTimes[child]) child += 1;
      if (time <= heapTimes[child]) break;
      heapTimes[i] = heapTimes[child];
      heap[i] = heap[child];
      i = child;
    }
    heapTimes[i] = time;
    heap[i] = thing;
    return top;
  };
  const queue: { readonly pair: number; readonly since: number }[] = [];
  let head = 0;
  let trips = 0;
  let driven = 0;
  let events = 0;
  doing[0].add(VEHICLES);
  const become = (v: number, next: number): void => {
    doing[state[v]].add(-1);
    doing[next].add(1);
    state[v] = next;
  };
  const match = (now: number): void => {
    while (head < queue.length) {
      const { pair, since } = queue[head];
      let best = -1;
      let least = Infinity;
      for (let v = 0; v < VEHICLES; v++) {
        if (state[v] !== 0) continue;
        const far = metres[at[v] * n + 1 + pair];
        if (far < least) {
          least = far;
          best = v;
        }
      }
      if (best < 0) return;
      head += 1;
      job[best] = pair;
      asked[best] = since;
      answered[best] = now;
      become(best, 1);
      at[best] = 1 + pair;
      driven += least;
      push(now + least / SPEED, best);
    }
    queue.length = 0;
    head = 0;
  };
  for (let i = 0; i < PAIRS; i++) push(-BETWEEN * ln(1 - uniform[i]()), VEHICLES + i);
  while (heapTimes[0] <= seconds) {
    const now = heapTimes[0];
    clock[0] = now;
    events += 1;
    const thing = pop();
    if (thing >= VEHICLES) {
      const pair = thing - VEHICLES;
      inSystem.add(1);
      waiting.add(1);
      queue.push({ pair, since: now });
      push(now - BETWEEN * ln(1 - uniform[pair]()), thing);
      match(now);
      continue;
    }
    const v = thing;
    const pair = job[v];
    if (state[v] === 1) {
      waiting.add(-1);
      wait.add(now - asked[v]);
      noneFree.add(answered[v] - asked[v]);
      onTheWay.add(now - answered[v]);
      become(v, 2);
      push(now + LOAD, v);
    } else if (state[v] === 2) {
      const far = metres[(1 + pair) * n + 1 + PAIRS + pair];
      driven += far;
      become(v, 3);
      at[v] = 1 + PAIRS + pair;
      push(now + far / LOADED, v);
    } else if (state[v] === 3) {
      become(v, 4);
      push(now + UNLOAD, v);
    } else {
      trips += 1;
      inSystem.add(-1);
      times[pair].add(now - asked[v]);
      become(v, 0);
      match(now);
    }
  }
  for (const tally of [...times, wait]) for (const p of [0.5, 0.9, 0.95, 0.99]) tally.quantile(p);
  if (!(driven > 0)) throw new Error("Nothing was driven.");
  return { events, trips, wait: wait.mean };
}

/** How fast a fleet of 200 runs over 506 junctions, and how much longer it takes than the same written by hand. */
export function benchFleet(): { readonly ratio: number; readonly eventsPerSecond: number } {
  const hours = 40;
  const program = yard(hours);
  const infos = measuresOf(program);
  let [ours, theirs] = [Infinity, Infinity];
  let eventsPerSecond = 0;
  for (let round = 0; round < 4; round++) {
    let start = performance.now();
    const result = run(program, { seed: 1, replication: 1 })!;
    const took = performance.now() - start;
    if (took < ours) {
      ours = took;
      eventsPerSecond = (result.events / took) * 1000;
    }
    start = performance.now();
    const hand = byHand(hours * 3600);
    theirs = Math.min(theirs, performance.now() - start);
    const value = (key: string) => result.values[infos.findIndex((m) => m.key === key)];
    // Their random numbers are others, so they agree but for chance.
    if (Math.abs(value("v/trips") / hand.trips - 1) > 0.02 || Math.abs(value("v/wait.mean") / hand.wait - 1) > 0.1)
      throw new Error(`They differ: ${value("v/trips")} and ${hand.trips}, ${value("v/wait.mean")} and ${hand.wait}.`);
  }
  return { ratio: ours / theirs, eventsPerSecond };
}
