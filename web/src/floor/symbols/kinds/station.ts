import type { Symbol } from "../symbol.ts";
import { plaque } from "../shared.ts";
import { SLOT } from "../slot.ts";
import { drawSlots, slotCount } from "../slots.ts";

export const station: Symbol<"station"> = {
  extent: (element) => ({ w: slotCount(element) * (SLOT.pitch / 2) + 8, h: 17 }),
  draw(ctx, element, live) {
    plaque(ctx, slotCount(element) * (SLOT.pitch / 2) + 8, 17);
    drawSlots(ctx, element, live.slots);
  },
};
