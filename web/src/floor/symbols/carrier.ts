import { COLOURS } from "../colours.ts";
import type { Canvas } from "./shared.ts";

/** A vehicle seen from above, pointing where it drives: a bed for its load, and a cab before it. */
export function drawCarrier(ctx: Canvas, x: number, y: number, angle: number, k: number): void {
  ctx.save();
  ctx.translate(x, y);
  ctx.rotate(angle);
  ctx.scale(k, k);
  ctx.lineWidth = 1.4;
  ctx.strokeStyle = COLOURS.ink;
  ctx.fillStyle = COLOURS.sheet;
  ctx.beginPath();
  ctx.roundRect(-12, -6, 17, 12, 1.5);
  ctx.roundRect(6.5, -5, 6, 10, 2.5);
  ctx.fill();
  ctx.stroke();
  ctx.restore();
}
