import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";
import { plaque } from "../shared.ts";

/** Two boards with what lies on them. */
export const stock: Symbol<"stock"> = {
  extent: () => ({ w: 18, h: 16 }),
  draw(ctx) {
    plaque(ctx, 17, 15, 4);
    ctx.strokeStyle = COLOURS.ink;
    ctx.lineWidth = 1.5;
    for (const y of [-1, 11]) {
      ctx.beginPath();
      ctx.moveTo(-12, y);
      ctx.lineTo(12, y);
      ctx.stroke();
    }
    ctx.fillStyle = COLOURS.action;
    for (const [x, y, w, h] of [
      [-11, -9, 6, 7],
      [-3, -7, 6, 5],
      [5, -9, 5, 7],
      [-11, 4, 8, 6],
      [-1, 3, 5, 7],
    ])
      ctx.fillRect(x, y, w, h);
  },
};
