import { curvedRoad, type Design, type Element, jointsFor, type Point, type Road, roadPoints } from "@busy-harbor/core";
import { distanceToSegment, elementsById } from "./paths.ts";

const NONE: readonly Road[] = [];

export const roadsOf = ({ roads }: Design): readonly Road[] => roads ?? NONE;

/** The points of a way as it is drawn, in metres: its ends are at the elements at which it begins and ends. */
export function drawnRoad(road: Road, design: Design): readonly Point[] {
  const byId = elementsById(design);
  return roadPoints(road, (id) => byId.get(id)?.at);
}

const curves = new WeakMap<Design, Map<Road, readonly Point[]>>();

/** The same with its curves, as it is gone. */
export function shownRoad(road: Road, design: Design): readonly Point[] {
  if (!road.radius) return drawnRoad(road, design);
  let known = curves.get(design);
  if (!known) curves.set(design, (known = new Map()));
  let points = known.get(road);
  if (!points) {
    const byId = elementsById(design);
    points = curvedRoad(
      road,
      (id) => byId.get(id)?.at,
      () => jointsFor(road, design),
    );
    known.set(road, points);
  }
  return points;
}

/** Whether an element stands on a way. */
export function standsOn({ at }: Pick<Element, "at">, road: Road, design: Design): boolean {
  const points = drawnRoad(road, design);
  return points.some((p, i) => i > 0 && distanceToSegment(at, points[i - 1], p).distance <= road.width / 2);
}

/** Where a way may go on from: an element, a point of a way, or a place on one. */
export interface Joint {
  readonly at: Point;
  /** There is something to be joined to. */
  readonly joins?: boolean;
  /** The element that stands there. */
  readonly element?: string;
  /** The way on which it lies, and behind which of its points: none where it is one of its points. */
  readonly on?: { readonly road: string; readonly segment: number };
}

/** What of the design lies within `reach` metres of a point for a way to be joined to; undefined where nothing does. */
export function jointNear(
  design: Design,
  point: Point,
  reach: number,
  isMeant: (road: string) => boolean = () => true,
): Joint | undefined {
  let best: Joint | undefined;
  let least = reach;
  const offer = (joint: Joint, distance: number): void => {
    if (distance > least) return;
    least = distance;
    best = { ...joint, joins: true };
  };
  for (const road of roadsOf(design)) {
    if (!isMeant(road.id)) continue;
    const points = drawnRoad(road, design);
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [points[i - 1], points[i]];
      const { distance, share } = distanceToSegment(point, a, b);
      // A point of the way goes before what lies beside it.
      const at: Point = [a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share];
      offer({ at, on: { road: road.id, segment: i } }, distance);
    }
  }
  for (const road of roadsOf(design)) {
    if (!isMeant(road.id)) continue;
    for (const at of drawnRoad(road, design)) {
      const distance = Math.hypot(at[0] - point[0], at[1] - point[1]);
      if (distance <= reach) offer({ at }, Math.min(distance, least));
    }
  }
  for (const { id, at } of design.elements) {
    const distance = Math.hypot(at[0] - point[0], at[1] - point[1]);
    if (distance <= reach) offer({ at, element: id }, Math.min(distance, least));
  }
  return best;
}
