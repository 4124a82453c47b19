import type { Point } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import type { Canvas } from "../symbols/shared.ts";
import type { Size } from "../view.ts";

/** Below this many pixels a metre dashes and the edges of walkways cannot be made out. */
export const FINE_SCALE = 4;

/** Strokes a line through points of the screen. */
export function strokeLine(ctx: Canvas, points: readonly Point[]): void {
  ctx.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
  ctx.stroke();
}

/** Whether all points lie beyond one edge of the screen. */
export function outside(points: readonly Point[], { width, height }: Size): boolean {
  return (
    points.every(([x]) => x < 0) ||
    points.every(([x]) => x > width) ||
    points.every(([, y]) => y < 0) ||
    points.every(([, y]) => y > height)
  );
}

export function addLine(path: Path2D | Canvas, points: readonly Point[]): void {
  points.forEach(([x, y], i) => (i === 0 ? path.moveTo(x, y) : path.lineTo(x, y)));
}

/** The head of an arrow at the end of a line. */
export function addArrowHead(path: Path2D | Canvas, points: readonly Point[], k: number): void {
  const [x1, y1] = points[points.length - 1];
  const [x0, y0] = points[points.length - 2];
  const angle = Math.atan2(y1 - y0, x1 - x0);
  const reach = 8 * Math.max(0.7, k);
  path.moveTo(x1, y1);
  path.lineTo(x1 - reach * Math.cos(angle - 0.4), y1 - reach * Math.sin(angle - 0.4));
  path.lineTo(x1 - reach * Math.cos(angle + 0.4), y1 - reach * Math.sin(angle + 0.4));
  path.closePath();
}

/** A small round grip. */
export function handle(ctx: Canvas, x: number, y: number): void {
  ctx.beginPath();
  ctx.arc(x, y, 4.5, 0, 7);
  ctx.fillStyle = COLOURS.sheet;
  ctx.fill();
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.action;
  ctx.stroke();
}
