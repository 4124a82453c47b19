import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";
import { plaque } from "../shared.ts";

/** A mooring post seen from above, with a rope round it and its end led away. */
export const queue: Symbol<"queue"> = {
  extent: () => ({ w: 12, h: 12 }),
  draw(ctx) {
    plaque(ctx, 10, 10, 5);
    ctx.beginPath();
    ctx.arc(0, 0, 3.2, 0, 7);
    ctx.fillStyle = COLOURS.ink;
    ctx.fill();
    ctx.lineWidth = 1.5;
    ctx.strokeStyle = COLOURS.ink;
    ctx.beginPath();
    // Once round the post, then off along the line.
    ctx.arc(0, 0, 5.6, -Math.PI / 2, (3 * Math.PI) / 4);
    ctx.lineTo(-8, 0.5);
    ctx.stroke();
  },
};
