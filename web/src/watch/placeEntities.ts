import {
  type Design,
  type Element,
  type Frame,
  kindOf,
  linkPoints,
  MANNERS,
  metresAlong,
  type Model,
  PHASE,
  UNIT,
  type Point,
  polylineLength,
} from "@busy-harbor/core";
import { drawnLinks, elementsById, pointAt, queueLine } from "../floor/paths.ts";
import { extentOf, slotAt, slotCount } from "../floor/symbols/index.ts";
import { shadeOf } from "./entityColours.ts";
import { type Pose, walkingPose } from "../floor/symbols/person.ts";
import type { Liveness } from "../floor/symbols/shared.ts";
import { type Size, symbolScale, toScreen, type View } from "../floor/view.ts";

/** Where to draw an entity: screen point, direction, and its type. */
export interface Placed {
  readonly x: number;
  readonly y: number;
  readonly angle: number;
  readonly type: number;
  /** Position among its type's colours. */
  readonly shade: number;
  readonly serial: number;
  /** How people are drawn; nothing else has any. */
  readonly pose?: Pose;
}

/** Pixels between entities in line at a symbol scale of 1. */
const SPACING = 17;
/** Most entities drawn in one line or dwell; the count beside the name tells of the rest. */
const MOST_DRAWN = 300;

/** Most of a batch that are drawn behind its first. */
const MOST_BESIDE = 5;

/** Whether entities stand in its slots or spots. */
const standsIn = (element: Element): boolean => {
  const { isWork = false, hasSpots = false } = kindOf(element);
  return isWork || hasSpots;
};

/** Remembers which slot of a station each entity is in, so that it does not jump. */
export type SlotMemory = Map<string, (number | undefined)[]>;

/** A link's line in screen pixels, with its length. */
export interface MeasuredLine {
  readonly points: readonly Point[];
  readonly length: number;
  /** Its length on the floor. */
  readonly metres: number;
}

/** The lines of all links as they lie on the screen: the same from frame to frame until the view changes. */
export function linesOnScreen(
  design: Design,
  { ways }: Pick<Model, "ways">,
  view: View,
  size: Size,
): (MeasuredLine | undefined)[] {
  const drawn = drawnLinks(design);
  const byId = elementsById(design);
  const routes = new Map(ways.flatMap(({ link, route }) => (route ? [[link.id, route] as const] : [])));
  return design.links.map((link) => {
    const route = routes.get(link.id);
    if (route) {
      const points = route.points.map((p) => toScreen(view, size, p));
      return { points, length: polylineLength(points), metres: route.length };
    }
    const points = drawn.get(link.id)?.map((p) => toScreen(view, size, p));
    const [from, to] = [byId.get(link.from), byId.get(link.to)];
    if (!points || !from || !to) return undefined;
    return { points, length: polylineLength(points), metres: polylineLength(linkPoints(link, from, to)) };
  });
}

/** Places every entity of a frame on the screen, and tells the states of stations' slots. */
export function placeEntities(
  frame: Frame,
  design: Design,
  lines: readonly (MeasuredLine | undefined)[],
  view: View,
  size: Size,
  memory: SlotMemory,
  /** The way over those that are drawn from one element to another, where there is one. */
  wayBetween: (from: number, to: number) => readonly Point[] | undefined = () => undefined,
): { placed: Placed[]; live: Map<string, Liveness> } {
  const { elements } = design;
  const k = symbolScale(view);
  const shade = (i: number) => shadeOf(frame, i, design.entityTypes[frame.type[i]]);
  const placed: Placed[] = [];
  const waiting = new Map<number, number[]>();
  const dwelling = new Map<number, number[]>();
  const working = new Map<number, number[]>();
  const into = (map: Map<number, number[]>, place: number, i: number) => {
    const list = map.get(place);
    if (list) list.push(i);
    else map.set(place, [i]);
  };

  /** Of one who walks between elements by itself, and not along the line of a link. */
  const pathOf = (i: number): MeasuredLine | undefined => {
    const { [i]: walk } = frame.walks;
    const { [i]: own } = frame.paths;
    if (!walk && !own) return undefined;
    const [from, to, overWays] = walk ?? [0, 0, 1];
    const drawn = own ?? (overWays === 1 ? wayBetween(from, to) : undefined) ?? [elements[from].at, elements[to].at];
    const points = drawn.map((p) => toScreen(view, size, p));
    return { points, length: polylineLength(points), metres: polylineLength(drawn) };
  };

  const isBelt = (place: number) => design.links[place - elements.length]?.kind === "conveyor";

  for (let i = 0; i < frame.count; i++) {
    const place = frame.place[i];
    switch (frame.phase[i]) {
      case PHASE.blocked:
      case PHASE.moving: {
        const line = (frame.paths[i] ? undefined : lines[place - elements.length]) ?? pathOf(i);
        if (!line) {
          // Who is blocked in an element stands there.
          if (elements[place]) into(standsIn(elements[place]) ? working : dwelling, place, i);
          break;
        }
        const { point, angle } = pointAt(
          line.points,
          line.metres > 0 ? (metresAlong(frame, i, frame.time) / line.metres) * line.length : 0,
        );
        placed.push({
          x: point[0],
          y: point[1],
          angle,
          type: frame.type[i],
          shade: shade(i),
          serial: frame.serial[i],
          pose: isBelt(place) ? "standing" : poseOnTheWay(frame, i),
        });
        break;
      }
      case PHASE.waiting:
        into(waiting, place, i);
        break;
      default:
        into(elements[place] && standsIn(elements[place]) ? working : dwelling, place, i);
    }
  }

  for (const [place, list] of waiting) {
    list.sort(
      (a, b) =>
        frame.position[a] - frame.position[b] || frame.since[a] - frame.since[b] || frame.serial[a] - frame.serial[b],
    );
    const element = elements[place];
    const line = queueLine(element).map((p) => toScreen(view, size, p));
    const offset = kindOf(element).isLine ? 21 * k : (slotCount(element) * 8 + 18) * k;
    list.slice(0, MOST_DRAWN).forEach((i, n) => {
      const { point, angle } = pointAt(line, offset + n * SPACING * k);
      placed.push({
        x: point[0],
        y: point[1],
        angle: angle + Math.PI,
        type: frame.type[i],
        shade: shade(i),
        serial: frame.serial[i],
      });
    });
  }

  for (const [place, list] of dwelling) {
    // Who waits to be carried waits where the link begins.
    const from = elements[place] ?? elements.find(({ id }) => id === design.links[place - elements.length]?.from);
    if (!from) continue;
    const [x0, y0] = toScreen(view, size, from.at);
    const [x, y] = elements[place] ? [x0, y0] : [x0 + (extentOf(from).w + 12) * k, y0];
    list.slice(0, MOST_DRAWN).forEach((i, n) => {
      // A sunflower spiral keeps any number apart (Vogel 1979).
      const radius = (n === 0 ? 0 : 8 * Math.sqrt(n)) * k;
      const turn = n * 2.39996;
      placed.push({
        x: x + radius * Math.cos(turn),
        y: y + radius * Math.sin(turn),
        angle: 0,
        type: frame.type[i],
        shade: shade(i),
        serial: frame.serial[i],
      });
    });
  }

  const live = new Map<string, Liveness>();
  for (const [place, element] of elements.entries()) {
    const units = frame.units[place];
    const hasSlots = standsIn(element);
    if (units && !hasSlots) live.set(element.id, { slots: [...units] });
    if (!hasSlots) continue;
    const inside = working.get(place) ?? [];
    live.set(element.id, { slots: units ? [...units] : slotStates(element, inside, frame, memory) });
    const [x, y] = toScreen(view, size, element.at);
    const slots: readonly (number | undefined)[] = units ? [...frame.occupants[place]] : (memory.get(element.id) ?? []);
    // Of a batch only the first has a slot of its own; the others stand fanned out behind it.
    let beside = 0;
    const pose = poseAt(element);
    for (const i of inside) {
      const own = slots.indexOf(frame.serial[i]);
      const slot = own >= 0 ? own : units ? 0 : -1;
      if (slot < 0 || slot >= slotCount(element)) continue;
      const [dx, dy] = slotAt(element, slot);
      const aside = own >= 0 ? 0 : ++beside;
      if (aside > MOST_BESIDE) continue;
      placed.push({
        x: x + (dx + aside * 3) * k,
        y: y + (dy - aside * 3) * k,
        angle: -Math.PI / 2,
        type: frame.type[i],
        shade: shade(i),
        serial: frame.serial[i],
        pose,
      });
    }
  }
  return { placed, live };
}

/** Who is pushed sits, who is carried lies, and who goes walks. */
function poseOnTheWay(frame: Frame, i: number): Pose {
  const manner = MANNERS[frame.taken[i] - 1];
  if (manner === "pushes") return "sitting";
  if (manner === "carries ahead" || manner === "carries behind") return "lying";
  if (frame.phase[i] !== PHASE.moving || frame.motion.speed[i] === 0) return "standing";
  return walkingPose(metresAlong(frame, i, frame.time));
}

const poseAt = (element: Element): Pose => ("posture" in element ? element.posture : "standing");

function slotStates(element: Element, inside: readonly number[], frame: Frame, memory: SlotMemory): number[] {
  const here = new Set(inside.map((i) => frame.serial[i]));
  const slots = (memory.get(element.id) ?? []).map((serial) =>
    serial !== undefined && here.has(serial) ? serial : undefined,
  );
  for (const i of inside) {
    if (slots.includes(frame.serial[i])) continue;
    const free = slots.indexOf(undefined);
    if (free >= 0) slots[free] = frame.serial[i];
    else slots.push(frame.serial[i]);
  }
  memory.set(element.id, slots);
  const blocked = new Set(inside.filter((i) => frame.phase[i] === PHASE.blocked).map((i) => frame.serial[i]));
  return Array.from({ length: slotCount(element) }, (_, n) => {
    const serial = slots[n];
    return serial === undefined ? UNIT.idle : blocked.has(serial) ? UNIT.blocked : UNIT.busy;
  });
}
