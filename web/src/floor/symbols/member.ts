import { UNIT } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import type { Canvas } from "./shared.ts";

/** One of a crew seen from above, facing where it walks: shoulders and a head, filled while it is in use. */
export function drawMember(ctx: Canvas, x: number, y: number, angle: number, k: number, state: number): void {
  const inUse = state === UNIT.busy || state === UNIT.walking;
  ctx.save();
  ctx.translate(x, y);
  ctx.rotate(angle);
  ctx.scale(k, k);
  ctx.lineWidth = 1.4;
  ctx.strokeStyle = COLOURS.ink;
  ctx.fillStyle = state === UNIT.offShift ? COLOURS.offPale : inUse ? COLOURS.busy : COLOURS.sheet;
  ctx.beginPath();
  ctx.ellipse(0, 0, 4, 7.5, 0, 0, 7);
  ctx.fill();
  ctx.stroke();
  ctx.fillStyle = COLOURS.sheet;
  ctx.beginPath();
  ctx.arc(0.5, 0, 3.2, 0, 7);
  ctx.fill();
  ctx.stroke();
  ctx.restore();
}
