import { DOING } from "../lowering/carrying.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { PHASE, type Place } from "../lowering/places.ts";
import { MANNERS } from "../lowering/walkers.ts";
import type { Node } from "../model/model.ts";
import type { Point } from "../settings/parts.ts";

/** Where each entity is at one instant: parallel arrays, one entry an entity. */
export interface Frame {
  readonly time: number;
  readonly ended: boolean;
  readonly events: number;
  readonly count: number;
  readonly serial: Float64Array;
  readonly type: Int16Array;
  /** Which of its type's colours it has: how many of the bands' values its attribute reaches. */
  readonly shade: Uint8Array;
  /** The look that steps gave it, by its number from 1 among those of the design; 0: that of its type. */
  readonly look: Uint8Array;
  /** Element index, or number of elements plus link index for one on a link. */
  readonly place: Int32Array;
  /** A `PHASE`. */
  readonly phase: Uint8Array;
  /** When its present phase began, for order in line, and since when it moves as `motion` says. */
  readonly since: Float64Array;
  /** When its present phase or motion ends; NaN where nothing is known of that. */
  readonly until: Float64Array;
  readonly motion: Motion;
  /** Place in line, from 0, where lines are not in the order of coming; else 0. */
  readonly position: Int32Array;
  /** Entities that have passed, by element: created at arrivals, departed at departures, else now inside. */
  readonly counts: Int32Array;
  /**
   * What each slot or unit is doing, a `UNIT` each, by element; for stations with more than capacity and time, and
   * for resources.
   */
  readonly units: Readonly<Record<number, Uint8Array>>;
  /** Who is in each slot of such a station, by serial number; 0 for nobody. */
  readonly occupants: Readonly<Record<number, Float64Array>>;
  readonly carriers: Carriers;
  /** Members of crews that walk, wherever they are; `doing` is what a unit does, a `UNIT`. */
  readonly members: Carriers;
  /** Whom steps have walk: from which element to which, and 1 where they go over the ways that are drawn. */
  readonly walks: Readonly<Record<number, readonly [from: number, to: number, overWays: 0 | 1]>>;
  /** The ways of those of whom that is not known of old, as ways count otherwise now and then: where each bends. */
  readonly paths: Readonly<Record<number, readonly Point[]>>;
  /** Of an entity with whom members of a crew go, how: its place in `MANNERS` from 1; else 0. */
  readonly taken: Uint8Array;
  /** Walkways and roads that are followed, in their order. */
  readonly roads: RoadStates;
  /** Where each slot or unit is, by element: the index of an element, its own or that at which it is in use. */
  readonly unitPlaces: Readonly<Record<number, Int32Array>>;
}

/** Of ways that are followed: how many are on each, how many wait to come onto it, and 1 where it is closed. */
export interface RoadStates {
  readonly on: Int32Array;
  readonly waiting: Int32Array;
  readonly closed: Uint8Array;
}

/** Vehicles, or members of crews, at one instant: parallel arrays, one entry each. */
export interface Carriers {
  readonly count: number;
  /** Index of the element that they are of, and which of its units, from 0. */
  readonly element: Int32Array;
  readonly number: Int32Array;
  /** What each does: of vehicles its place in `DOING`. */
  readonly doing: Uint8Array;
  /** Indices of the elements between which it drives; where it stands, both are the one at which it does. */
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** Index of the link along which it carries; -1 where it carries along none. */
  readonly link: Int32Array;
  /** Type and serial number of what is on it; -1 and 0 where nothing is. */
  readonly load: Int16Array;
  readonly serial: Float64Array;
  /** What else is on them: type and serial number, in the order in which it came on. */
  readonly others: Readonly<Record<number, ReadonlyArray<readonly [type: number, serial: number]>>>;
  /** As of entities. */
  readonly paths: Readonly<Record<number, readonly Point[]>>;
  /** Of a member who goes with an entity, how: its place in `MANNERS` from 1; else 0. */
  readonly manner: Uint8Array;
  readonly since: Float64Array;
  readonly until: Float64Array;
  readonly motion: Motion;
}

/**
 * The segments of motion of what moves: along its link, from where to where, in metres along the path, at which speed
 * in metres a second. It is at `from` at the time `since`, and at `to` at the time `until`; what stands has 0 speed.
 */
export interface Motion {
  readonly from: Float64Array;
  readonly to: Float64Array;
  readonly speed: Float64Array;
}

/** Metres along its path at which an entity of a frame is at `time`, be that before or after that of the frame. */
export function metresAlong(
  { motion, since, until }: Pick<Frame, "motion" | "since" | "until">,
  i: number,
  time: number,
) {
  const { from, to, speed } = motion;
  if (speed[i] === 0) return from[i];
  if (time >= until[i]) return to[i];
  return from[i] + Math.max(0, time - since[i]) * speed[i];
}

/** A picture of the instant, for watching. Reads only: it changes nothing of the run. */
export function frameOf(lowering: Lowering, time: number, ended: boolean): Frame {
  const { kernel, model, shown, places } = lowering;
  const { pool, calendar } = kernel;
  const tokens: number[] = [];
  for (let token = 0; token < pool.used; token++)
    if (pool.typeOf(token) >= 0 && pool.placeOf(token) >= 0) tokens.push(token);
  let vehicles = 0;
  for (const { count } of lowering.fleets.values()) vehicles += count;
  let members = 0;
  for (const { walkers } of lowering.resources.each().values()) members += walkers?.count ?? 0;
  const counts = [tokens.length, vehicles, members, model.followed.length] as const;
  const frame = emptyFrame(time, ended, kernel.events, counts, model.nodes, (node) => shown.countOf(node));
  for (const node of model.nodes) addUnits(frame, node, lowering);
  addCarriers(frame.carriers, time, lowering);
  const positions = new Map<number, number>();
  shown.eachInOrder((token, position) => positions.set(token, position));
  tokens.forEach((token, i) => {
    const type = pool.typeOf(token);
    const { bands } = model.types[type];
    const place = places.get(pool.placeOf(token));
    frame.position[i] = positions.get(token) ?? 0;
    frame.serial[i] = pool.serial[token];
    frame.type[i] = type;
    if (bands) frame.shade[i] = shadeOf(pool.attributes[token * model.attributeCount + bands.slot], bands.from);
    frame.look[i] = shown.lookOf(token, pool.serial[token]);
    frame.place[i] = place.at;
    frame.phase[i] = PHASE[place.phase];
    frame.since[i] = pool.sinceOf(token);
    frame.until[i] = calendar.timeOf(token);
    addMotion(frame, i, place);
  });
  addBelts(frame, tokens, lowering);
  lowering.traffic.state().forEach(({ on, waiting, isClosed }, i) => {
    frame.roads.on[i] = on;
    frame.roads.waiting[i] = waiting;
    frame.roads.closed[i] = isClosed ? 1 : 0;
  });
  addMembers(frame, tokens, lowering);
  addWalks(frame, tokens, lowering);
  return frame;
}

const emptyFrame = (
  time: number,
  ended: boolean,
  events: number,
  [count, vehicles, members, roads]: readonly [count: number, vehicles: number, members: number, roads: number],
  nodes: readonly Node[],
  countOf: (node: Node) => number,
) => ({
  time,
  ended,
  events,
  count,
  serial: new Float64Array(count),
  type: new Int16Array(count),
  shade: new Uint8Array(count),
  look: new Uint8Array(count),
  place: new Int32Array(count),
  phase: new Uint8Array(count),
  since: new Float64Array(count),
  until: new Float64Array(count),
  motion: { from: new Float64Array(count), to: new Float64Array(count), speed: new Float64Array(count) },
  position: new Int32Array(count),
  counts: Int32Array.from(nodes, countOf),
  units: {} as Record<number, Uint8Array>,
  carriers: emptyCarriers(vehicles),
  members: emptyCarriers(members),
  walks: {} as Record<number, readonly [from: number, to: number, overWays: 0 | 1]>,
  paths: {} as Record<number, readonly Point[]>,
  taken: new Uint8Array(count),
  roads: { on: new Int32Array(roads), waiting: new Int32Array(roads), closed: new Uint8Array(roads) },
  occupants: {} as Record<number, Float64Array>,
  unitPlaces: {} as Record<number, Int32Array>,
});

const emptyCarriers = (count: number) => ({
  count,
  element: new Int32Array(count),
  number: new Int32Array(count),
  doing: new Uint8Array(count),
  from: new Int32Array(count),
  to: new Int32Array(count),
  link: new Int32Array(count).fill(-1),
  load: new Int16Array(count).fill(-1),
  serial: new Float64Array(count),
  others: {} as Record<number, (readonly [type: number, serial: number])[]>,
  paths: {} as Record<number, readonly Point[]>,
  manner: new Uint8Array(count),
  since: new Float64Array(count),
  until: new Float64Array(count),
  motion: { from: new Float64Array(count), to: new Float64Array(count), speed: new Float64Array(count) },
});

/** What moves goes from one end of its path to the other in the time of its phase. */
function addMotion({ motion, since, until }: Frame, i: number, { path }: Place): void {
  if (!path) return;
  const duration = until[i] - since[i];
  motion.to[i] = path.to;
  if (duration > 0) {
    motion.from[i] = path.from;
    motion.speed[i] = (path.to - path.from) / duration;
  } else motion.from[i] = path.to;
}

/** Who is on a conveyor moves as those ahead let it. */
function addBelts({ motion, since, until, place, phase }: Frame, tokens: readonly number[], lowering: Lowering): void {
  const { conveyors } = lowering.network;
  if (conveyors.isEmpty) return;
  const { nodes } = lowering.model;
  const now = lowering.kernel.now;
  const at = new Map(tokens.map((token, i) => [token, i]));
  for (const [way, belt] of conveyors.each())
    for (const { token, at: metres, to } of belt.positions()) {
      const i = at.get(token);
      if (i === undefined) continue;
      const { speed } = belt.settings;
      // One that waits at an element in which it takes no room still lies on its belt.
      place[i] = nodes.length + way;
      phase[i] = PHASE.moving;
      motion.from[i] = metres;
      motion.to[i] = to;
      motion.speed[i] = to > metres ? speed : 0;
      since[i] = now;
      until[i] = now + (to - metres) / speed;
    }
}

function addCarriers(
  carriers: ReturnType<typeof emptyCarriers>,
  time: number,
  { fleets, model, kernel }: Lowering,
): void {
  const { pool } = kernel;
  const indexOf = new Map(model.nodes.map(({ element, index }) => [element.id, index]));
  let i = 0;
  for (const [id, fleet] of fleets) {
    for (const { number, doing, from, to, way, load, others, since, until, metres, points } of fleet.vehicles(time)) {
      const [at, end] = metres ?? [0, 0];
      carriers.element[i] = indexOf.get(id)!;
      carriers.number[i] = number;
      carriers.doing[i] = DOING.indexOf(doing);
      carriers.from[i] = metres ? from : to;
      carriers.to[i] = to;
      carriers.link[i] = way;
      carriers.load[i] = load < 0 ? -1 : pool.typeOf(load);
      carriers.serial[i] = load < 0 ? 0 : pool.serial[load];
      if (others.length > 0) carriers.others[i] = others.map((token) => [pool.typeOf(token), pool.serial[token]]);
      if (points) carriers.paths[i] = points;
      carriers.since[i] = since;
      carriers.until[i] = until;
      carriers.motion.from[i] = at;
      carriers.motion.to[i] = end;
      carriers.motion.speed[i] = end > at && until > since ? (end - at) / (until - since) : 0;
      i += 1;
    }
  }
}

/** Those who walk are on their way, those whom they escort beside them; all others stand where they are. */
function addMembers(
  frame: ReturnType<typeof emptyFrame>,
  tokens: readonly number[],
  { resources, model }: Lowering,
): void {
  const { members, time } = frame;
  if (members.count === 0) return;
  const indexOf = new Map(model.nodes.map(({ element, index }) => [element.id, index]));
  const at = new Map(tokens.map((token, i) => [token, i]));
  let base = 0;
  for (const [id, { walkers, units }] of resources.each()) {
    if (!walkers) continue;
    for (let unit = 0; unit < walkers.count; unit++) {
      const i = base + unit;
      members.element[i] = indexOf.get(id)!;
      members.number[i] = unit;
      members.doing[i] = units.state[unit];
      members.from[i] = members.to[i] = walkers.placeOf(unit);
      members.until[i] = Number.NaN;
    }
    for (const { unit, from, at: metres, end, until, goes, points } of walkers.walks(time)) {
      const i = base + unit;
      const speed = until > time ? (end - metres) / (until - time) : 0;
      members.from[i] = from;
      setMotion(members, i, [time, until], [metres, end], speed);
      if (points) members.paths[i] = points;
      members.manner[i] = goes ? MANNERS.indexOf(goes) + 1 : 0;
      const escorted = goes ? at.get(units.occupant[unit]) : undefined;
      if (escorted === undefined) continue;
      frame.taken[escorted] = members.manner[i];
      if (points) frame.paths[escorted] = points;
      const way = points ? undefined : model.ways[frame.place[escorted] - model.nodes.length];
      if (!way) frame.walks[escorted] = [from, walkers.placeOf(unit), walkers.settings.going.overWays ? 1 : 0];
      // Its link may be drawn with bends.
      const scale = way ? way.drawnLength / walkers.metresOf(unit) : 1;
      setMotion(frame, escorted, [time, until], [metres * scale, end * scale], speed * scale);
    }
    base += walkers.count;
  }
}

function addWalks(frame: ReturnType<typeof emptyFrame>, tokens: readonly number[], { walks }: Lowering): void {
  const { time } = frame;
  const at = new Map(tokens.map((token, i) => [token, i]));
  for (const { token, from, to, overWays, at: metres, end, until, points } of walks.walks(time)) {
    const i = at.get(token);
    if (i === undefined) continue;
    frame.walks[i] = [from, to, overWays ? 1 : 0];
    if (points) frame.paths[i] = points;
    setMotion(frame, i, [time, until], [metres, end], until > time ? (end - metres) / (until - time) : 0);
  }
}

function setMotion(
  { since, until, motion }: Pick<Frame, "since" | "until" | "motion">,
  i: number,
  [begins, ends]: readonly [number, number],
  [from, to]: readonly [number, number],
  speed: number,
): void {
  since[i] = begins;
  until[i] = ends;
  motion.from[i] = from;
  motion.to[i] = to;
  motion.speed[i] = speed;
}

function addUnits(frame: ReturnType<typeof emptyFrame>, node: Node, { kernel, shown, places }: Lowering): void {
  const units = shown.unitsOf(node);
  if (!units) return;
  const { pool } = kernel;
  const isEntity = (token: number) => token >= 0 && pool.typeOf(token) >= 0;
  frame.units[node.index] = units.state.slice();
  frame.occupants[node.index] = Float64Array.from(units.occupant, (token) =>
    isEntity(token) ? pool.serial[token] : 0,
  );
  frame.unitPlaces[node.index] = Int32Array.from(units.occupant, (token) =>
    isEntity(token) && pool.placeOf(token) >= 0 ? places.get(pool.placeOf(token)).at : node.index,
  );
}

/** How many of the rising values are reached. */
function shadeOf(value: number, from: readonly number[]): number {
  let shade = 0;
  while (shade < from.length && value >= from[shade]) shade++;
  return shade;
}
