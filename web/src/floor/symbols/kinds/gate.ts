import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";
import { plaque } from "../shared.ts";

export const gate: Symbol<"gate"> = {
  extent: () => ({ w: 13, h: 16 }),
  draw(ctx) {
    plaque(ctx, 12, 15, 6);
    ctx.fillStyle = COLOURS.ink;
    for (const y of [-10, 10]) {
      ctx.beginPath();
      ctx.arc(0, y, 2.6, 0, 7);
      ctx.fill();
    }
    ctx.lineWidth = 2;
    ctx.strokeStyle = COLOURS.action;
    ctx.beginPath();
    ctx.moveTo(0, -7);
    ctx.lineTo(0, -1.5);
    ctx.moveTo(0, 7);
    ctx.lineTo(0, 1.5);
    ctx.stroke();
  },
};
