import type { PlanShape, Point } from "@busy-harbor/core";
import { COLOURS, FONT } from "./colours.ts";
import type { Canvas } from "./symbols/shared.ts";
import { type Size, toScreen, type View } from "./view.ts";

/** Draws the plan under the elements. */
export function drawPlan(ctx: Canvas, plan: readonly PlanShape[], view: View, size: Size): void {
  const at = (p: Point) => toScreen(view, size, p);
  for (const shape of plan) {
    switch (shape.shape) {
      case "water":
        trace(ctx, shape.points.map(at), true);
        ctx.fillStyle = COLOURS.water;
        ctx.fill();
        ctx.save();
        ctx.clip();
        depthLines(ctx, shape.points.map(at));
        ctx.restore();
        trace(ctx, shape.points.map(at), true);
        ctx.lineWidth = 1;
        ctx.strokeStyle = COLOURS.ink;
        ctx.stroke();
        break;
      case "wall":
        trace(ctx, shape.points.map(at), false);
        ctx.lineWidth = Math.max(1.5, 0.12 * view.scale);
        ctx.lineJoin = "miter";
        ctx.strokeStyle = COLOURS.wall;
        ctx.stroke();
        break;
      case "door": {
        const [[x0, y0], [x1, y1]] = [at(shape.points[0]), at(shape.points[1])];
        const radius = Math.hypot(x1 - x0, y1 - y0);
        const angle = Math.atan2(y1 - y0, x1 - x0);
        ctx.beginPath();
        ctx.arc(x0, y0, radius, angle - Math.PI / 2, angle);
        ctx.lineWidth = 1;
        ctx.strokeStyle = COLOURS.wall;
        ctx.stroke();
        break;
      }
      case "vessel":
        trace(ctx, shape.points.map(at), true);
        ctx.fillStyle = COLOURS.sheet;
        ctx.fill();
        ctx.lineWidth = Math.max(2, 0.15 * view.scale);
        ctx.lineJoin = "round";
        ctx.strokeStyle = COLOURS.ink;
        ctx.stroke();
        break;
      case "place name": {
        const pixels = Math.min(40, Math.max(9, shape.size * view.scale * 0.8));
        const [x, y] = at(shape.at);
        ctx.font = `italic 400 ${pixels}px ${FONT}`;
        ctx.textAlign = "left";
        ctx.textBaseline = "alphabetic";
        ctx.fillStyle = COLOURS.soft;
        spaced(ctx, shape.text, x, y, pixels * 0.1);
        break;
      }
    }
  }
}

function trace(ctx: Canvas, points: readonly Point[], closed: boolean): void {
  ctx.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
  if (closed) ctx.closePath();
}

/** Lines that follow the shore, as on a chart. */
function depthLines(ctx: Canvas, points: readonly Point[]): void {
  ctx.strokeStyle = COLOURS.waterLine;
  ctx.lineWidth = 1;
  for (const distance of [14, 34, 62]) {
    ctx.beginPath();
    points.forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y + distance) : ctx.lineTo(x, y + distance)));
    ctx.stroke();
  }
}

function spaced(ctx: Canvas, text: string, x: number, y: number, gap: number): void {
  let at = x;
  for (const letter of text) {
    ctx.fillText(letter, at, y);
    at += ctx.measureText(letter).width + gap;
  }
}
