import {
  type Element,
  type Frame,
  metresAlong,
  type Model,
  type Point,
  polylineLength,
  readFromTo,
} from "@busy-harbor/core";
import { pointAt } from "../floor/paths.ts";
import { extentOf } from "../floor/symbols/index.ts";
import { type Pose, walkingPose } from "../floor/symbols/person.ts";
import { type Size, symbolScale, toScreen, type View } from "../floor/view.ts";

/** A vehicle, or a member of a crew, as it is drawn: where on the screen and which way, and what it carries. */
export interface PlacedCarrier {
  /** Index of the element that it is of, and which of its units, from 0. */
  readonly element: number;
  readonly number: number;
  readonly x: number;
  readonly y: number;
  readonly angle: number;
  /** Type of its load, and its serial number; -1 where it is empty. */
  readonly load: number;
  readonly serial: number;
  /** Types of what else is on it. */
  readonly others: readonly number[];
  /** What it does, as the frame has it. */
  readonly doing: number;
  /** How somebody who walks is drawn. */
  readonly pose?: Pose;
}

/** Pixels between vehicles that stand at one place, at a symbol scale of 1, and how far above it: names stand below. */
const APART = 16;
const ABOVE = 32;
const ABREAST = 5;
/** Ahead of whom one goes with, and aside, by how: alone, beside, pushing, carrying ahead and behind. */
const AROUND = [
  [0, 0],
  [0, 11],
  [-11, 0],
  [12, 0],
  [-12, 0],
] as const;
/** People who stand below one another beside a symbol. */
const IN_FILE = 2;

/** Pixels between several that are on one vehicle, and so many of them that are drawn. */
const ON_BED = 3.5;
export const MOST_ON_BED = 4;

/** Places what is on a vehicle one behind the other on its bed; of what does not fit there the number is told. */
export const stacked = (
  types: readonly number[],
  { x, y, angle }: Pick<PlacedCarrier, "x" | "y" | "angle">,
  k: number,
): { readonly x: number; readonly y: number; readonly type: number }[] =>
  types.slice(0, MOST_ON_BED).map((type, n, { length }) => {
    const along = (n - (length - 1) / 2) * ON_BED * k;
    return { x: x + along * Math.cos(angle), y: y + along * Math.sin(angle), type };
  });

/** The way one goes between two elements, in metres. */
function pathOf({ nodes, roads }: Model, carrier: number, from: number, to: number): readonly Point[] {
  const [a, b] = [nodes[from].element.at, nodes[to].element.at];
  const { element, settings } = nodes[carrier];
  const { over, walks, way } = element as { readonly over?: string; readonly walks?: string; readonly way?: string };
  const quickestAt = way === "quickest" ? settings.get(walks ? "speed" : "speedLoaded")?.constant : undefined;
  return (over === "ways" || walks === "over ways" ? roads?.route(a, b, quickestAt)?.points : undefined) ?? [a, b];
}

/** Metres of the way that one goes: what a table of lengths says need not be as it is on the plan. */
function wayLength({ nodes, tables, texts }: Model, of: Frame["carriers"], i: number, path: readonly Point[]): number {
  const { over, fromTo } = nodes[of.element[i]].element as { readonly over?: string; readonly fromTo?: string };
  const table = over === "table" ? tables.find(({ id }) => id === fromTo) : undefined;
  const ways = table && fromToOf(table, { nodes, texts });
  return (ways?.of === "metres" ? ways.between(of.from[i], of.to[i]) : undefined) ?? polylineLength(path);
}

const read = new WeakMap<object, ReturnType<typeof readFromTo>>();

function fromToOf(
  table: Model["tables"][number],
  model: Pick<Model, "nodes" | "texts">,
): ReturnType<typeof readFromTo> {
  if (!read.has(table)) read.set(table, readFromTo(model, table));
  return read.get(table);
}

/**
 * Places the vehicles of a frame, and the members of crews who walk; those that stand at one place stand beside one
 * another. A member who stands at home is in the symbol of its crew.
 */
export function placeCarriers(
  frame: Frame,
  model: Model,
  view: View,
  size: Size,
): { readonly carriers: PlacedCarrier[]; readonly members: PlacedCarrier[] } {
  const k = symbolScale(view);
  const standing = new Map<number, number>();
  const place = (of: Frame["carriers"], i: number, beside = false): PlacedCarrier => {
    const { [i]: from } = of.from;
    const { [i]: to } = of.to;
    const others = (of.others[i] ?? []).map(([type]) => type);
    const is = {
      element: of.element[i],
      number: of.number[i],
      load: of.load[i],
      serial: of.serial[i],
      others,
      doing: of.doing[i],
    };
    // One that has broken down on its way, or is held up there, stands there.
    if (from !== to) {
      const { [i]: own } = of.paths;
      const path = own ?? pathOf(model, of.element[i], from, to);
      const metres = own ? polylineLength(own) : wayLength(model, of, i, path);
      const line = path.map((p) => toScreen(view, size, p));
      const share = metres > 0 ? metresAlong(of, i, frame.time) / metres : 0;
      const { point, angle } = pointAt(line, share * polylineLength(line));
      // Who walks with somebody goes beside them, behind to push, ahead and behind to carry.
      const [ahead, aside] = AROUND[of.manner[i]].map((pixels) => pixels * k);
      return {
        x: point[0] + Math.cos(angle) * ahead - Math.sin(angle) * aside,
        y: point[1] + Math.sin(angle) * ahead + Math.cos(angle) * aside,
        angle,
        pose:
          of.manner[i] > 1
            ? "reaching"
            : of.motion.speed[i] > 0
              ? walkingPose(metresAlong(of, i, frame.time))
              : "standing",
        ...is,
      };
    }
    const n = standing.get(to) ?? 0;
    standing.set(to, n + 1);
    const { element } = model.nodes[to];
    const [x, y] = toScreen(view, size, element.at);
    // People stand to the right of a symbol, closer than vehicles.
    if (beside)
      return {
        x: x + (extentOf(element as Element).w + 9 + Math.floor(n / IN_FILE) * APART) * k,
        y: y + ((n % IN_FILE) - (IN_FILE - 1) / 2) * APART * k,
        angle: Math.PI,
        ...is,
      };
    return {
      x: x + ((n % ABREAST) - (ABREAST - 1) / 2) * APART * k,
      y: y - (ABOVE + Math.floor(n / ABREAST) * 1.8 * APART) * k,
      angle: -Math.PI / 2,
      ...is,
    };
  };
  const { carriers, members } = frame;
  const away = (i: number) => members.motion.speed[i] > 0 || members.to[i] !== members.element[i];
  const every = ({ count }: Frame["carriers"]) => Array.from({ length: count }, (_, i) => i);
  return {
    carriers: every(carriers).map((i) => place(carriers, i)),
    members: every(members)
      .filter(away)
      .map((i) => place(members, i, true)),
  };
}
