import type { Symbol } from "../symbol.ts";
import { plaque } from "../shared.ts";
import { SLOT } from "../slot.ts";
import { drawSlots, slotCount } from "../slots.ts";

export const crew: Symbol<"crew"> = {
  extent: (element) => ({ w: slotCount(element) * (SLOT.pitch / 2) + 7, h: 15 }),
  draw(ctx, element, live) {
    const w = slotCount(element) * (SLOT.pitch / 2) + 7;
    plaque(ctx, w, 15, 15);
    drawSlots(ctx, element, live.slots);
  },
};

export const equipment: Symbol<"equipment"> = {
  extent: (element) => ({ w: slotCount(element) * (SLOT.pitch / 2) + 8, h: 15 }),
  draw(ctx, element, live) {
    plaque(ctx, slotCount(element) * (SLOT.pitch / 2) + 8, 15, 2);
    drawSlots(ctx, element, live.slots);
  },
};
