import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";

export const dwell: Symbol<"dwell"> = {
  extent: () => ({ w: 17, h: 17 }),
  draw(ctx) {
    ctx.beginPath();
    ctx.arc(0, 0, 16, 0, 7);
    ctx.fillStyle = COLOURS.sheet;
    ctx.fill();
    ctx.lineWidth = 1.5;
    ctx.strokeStyle = COLOURS.ink;
    ctx.setLineDash([4, 3]);
    ctx.stroke();
    ctx.setLineDash([]);
    ctx.beginPath();
    ctx.moveTo(0, -7);
    ctx.lineTo(0, 0);
    ctx.lineTo(5, 3);
    ctx.stroke();
  },
};
