import {
  type Design,
  DOING,
  type Doing,
  type Frame,
  type Manner,
  MANNERS,
  PHASES,
  type Point,
  UNIT_WORDS,
} from "@busy-harbor/core";

/** Who is followed: an entity by its serial number, a vehicle, or a member of a crew who walks. */
export type Followed =
  | { readonly kind: "entity"; readonly serial: number }
  | { readonly kind: "vehicle" | "member"; readonly element: number; readonly number: number };

export const isSame = (a: Followed, b: Followed): boolean =>
  a.kind === "entity"
    ? b.kind === "entity" && a.serial === b.serial
    : b.kind === a.kind && a.element === b.element && a.number === b.number;

/** Metres that it must have gone for the trail to have one more point. */
const APART = 0.2;
/** The most points of a trail: the oldest go first. */
const MOST = 600;

/** Where somebody has been, as far as it was seen: points on the floor, in metres, the oldest first. */
export class Trail {
  points: Point[] = [];
  private time = -Infinity;

  /** It is at a point at a time; a time before the last begins anew. */
  add(point: Point, time: number): void {
    if (time < this.time) this.points = [];
    this.time = time;
    const last = this.points.at(-1);
    if (last && Math.hypot(point[0] - last[0], point[1] - last[1]) < APART) return;
    this.points.push(point);
    if (this.points.length > MOST) this.points.shift();
  }
}

const WORDS: Readonly<Record<(typeof PHASES)[number], string>> = {
  waiting: "waiting",
  working: "worked on",
  moving: "moving",
  dwelling: "staying",
  blocked: "finds no room ahead",
  needing: "waiting for somebody or something",
  settingUp: "being set up for",
};

/** What becomes of who is taken somewhere by somebody of a crew. */
const TAKEN: Readonly<Record<Manner, string>> = {
  beside: "escorted",
  pushes: "pushed",
  "carries ahead": "carried",
  "carries behind": "carried",
};

/** What vehicles do, as it goes on after "is". */
const DRIVES: Readonly<Record<Doing, string>> = {
  idle: "idle",
  empty: "driving empty",
  loading: "loading",
  loaded: "driving loaded",
  unloading: "unloading",
  returning: "returning home",
  cruising: "cruising",
  heldUp: "held up by others",
  atStop: "standing at a stop",
  refilling: "refilling",
  offShift: "off shift",
  down: "down",
};

/** What one that is followed is doing, and where, in words; undefined where it is not there any more. */
export function doingOf(
  of: Followed,
  frame: Frame,
  { elements, links, entityTypes }: Design,
): { readonly name: string; readonly does: string; readonly since: number | undefined } | undefined {
  const nameAt = (place: number): string => {
    const element = elements[place];
    if (element) return `at ${element.name}`;
    const link = links[place - elements.length];
    const named = (id: string | undefined) => elements.find((e) => e.id === id)?.name ?? "";
    return link ? `from ${named(link.from)} to ${named(link.to)}` : "";
  };
  if (of.kind !== "entity") {
    const list = of.kind === "vehicle" ? frame.carriers : frame.members;
    const i = indexIn(list, of);
    if (i < 0) return undefined;
    const [from, to] = [elements[list.from[i]]?.name, elements[list.to[i]]?.name];
    const name = `${elements[of.element]?.name ?? ""} ${of.number + 1}`;
    const does = of.kind === "vehicle" ? DRIVES[DOING[list.doing[i]]] : UNIT_WORDS[list.doing[i]];
    return { name, does: `${does} ${from === to ? `at ${to}` : `from ${from} to ${to}`}`, since: undefined };
  }
  const called = (type: number) => `${entityTypes[type]?.name ?? ""} ${of.serial}`;
  // What is on a vehicle is nowhere else.
  const carrier = carrierOf(frame, of.serial);
  if (carrier >= 0) {
    const { element, number, serial, load, others } = frame.carriers;
    const type =
      serial[carrier] === of.serial ? load[carrier] : others[carrier]?.find(([, other]) => other === of.serial)?.[0];
    const does = `on ${elements[element[carrier]]?.name} ${number[carrier] + 1}`;
    return { name: called(type ?? -1), does, since: undefined };
  }
  const i = frame.serial.indexOf(of.serial);
  if (i < 0) return undefined;
  const name = called(frame.type[i]);
  const walk = frame.walks[i];
  const where = walk ? `from ${elements[walk[0]]?.name} to ${elements[walk[1]]?.name}` : nameAt(frame.place[i]);
  const manner = MANNERS[frame.taken[i] - 1];
  const does = manner ? TAKEN[manner] : WORDS[PHASES[frame.phase[i]]];
  return { name, does: `${does} ${where}`.trim(), since: frame.since[i] };
}

/** The place of a vehicle or member in its list of a frame; -1 where it is not. */
export function indexIn(list: Frame["carriers"], of: Exclude<Followed, { readonly kind: "entity" }>): number {
  for (let i = 0; i < list.count; i++) if (list.element[i] === of.element && list.number[i] === of.number) return i;
  return -1;
}

/** The vehicle that an entity is on, by its place in the frame; -1 for none. */
export function carrierOf({ carriers }: Frame, serial: number): number {
  for (let i = 0; i < carriers.count; i++)
    if (
      (carriers.load[i] >= 0 && carriers.serial[i] === serial) ||
      carriers.others[i]?.some(([, other]) => other === serial)
    )
      return i;
  return -1;
}

/** The youngest entity of a type, or (none told) of all; undefined where there is none. */
export function youngest(frame: Frame, type?: number): Followed | undefined {
  let serial = 0;
  for (let i = 0; i < frame.count; i++)
    if ((type === undefined || frame.type[i] === type) && frame.serial[i] > serial) serial = frame.serial[i];
  return serial > 0 ? { kind: "entity", serial } : undefined;
}
