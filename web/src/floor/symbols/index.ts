import type { Element, ElementKindName } from "@busy-harbor/core";
import { aspectOf, pictureOf } from "../pictures.ts";
import { dwell } from "./kinds/dwell.ts";
import { join, split } from "./kinds/forks.ts";
import { gate } from "./kinds/gate.ts";
import { junction } from "./kinds/junction.ts";
import { place } from "./kinds/place.ts";
import { queue } from "./kinds/queue.ts";
import { crew, equipment } from "./kinds/resources.ts";
import { stock } from "./kinds/stock.ts";
import { station } from "./kinds/station.ts";
import { arrivals, departures } from "./kinds/terminals.ts";
import { vehicle } from "./kinds/vehicle.ts";
import type { Canvas, Extent, Liveness } from "./shared.ts";
import { SLOT } from "./slot.ts";
import { drawSlots } from "./slots.ts";
import type { Symbol } from "./symbol.ts";

/** The symbol of every kind. Adding a kind adds a line here. */
const symbols: { readonly [K in ElementKindName]: Symbol<K> } = {
  arrivals,
  queue,
  station,
  dwell,
  place,
  gate,
  join,
  split,
  junction,
  stock,
  departures,
  crew,
  equipment,
  vehicle,
};

/** A symbol, seen without its element's type. */
interface AnySymbol {
  extent(element: Element): Extent;
  draw(ctx: Canvas, element: Element, live: Liveness): void;
}

const symbolOf = (element: Element) => symbols[element.kind] as unknown as AnySymbol;

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
  drawSlots(ctx, element, live.slots, false);
  ctx.restore();
}

export { hasCount, slotAt, slotCount } from "./slots.ts";
