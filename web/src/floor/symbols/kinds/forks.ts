import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";
import { plaque, type Canvas } from "../shared.ts";

/** Lines that come together on the left, or part on the right. */
function fork(ctx: Canvas, side: -1 | 1): void {
  ctx.lineWidth = 1.6;
  ctx.strokeStyle = COLOURS.ink;
  ctx.beginPath();
  for (const y of [-7, 0, 7]) {
    ctx.moveTo(side * 11, y);
    ctx.lineTo(side * 5, y);
    ctx.lineTo(side * -1, 0);
  }
  ctx.moveTo(0, 0);
  ctx.lineTo(-side * 5, 0);
  ctx.stroke();
}

export const join: Symbol<"join"> = {
  extent: () => ({ w: 18, h: 15 }),
  draw(ctx) {
    plaque(ctx, 17, 14);
    fork(ctx, -1);
    ctx.strokeRect(6, -4, 7, 8);
  },
};

export const split: Symbol<"split"> = {
  extent: () => ({ w: 18, h: 15 }),
  draw(ctx) {
    plaque(ctx, 17, 14);
    fork(ctx, 1);
    ctx.strokeRect(-13, -4, 7, 8);
  },
};
