import type { Point } from "@busy-harbor/core";

/** Where the floor is looked at: the point in metres at the middle of the screen, and pixels a metre. */
export interface View {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

export const MIN_SCALE = 0.02;
export const MAX_SCALE = 400;

export const toScreen = (view: View, size: Size, [x, y]: Point): Point => [
  (x - view.x) * view.scale + size.width / 2,
  (y - view.y) * view.scale + size.height / 2,
];

export const toFloor = (view: View, size: Size, [x, y]: Point): Point => [
  (x - size.width / 2) / view.scale + view.x,
  (y - size.height / 2) / view.scale + view.y,
];

/** Zooms by a factor, keeping the floor point under the screen point where it is. */
export function zoomAt(view: View, size: Size, screen: Point, factor: number): View {
  const scale = Math.min(MAX_SCALE, Math.max(MIN_SCALE, view.scale * factor));
  const [x, y] = toFloor(view, size, screen);
  return { scale, x: x - (screen[0] - size.width / 2) / scale, y: y - (screen[1] - size.height / 2) / scale };
}

export const panBy = (view: View, dx: number, dy: number): View => ({
  ...view,
  x: view.x - dx / view.scale,
  y: view.y - dy / view.scale,
});

/** Room on the screen that floating panels cover, in pixels. */
export interface Insets {
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
  readonly left: number;
}

/** The view that shows all points within the part of the screen that nothing covers. */
export function fit(points: readonly Point[], size: Size, insets: Insets): View {
  if (points.length === 0) return { x: 0, y: 0, scale: 20 };
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const width = Math.max(100, size.width - insets.left - insets.right);
  const height = Math.max(100, size.height - insets.top - insets.bottom);
  const scale = Math.min(
    MAX_SCALE,
    Math.max(MIN_SCALE, Math.min(width / (right - left + 6), height / (bottom - top + 4), 40)),
  );
  return {
    scale,
    x: (left + right) / 2 + (insets.right - insets.left) / 2 / scale,
    y: (top + bottom) / 2 + (insets.bottom - insets.top) / 2 / scale,
  };
}

/** Size of symbols, which grow more slowly than the plan so that both stay readable. */
export const symbolScale = (view: View): number => Math.min(1.6, Math.max(0.45, Math.sqrt(view.scale / 20)));

/** Grid step in metres: a fine one close up, coarser from afar. */
export function gridStep(view: View): number {
  for (const step of [0.1, 0.25, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500]) if (step * view.scale >= 10) return step;
  return 1000;
}

export const snap = ([x, y]: Point, step: number): Point => [Math.round(x / step) * step, Math.round(y / step) * step];

const ROUND_STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000];

/** The least round number of units that takes so many pixels, for scales and rulers. */
export const roundStep = (pixelsPerUnit: number, leastPixels: number): number =>
  ROUND_STEPS.find((step) => step * pixelsPerUnit >= leastPixels) ?? ROUND_STEPS[ROUND_STEPS.length - 1];
