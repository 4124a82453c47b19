import type { Design, Element, Point } from "@busy-harbor/core";
import { isDraft, original } from "immer";
import { newId, placed } from "./edits.ts";

/**
 * Edits of where elements stand, and of which belong together. Locked elements stay; bends go with links whose two
 * ends both move.
 */

/**
 * The list as it is read without making a draft of each entry, which takes long for a large design. Only before
 * anything was changed.
 */
const asRead = <T extends object>(list: T[]): readonly T[] => (isDraft(list) ? (original<unknown>(list) as T[]) : list);

const movable = (design: Design, ids: ReadonlySet<string>): Element[] =>
  asRead(design.elements).flatMap((e, i) => (ids.has(e.id) && !e.locked ? [design.elements[i]] : []));

/** Puts every moved element, and each bend between two of them, where `to` sends it. */
function relocate(design: Design, ids: ReadonlySet<string>, to: (p: Point) => Point): void {
  const elements = movable(design, ids);
  const moved = new Set(elements.map((e) => e.id));
  for (const element of elements) element.at = placed(to(element.at));
  relocateRoads(design, ids, moved, to);
  asRead(design.links).forEach((link, i) => {
    if (link.bends.length > 0 && moved.has(link.from) && moved.has(link.to))
      design.links[i].bends = link.bends.map((p) => placed(to(p)));
  });
}

/** Points of ways go with them, and with elements where both their ends do. */
function relocateRoads(design: Design, ids: ReadonlySet<string>, moved: ReadonlySet<string>, to: (p: Point) => Point) {
  for (const road of design.roads ?? [])
    if (ids.has(road.id) || (moved.has(road.from) && moved.has(road.to)))
      road.points = road.points.map((p) => placed(to(p)));
}

export function move(design: Design, ids: ReadonlySet<string>, dx: number, dy: number): void {
  relocate(design, ids, ([x, y]) => [x + dx, y + dy]);
}

/** Lines elements up on x (axis 0) or y (axis 1): at the least, the middle or the most of their places. */
export function align(design: Design, ids: ReadonlySet<string>, axis: 0 | 1, where: "least" | "middle" | "most"): void {
  const elements = movable(design, ids);
  if (elements.length < 2) return;
  const values = elements.map((e) => e.at[axis]);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const value = where === "least" ? least : where === "most" ? most : (least + most) / 2;
  for (const element of elements) element.at = placed(axis === 0 ? [value, element.at[1]] : [element.at[0], value]);
}

/** Spreads elements evenly between the first and the last along an axis. */
export function distribute(design: Design, ids: ReadonlySet<string>, axis: 0 | 1): void {
  const elements = movable(design, ids).sort((a, b) => a.at[axis] - b.at[axis]);
  if (elements.length < 3) return;
  const first = elements[0].at[axis];
  const step = (elements[elements.length - 1].at[axis] - first) / (elements.length - 1);
  elements.forEach((element, i) => {
    const value = first + i * step;
    element.at = placed(axis === 0 ? [value, element.at[1]] : [element.at[0], value]);
  });
}

/** Turns the arrangement a quarter clockwise about its middle; pictures and the lines of queues turn with it. */
export function turn(design: Design, ids: ReadonlySet<string>): void {
  const elements = movable(design, ids);
  const [xs, ys] = [elements.map((e) => e.at[0]), elements.map((e) => e.at[1])];
  const [x0, y0] = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
  relocate(design, ids, ([x, y]) => [x0 - (y - y0), y0 + (x - x0)]);
  for (const { picture } of elements) if (picture) picture.turn = (picture.turn + 90) % 360;
  for (const element of elements)
    if ("line" in element)
      element.line = (element.line.length > 0 ? element.line : [[-6, 0] as Point]).map(([x, y]) => placed([-y, x]));
}

export function group(design: Design, ids: ReadonlySet<string>): void {
  const id = newId("group");
  for (const element of design.elements) if (ids.has(element.id)) element.group = id;
}

export function ungroup(design: Design, ids: ReadonlySet<string>): void {
  for (const element of design.elements) if (ids.has(element.id)) element.group = "";
}

export function lock(design: Design, ids: ReadonlySet<string>, locked: boolean): void {
  for (const element of design.elements) if (ids.has(element.id)) element.locked = locked;
}

/** The ids with those of all elements of the same groups. */
export function withGroups(design: Design, ids: readonly string[]): string[] {
  const chosen = new Set(ids);
  const groups = new Set(design.elements.flatMap((e) => (chosen.has(e.id) && e.group ? [e.group] : [])));
  const mates = design.elements.flatMap((e) => (groups.has(e.group) && !chosen.has(e.id) ? [e.id] : []));
  return [...ids, ...mates];
}

/** Whether two elements differ only in what tells them apart: id, name, place, streams, group. */
export function sameSettings(a: Element, b: Element): boolean {
  const settings = ({ id: _i, name: _n, at: _a, streams: _s, group: _g, locked: _l, ...rest }: Element) =>
    JSON.stringify({ ...rest, line: undefined });
  return a.kind === b.kind && settings(a) === settings(b);
}
