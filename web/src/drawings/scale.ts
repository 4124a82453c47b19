import type { Point } from "@busy-harbor/core";

/** Units that drawings are made in, with their metres. */
export const DRAWING_UNITS = [
  { id: "mm", label: "millimetres", metres: 0.001 },
  { id: "cm", label: "centimetres", metres: 0.01 },
  { id: "m", label: "metres", metres: 1 },
  { id: "in", label: "inches", metres: 0.0254 },
  { id: "ft", label: "feet", metres: 0.3048 },
] as const;

export type DrawingUnit = (typeof DRAWING_UNITS)[number];

/** The unit of a scale, if it is one of those above. */
export const unitOf = (metresPerUnit: number): DrawingUnit | undefined =>
  DRAWING_UNITS.find(({ metres }) => Math.abs(metresPerUnit / metres - 1) < 1e-9);

/**
 * How far the extents of a drawing and of what stands on it may differ: a plan is larger than the machines in it, but
 * not endlessly.
 */
const MOST_TIMES = 6;
const LEAST_TIMES = 0.4;
/** A plan is about this much larger than what stands on it. */
const USUAL_TIMES = 1.4;

/** Extents, in metres, of sites that are taken as usual when nothing stands on the floor yet. */
const USUAL_SITE = { least: 4, most: 3000, middle: 60 };

const extentOf = (points: readonly Point[]): number => {
  if (points.length < 2) return 0;
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  return Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
};

export interface Doubt {
  /** How many times as large as what stands on it the drawing is, where something does. */
  readonly times: number | undefined;
  /** The unit that would make it fit, if one does. */
  readonly likely: DrawingUnit | undefined;
}

/**
 * Whether a drawing of `units` of extent at a scale is implausible beside what stands
 * on the floor (`points`, in metres), and in which unit it would fit better: the one that
 * its file states (`stated`, in metres), else the one nearest to what is usual.
 * Undefined when there is nothing to doubt.
 */
export function doubtOf(
  units: number,
  metresPerUnit: number,
  points: readonly Point[],
  stated?: number,
): Doubt | undefined {
  const standing = extentOf(points);
  const metres = units * metresPerUnit;
  const [least, most, middle] =
    standing > 0
      ? [LEAST_TIMES * standing, MOST_TIMES * standing, USUAL_TIMES * standing]
      : [USUAL_SITE.least, USUAL_SITE.most, USUAL_SITE.middle];
  if (metres >= least && metres <= most) return undefined;
  const off = (scale: number) => Math.abs(Math.log((units * scale) / middle));
  const best = DRAWING_UNITS.reduce((a, b) => (off(b.metres) < off(a.metres) ? b : a));
  const asStated = stated !== undefined && stated !== metresPerUnit ? unitOf(stated) : undefined;
  if (asStated) return { times: standing > 0 ? metres / standing : undefined, likely: asStated };
  const fits = units * best.metres >= least && units * best.metres <= most;
  return {
    times: standing > 0 ? metres / standing : undefined,
    likely: fits && off(best.metres) < off(metresPerUnit) ? best : undefined,
  };
}

/** The unit in which a drawing of unknown unit most likely was made. */
export function likelyUnit(units: number, points: readonly Point[]): DrawingUnit {
  return doubtOf(units, Number.MIN_VALUE, points)?.likely ?? DRAWING_UNITS[0];
}

export interface Placed {
  readonly at: Point;
  readonly metresPerUnit: number;
}

/**
 * The scale at which two points picked on the floor lie `metres` apart; the first stays
 * where it is. Undefined when the points are one, or the distance is not above 0.
 */
export function scaledByTwoPoints(
  { at, metresPerUnit }: Placed,
  first: Point,
  second: Point,
  metres: number,
): Placed | undefined {
  const now = Math.hypot(second[0] - first[0], second[1] - first[1]);
  const factor = metres / now;
  if (!(now > 0 && metres > 0 && Number.isFinite(factor))) return undefined;
  return {
    metresPerUnit: metresPerUnit * factor,
    at: [first[0] + (at[0] - first[0]) * factor, first[1] + (at[1] - first[1]) * factor],
  };
}
