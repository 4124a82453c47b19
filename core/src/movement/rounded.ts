import type { Point } from "../settings/parts.ts";
import { JOINS_WITHIN } from "./network.ts";

/** A chord of a curve turns by 5 degrees at most: the cosine of half of that. */
const COS_OF_CHORD = 0.999048221581858;
/** Less than a degree of a turn is none, and more than 170 is no curve: cosines of the turns. */
const [STRAIGHT, BACK] = [0.999847695156391, -0.984807753012208];

/**
 * A line whose corners are arcs of a circle of a radius in metres, or of a smaller one where a side is too short: arcs
 * are chords that turn by 5 degrees at most, so that the picture and what is driven are the same. A corner at which
 * something joins stays one, and nothing that joins beside one is cut off.
 */
export function rounded(points: readonly Point[], radius: number, joints: readonly Point[]): Point[] {
  const line: Point[] = [points[0]];
  for (let i = 1; i < points.length - 1; i++) {
    const [a, p, b] = [points[i - 1], points[i], points[i + 1]];
    const [before, after] = [distance(a, p), distance(p, b)];
    const u: Point = [(p[0] - a[0]) / before, (p[1] - a[1]) / before];
    const v: Point = [(b[0] - p[0]) / after, (b[1] - p[1]) / after];
    const cos = u[0] * v[0] + u[1] * v[1];
    const isCorner = cos < STRAIGHT && cos > BACK;
    // From the corner to where its arc begins: r tan(θ/2), where tan(θ/2) = sin θ / (1 + cos θ).
    const wanted = isCorner ? (radius * Math.abs(u[0] * v[1] - u[1] * v[0])) / (1 + cos) : 0;
    const tangent = Math.min(wanted, before / 2, after / 2, freeOf(joints, a, p), freeOf(joints, b, p));
    if (!(tangent > JOINS_WITHIN)) {
      line.push(p);
      continue;
    }
    const start: Point = [p[0] - u[0] * tangent, p[1] - u[1] * tangent];
    const end: Point = [p[0] + v[0] * tangent, p[1] + v[1] * tangent];
    line.push(start);
    addArc(line, start, p, end);
  }
  line.push(points[points.length - 1]);
  return line;
}

/**
 * Adds an arc that touches the lines from `start` to `corner` and from there to `end`, but for its start: halved again
 * and again. Of half the angle φ that it turns by, cos φ is half of its chord over its tangent; the tangents of its
 * halves are cos φ / (1 + cos φ) of its own.
 */
function addArc(line: Point[], start: Point, corner: Point, end: Point): void {
  const cos = distance(start, end) / 2 / distance(start, corner);
  if (!(cos < COS_OF_CHORD)) {
    line.push(end);
    return;
  }
  const share = cos / (1 + cos);
  const first = between(start, corner, share);
  const second = between(end, corner, share);
  const middle = between(first, second, 0.5);
  addArc(line, start, first, middle);
  addArc(line, middle, second, end);
}

/** Metres from a corner along the line to its neighbour that no joint lies on. */
function freeOf(joints: readonly Point[], from: Point, corner: Point): number {
  const length = distance(from, corner);
  let free = length;
  for (const joint of joints) {
    const along =
      ((joint[0] - corner[0]) * (from[0] - corner[0]) + (joint[1] - corner[1]) * (from[1] - corner[1])) / length;
    if (along < -JOINS_WITHIN || along > free) continue;
    const beside =
      Math.abs((joint[0] - corner[0]) * (from[1] - corner[1]) - (joint[1] - corner[1]) * (from[0] - corner[0])) /
      length;
    if (beside < JOINS_WITHIN) free = Math.max(0, along);
  }
  return free;
}

const distance = (a: Point, b: Point): number => Math.sqrt((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2);

const between = (a: Point, b: Point, share: number): Point => [
  a[0] + (b[0] - a[0]) * share,
  a[1] + (b[1] - a[1]) * share,
];
