import { COLOURS } from "../../colours.ts";
import type { Symbol } from "../symbol.ts";
import { arrow, quaySteps } from "../shared.ts";

export const arrivals: Symbol<"arrivals"> = {
  extent: () => ({ w: 18, h: 15 }),
  draw(ctx) {
    quaySteps(ctx);
    arrow(ctx, -15, 0, -6, COLOURS.action);
  },
};

export const departures: Symbol<"departures"> = {
  extent: () => ({ w: 18, h: 15 }),
  draw(ctx) {
    quaySteps(ctx);
    arrow(ctx, 0, 15, -6, COLOURS.action);
  },
};
