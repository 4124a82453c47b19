import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";
import { plaque } from "../shared.ts";

export const queue: Symbol<"queue"> = {
  extent: () => ({ w: 12, h: 12 }),
  draw(ctx) {
    plaque(ctx, 9, 9, 5);
    ctx.fillStyle = COLOURS.ink;
    for (const x of [-4, 0, 4]) {
      ctx.beginPath();
      ctx.arc(x, 0, 1.6, 0, 7);
      ctx.fill();
    }
  },
};
