import type { Element, ElementKindName, ElementOf } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { arrow, type Canvas, type Extent, type Liveness, plaque, quaySteps, text } from "./shared.ts";

/** A pictogram seen from above, drawn around the origin in its own pixels. */
export interface Symbol<K extends ElementKindName> {
  extent(element: ElementOf<K>): Extent;
  draw(ctx: Canvas, element: ElementOf<K>, live: Liveness): void;
}

export const SLOT = { width: 13, height: 16, pitch: 16 };
const SLOTS_SHOWN = 8;

/** Slots of a station that are drawn one by one; above that number a count stands for the rest. */
export const slotCount = (element: ElementOf<"station">): number => {
  const capacity = Number(element.capacity);
  return Number.isInteger(capacity) && capacity >= 1 ? Math.min(capacity, SLOTS_SHOWN) : 1;
};

/** Middle of a station's slot, relative to the station. */
export const slotAt = (element: ElementOf<"station">, slot: number): [number, number] => [(slot - (slotCount(element) - 1) / 2) * SLOT.pitch, 0];

const symbols: { readonly [K in ElementKindName]: Symbol<K> } = {
  arrivals: {
    extent: () => ({ w: 18, h: 15 }),
    draw(ctx) {
      quaySteps(ctx);
      arrow(ctx, -15, 0, -6, COLOURS.action);
    },
  },
  departures: {
    extent: () => ({ w: 18, h: 15 }),
    draw(ctx) {
      quaySteps(ctx);
      arrow(ctx, 0, 15, -6, COLOURS.action);
    },
  },
  queue: {
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
  },
  station: {
    extent: (element) => ({ w: slotCount(element) * (SLOT.pitch / 2) + 8, h: 17 }),
    draw(ctx, element, { slots }) {
      const count = slotCount(element);
      plaque(ctx, count * (SLOT.pitch / 2) + 8, 17);
      for (let i = 0; i < count; i++) slot(ctx, slotAt(element, i)[0], slots?.[i] ?? "idle");
      const capacity = Number(element.capacity);
      if (capacity > SLOTS_SHOWN) text(ctx, `of ${capacity}`, 0, -25, { size: 11, colour: COLOURS.soft });
    },
  },
  dwell: {
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
  },
};

function slot(ctx: Canvas, x: number, state: "idle" | "busy" | "blocked"): void {
  ctx.beginPath();
  ctx.roundRect(x - SLOT.width / 2, -SLOT.height / 2, SLOT.width, SLOT.height, 3.5);
  ctx.fillStyle = state === "busy" ? COLOURS.busy : state === "blocked" ? COLOURS.blockedPale : COLOURS.paper;
  ctx.fill();
  if (state === "blocked") {
    ctx.save();
    ctx.clip();
    ctx.strokeStyle = COLOURS.blocked;
    ctx.lineWidth = 1.6;
    ctx.beginPath();
    for (let d = -24; d < 24; d += 5) {
      ctx.moveTo(x + d - 12, 12);
      ctx.lineTo(x + d + 12, -12);
    }
    ctx.stroke();
    ctx.restore();
    ctx.beginPath();
    ctx.roundRect(x - SLOT.width / 2, -SLOT.height / 2, SLOT.width, SLOT.height, 3.5);
  }
  ctx.lineWidth = 1.3;
  ctx.strokeStyle = state === "blocked" ? COLOURS.blocked : COLOURS.ink;
  ctx.stroke();
}

const symbolOf = (element: Element) => symbols[element.kind] as unknown as Symbol<ElementKindName>;

export const extentOf = (element: Element): Extent => symbolOf(element).extent(element);

export const drawSymbol = (ctx: Canvas, element: Element, live: Liveness = {}): void => symbolOf(element).draw(ctx, element, live);
