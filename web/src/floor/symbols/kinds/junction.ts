import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";

export const junction: Symbol<"junction"> = {
  extent: () => ({ w: 8, h: 8 }),
  draw(ctx) {
    ctx.beginPath();
    ctx.moveTo(0, -8);
    ctx.lineTo(8, 0);
    ctx.lineTo(0, 8);
    ctx.lineTo(-8, 0);
    ctx.closePath();
    ctx.fillStyle = COLOURS.sheet;
    ctx.fill();
    ctx.lineWidth = 1.5;
    ctx.strokeStyle = COLOURS.ink;
    ctx.stroke();
  },
};
