import { COLOURS } from "../../colours.ts";
import { plaque } from "../shared.ts";
import type { Symbol } from "../symbol.ts";
import { drawCarrier } from "../carrier.ts";

/** Where vehicles are at home: a bay with lines on the ground, and one of them in it. */
export const vehicle: Symbol<"vehicle"> = {
  extent: () => ({ w: 19, h: 14 }),
  draw(ctx) {
    plaque(ctx, 19, 14, 3);
    ctx.beginPath();
    for (const y of [-9, 9]) {
      ctx.moveTo(-14, y);
      ctx.lineTo(14, y);
    }
    ctx.lineWidth = 1;
    ctx.strokeStyle = COLOURS.soft;
    ctx.setLineDash([3, 3]);
    ctx.stroke();
    ctx.setLineDash([]);
    drawCarrier(ctx, 0, 0, 0, 1);
  },
};
