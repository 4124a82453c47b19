/** Points along curves, x and y in turn. A full circle gets 72 chords: off by a thousandth of the radius at most. */
const CHORD = Math.PI / 36;

const chords = (sweep: number) => Math.max(1, Math.ceil(Math.abs(sweep) / CHORD));

/**
 * Points of an ellipse's arc: `major` is the vector to the end of the major axis, `ratio` minor over major,
 * parameters in radians, counterclockwise.
 */
export function ellipseArc(
  cx: number,
  cy: number,
  major: readonly [number, number],
  ratio: number,
  from: number,
  to: number,
): number[] {
  let sweep = to - from;
  while (sweep <= 1e-9) sweep += 2 * Math.PI;
  sweep = Math.min(sweep, 2 * Math.PI);
  const n = chords(sweep);
  const points: number[] = [];
  for (let i = 0; i <= n; i++) {
    const t = from + (sweep * i) / n;
    const [c, s] = [Math.cos(t), Math.sin(t) * ratio];
    points.push(cx + major[0] * c - major[1] * s, cy + major[1] * c + major[0] * s);
  }
  return points;
}

export const arc = (cx: number, cy: number, radius: number, from: number, to: number): number[] =>
  ellipseArc(cx, cy, [radius, 0], 1, from, to);

/**
 * Appends the way from one point to the next of a polyline, without the first: an arc where `bulge`, the tangent of a
 * quarter of its angle, is not 0.
 */
export function addBulge(points: number[], x0: number, y0: number, x1: number, y1: number, bulge: number): void {
  if (bulge !== 0 && Number.isFinite(bulge)) {
    const angle = 4 * Math.atan(bulge);
    const n = chords(angle);
    // The centre lies on the perpendicular of the chord's middle.
    const k = (1 - bulge * bulge) / (4 * bulge);
    const cx = (x0 + x1) / 2 - (y1 - y0) * k;
    const cy = (y0 + y1) / 2 + (x1 - x0) * k;
    for (let i = 1; i < n; i++) {
      const [c, s] = [Math.cos((angle * i) / n), Math.sin((angle * i) / n)];
      points.push(cx + (x0 - cx) * c - (y0 - cy) * s, cy + (x0 - cx) * s + (y0 - cy) * c);
    }
  }
  points.push(x1, y1);
}

/** Chords for each span of a spline. */
const PER_SPAN = 8;

/**
 * Points of a B-spline by de Boor's algorithm (de Boor 1972), with weights as of a rational one;
 * undefined when control points, degree and knots do not fit together.
 */
export function spline(
  control: ReadonlyArray<{ readonly x: number; readonly y: number }>,
  degree: number,
  knots: readonly number[],
  weights?: readonly number[],
): number[] | undefined {
  const n = control.length;
  if (!(degree >= 1 && degree <= 16 && n > degree && knots.length === n + degree + 1)) return undefined;
  const points: number[] = [];
  const [x, y, w] = [new Float64Array(degree + 1), new Float64Array(degree + 1), new Float64Array(degree + 1)];
  for (let span = degree; span < n; span++) {
    if (!(knots[span + 1] > knots[span])) continue;
    for (let i = points.length === 0 ? 0 : 1; i <= PER_SPAN; i++) {
      const t = knots[span] + ((knots[span + 1] - knots[span]) * i) / PER_SPAN;
      for (let j = 0; j <= degree; j++) {
        const { x: px, y: py } = control[j + span - degree];
        w[j] = weights?.[j + span - degree] ?? 1;
        x[j] = px * w[j];
        y[j] = py * w[j];
      }
      for (let r = 1; r <= degree; r++) {
        for (let j = degree; j >= r; j--) {
          const low = knots[j + span - degree];
          const share = (t - low) / (knots[j + 1 + span - r] - low);
          x[j] = (1 - share) * x[j - 1] + share * x[j];
          y[j] = (1 - share) * y[j - 1] + share * y[j];
          w[j] = (1 - share) * w[j - 1] + share * w[j];
        }
      }
      points.push(x[degree] / w[degree], y[degree] / w[degree]);
    }
  }
  return points;
}
