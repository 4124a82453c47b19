import { type Element, type ElementKindName, type ElementOf, UNIT } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { aspectOf, pictureOf } from "../pictures.ts";
import { drawSlot, SLOT, SLOTS_SHOWN } from "./slot.ts";
import { arrow, type Canvas, type Extent, type Liveness, plaque, quaySteps, text } from "./shared.ts";

/** A pictogram seen from above, drawn around the origin in its own pixels. */
export interface Symbol<K extends ElementKindName> {
  extent(element: ElementOf<K>): Extent;
  draw(ctx: Canvas, element: ElementOf<K>, live: Liveness): void;
}

/**
 * Slots of a station, or units of a resource, that are drawn one by one; above that number a count stands for the
 * rest.
 */
export const slotCount = (element: Element): number => {
  const count = Number("capacity" in element ? element.capacity : "count" in element ? element.count : 1);
  return Number.isInteger(count) && count >= 1 ? Math.min(count, SLOTS_SHOWN) : 1;
};

/** Middle of a slot, relative to the element. */
export const slotAt = (element: Element, slot: number): [number, number] => [
  (slot - (slotCount(element) - 1) / 2) * SLOT.pitch,
  0,
];

function slots(
  ctx: Canvas,
  element: Element,
  count: string,
  states: Liveness["slots"],
  shape?: "person" | "piece",
): void {
  const shown = slotCount(element);
  for (let i = 0; i < shown; i++) drawSlot(ctx, slotAt(element, i)[0], states?.[i] ?? UNIT.idle, shape);
  if (Number(count) > SLOTS_SHOWN) text(ctx, `of ${count}`, 0, -25, { size: 11, colour: COLOURS.soft });
}

/** Lines that come together on the left, or part on the right. */
function fork(ctx: Canvas, side: -1 | 1): void {
  ctx.lineWidth = 1.6;
  ctx.strokeStyle = COLOURS.ink;
  ctx.beginPath();
  for (const y of [-7, 0, 7]) {
    ctx.moveTo(side * 11, y);
    ctx.lineTo(side * 5, y);
    ctx.lineTo(side * -1, 0);
  }
  ctx.moveTo(0, 0);
  ctx.lineTo(-side * 5, 0);
  ctx.stroke();
}

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
    draw(ctx, element, live) {
      plaque(ctx, slotCount(element) * (SLOT.pitch / 2) + 8, 17);
      slots(ctx, element, element.capacity, live.slots);
    },
  },
  crew: {
    extent: (element) => ({ w: slotCount(element) * (SLOT.pitch / 2) + 7, h: 15 }),
    draw(ctx, element, live) {
      const w = slotCount(element) * (SLOT.pitch / 2) + 7;
      plaque(ctx, w, 15, 15);
      slots(ctx, element, element.count, live.slots, "person");
    },
  },
  equipment: {
    extent: (element) => ({ w: slotCount(element) * (SLOT.pitch / 2) + 8, h: 15 }),
    draw(ctx, element, live) {
      plaque(ctx, slotCount(element) * (SLOT.pitch / 2) + 8, 15, 2);
      slots(ctx, element, element.count, live.slots, "piece");
    },
  },
  gate: {
    extent: () => ({ w: 13, h: 16 }),
    draw(ctx) {
      plaque(ctx, 12, 15, 6);
      ctx.fillStyle = COLOURS.ink;
      for (const y of [-10, 10]) {
        ctx.beginPath();
        ctx.arc(0, y, 2.6, 0, 7);
        ctx.fill();
      }
      ctx.lineWidth = 2;
      ctx.strokeStyle = COLOURS.action;
      ctx.beginPath();
      ctx.moveTo(0, -7);
      ctx.lineTo(0, -1.5);
      ctx.moveTo(0, 7);
      ctx.lineTo(0, 1.5);
      ctx.stroke();
    },
  },
  join: {
    extent: () => ({ w: 18, h: 15 }),
    draw(ctx) {
      plaque(ctx, 17, 14);
      fork(ctx, -1);
      ctx.strokeRect(6, -4, 7, 8);
    },
  },
  split: {
    extent: () => ({ w: 18, h: 15 }),
    draw(ctx) {
      plaque(ctx, 17, 14);
      fork(ctx, 1);
      ctx.strokeRect(-13, -4, 7, 8);
    },
  },
  junction: {
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

const symbolOf = (element: Element) => symbols[element.kind] as unknown as Symbol<ElementKindName>;

/** Half width and half height of an element as it is drawn: its picture's, turned, or its symbol's. */
export function extentOf(element: Element): Extent {
  const { picture } = element;
  if (!picture) return symbolOf(element).extent(element);
  const w = (picture.size * SLOT.pitch) / 2;
  const h = w * aspectOf(element);
  const turn = (picture.turn * Math.PI) / 180;
  const [c, s] = [Math.abs(Math.cos(turn)), Math.abs(Math.sin(turn))];
  return { w: Math.max(8, w * c + h * s), h: Math.max(8, w * s + h * c) };
}

/** Draws an element around the origin: its picture, with its slots below while it is watched, or its symbol. */
export function drawSymbol(ctx: Canvas, element: Element, live: Liveness = {}): void {
  const { picture } = element;
  const image = pictureOf(element);
  if (!picture || !image) {
    symbolOf(element).draw(ctx, element, live);
    return;
  }
  const w = picture.size * SLOT.pitch;
  const h = w * aspectOf(element);
  ctx.save();
  ctx.rotate((picture.turn * Math.PI) / 180);
  ctx.drawImage(image, -w / 2, -h / 2, w, h);
  ctx.restore();
  if (!live.slots) return;
  ctx.save();
  ctx.translate(0, extentOf(element).h - SLOT.height / 4);
  ctx.scale(0.6, 0.6);
  slots(
    ctx,
    element,
    "",
    live.slots,
    element.kind === "crew" ? "person" : element.kind === "equipment" ? "piece" : undefined,
  );
  ctx.restore();
}
