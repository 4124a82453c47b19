import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";

/** An anchor in the dashed ring of an anchorage. */
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
    // Ring, shank and stock …
    ctx.arc(0, -7.5, 2, 0, 7);
    ctx.moveTo(0, -5.5);
    ctx.lineTo(0, 9);
    ctx.moveTo(-4.5, -2.5);
    ctx.lineTo(4.5, -2.5);
    // … and the arms, with a fluke at each end.
    ctx.moveTo(-8, 3);
    ctx.quadraticCurveTo(-6.5, 9, 0, 9);
    ctx.quadraticCurveTo(6.5, 9, 8, 3);
    ctx.moveTo(-9.5, 5.5);
    ctx.lineTo(-8, 3);
    ctx.lineTo(-5.5, 4.5);
    ctx.moveTo(9.5, 5.5);
    ctx.lineTo(8, 3);
    ctx.lineTo(5.5, 4.5);
    ctx.stroke();
  },
};
