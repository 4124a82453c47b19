import { type Design, type Element, type Link, linkPoints, type Point } from "@busy-harbor/core";

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
export function distanceToSegment([x, y]: Point, [x0, y0]: Point, [x1, y1]: Point): { distance: number; share: number } {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const square = dx * dx + dy * dy;
  const share = square === 0 ? 0 : Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / square));
  return { distance: Math.hypot(x - x0 - share * dx, y - y0 - share * dy), share };
}

/** Drawn line of a link in metres, or undefined when an end is missing. */
export function drawnLink(design: Design, link: Link, byId: ReadonlyMap<string, Element>): Point[] | undefined {
  const from = byId.get(link.from);
  const to = byId.get(link.to);
  if (!from || !to) return undefined;
  if (link.from === link.to && link.bends.length === 0) {
    // A link back to itself is drawn as a small loop above.
    const [x, y] = from.at;
    return [[x, y], [x + 2, y - 3], [x - 2, y - 3], [x, y]];
  }
  // Several links between the same two run side by side.
  const alike = design.links.filter((l) => l.from === link.from && l.to === link.to && l.bends.length === 0);
  if (link.bends.length === 0 && alike.length > 1) {
    const offset = (alike.indexOf(link) - (alike.length - 1) / 2) * 1.2;
    const [[x0, y0], [x1, y1]] = [from.at, to.at];
    const length = Math.hypot(x1 - x0, y1 - y0) || 1;
    return [from.at, [(x0 + x1) / 2 - ((y1 - y0) / length) * offset, (y0 + y1) / 2 + ((x1 - x0) / length) * offset], to.at];
  }
  return linkPoints(link, from, to);
}

/** The line along which entities stand at a queue, from its head backwards, in metres. */
export function queueLine(element: Element): Point[] {
  const [x, y] = element.at;
  if (element.kind === "queue") {
    const bends = element.line.length > 0 ? element.line : ([[-6, 0]] as Point[]);
    return [element.at, ...bends.map(([dx, dy]): Point => [x + dx, y + dy])];
  }
  return [element.at, [x - 8, y]];
}

export const elementsById = (design: Design): ReadonlyMap<string, Element> => new Map(design.elements.map((e) => [e.id, e]));
