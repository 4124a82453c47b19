import { type Design, type Element, type Link, linkPoints, type Point } from "@busy-harbor/core";
import { remembered } from "../state/remembered.ts";
import { groupBy } from "../groupBy.ts";

/** The point at a distance along a bent line; beyond its end, straight on. */
export function pointAt(points: readonly Point[], distance: number): { point: Point; angle: number } {
  let left = distance;
  for (let i = 1; i < points.length; i++) {
    const [x0, y0] = points[i - 1];
    const [x1, y1] = points[i];
    const length = Math.hypot(x1 - x0, y1 - y0);
    const angle = Math.atan2(y1 - y0, x1 - x0);
    if (left <= length || i === points.length - 1) {
      const share = length > 0 ? left / length : 0;
      return { point: [x0 + (x1 - x0) * share, y0 + (y1 - y0) * share], angle };
    }
    left -= length;
  }
  return { point: points[0], angle: 0 };
}

/** Distance from a point to a segment, and how far along it the nearest point lies (0 to 1). */
export function distanceToSegment(
  [x, y]: Point,
  [x0, y0]: Point,
  [x1, y1]: Point,
): { distance: number; share: number } {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const square = dx * dx + dy * dy;
  const share = square === 0 ? 0 : Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / square));
  return { distance: Math.hypot(x - x0 - share * dx, y - y0 - share * dy), share };
}

const drawn = new WeakMap<Design, ReadonlyMap<string, readonly Point[]>>();

/**
 * Drawn lines of all links in metres, by link; those that miss an end are left out. Kept for as long as the design is
 * the same.
 */
export function drawnLinks(design: Design): ReadonlyMap<string, readonly Point[]> {
  let lines = drawn.get(design);
  if (!lines) drawn.set(design, (lines = drawLinks(design)));
  return lines;
}

const endsOf = ({ from, to }: Link): string => `${from}\n${to}`;

const unbent = remembered((links: readonly Link[]) =>
  groupBy(
    links.filter((l) => l.bends.length === 0),
    endsOf,
  ),
);

function drawLinks(design: Design): ReadonlyMap<string, readonly Point[]> {
  const byId = elementsById(design);
  const straight = unbent(design.links);
  const lines = new Map<string, readonly Point[]>();
  for (const link of design.links) {
    const [from, to] = [byId.get(link.from), byId.get(link.to)];
    if (from && to) lines.set(link.id, keptLine(link, from, to, straight.get(endsOf(link)) ?? NONE));
  }
  return lines;
}

const NONE: readonly Link[] = [];

interface KeptLine {
  readonly from: Element;
  readonly to: Element;
  readonly alike: readonly Link[];
  readonly line: readonly Point[];
}
const kept = new WeakMap<Link, KeptLine>();

/** The line of a link, made anew only when it or what it joins has changed. */
function keptLine(link: Link, from: Element, to: Element, alike: readonly Link[]): readonly Point[] {
  const before = kept.get(link);
  if (before?.from === from && before.to === to && before.alike === alike) return before.line;
  const line = lineOf(link, from, to, alike);
  kept.set(link, { from, to, alike, line });
  return line;
}

/** `alike` are the unbent links between the same two: they run side by side. */
function lineOf(link: Link, from: Element, to: Element, alike: readonly Link[]): readonly Point[] {
  if (link.bends.length > 0) return linkPoints(link, from, to);
  if (from === to) {
    // A link back to itself is drawn as a small loop above.
    const [x, y] = from.at;
    return [
      [x, y],
      [x + 2, y - 3],
      [x - 2, y - 3],
      [x, y],
    ];
  }
  if (alike.length > 1) {
    const offset = (alike.indexOf(link) - (alike.length - 1) / 2) * 1.2;
    const [[x0, y0], [x1, y1]] = [from.at, to.at];
    const length = Math.hypot(x1 - x0, y1 - y0) || 1;
    return [
      from.at,
      [(x0 + x1) / 2 - ((y1 - y0) / length) * offset, (y0 + y1) / 2 + ((x1 - x0) / length) * offset],
      to.at,
    ];
  }
  return linkPoints(link, from, to);
}

/** The line along which entities stand at a queue, from its head backwards, in metres. */
export function queueLine(element: Element): Point[] {
  const [x, y] = element.at;
  if ("line" in element) {
    const bends = element.line.length > 0 ? element.line : ([[-6, 0]] as Point[]);
    return [element.at, ...bends.map(([dx, dy]): Point => [x + dx, y + dy])];
  }
  return [element.at, [x - 8, y]];
}

const byIds = new WeakMap<readonly Element[], ReadonlyMap<string, Element>>();

/** The elements of a design by id; kept for as long as they are the same. */
export function elementsById({ elements }: Design): ReadonlyMap<string, Element> {
  let byId = byIds.get(elements);
  if (!byId) byIds.set(elements, (byId = new Map(elements.map((e) => [e.id, e]))));
  return byId;
}
