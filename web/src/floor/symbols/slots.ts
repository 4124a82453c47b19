import { type Element, kindOf, UNIT } from "@busy-harbor/core";
import { unitsOf } from "../../state/edits.ts";
import { COLOURS } from "../colours.ts";
import { drawSlot, SLOT, SLOTS_SHOWN } from "./slot.ts";
import { type Canvas, type Liveness, text } from "./shared.ts";

/**
 * Slots or units of an element that are drawn one by one; above that number a count stands for the rest.
 */
export const slotCount = (element: Element): number => {
  const count = unitsOf(element);
  return Number.isInteger(count) && count >= 1 ? Math.min(count, SLOTS_SHOWN) : 1;
};

/** Middle of a slot, relative to the element. */
export const slotAt = (element: Element, slot: number): [number, number] => [
  (slot - (slotCount(element) - 1) / 2) * SLOT.pitch,
  0,
];

/** Whether a count of all stands above the symbol, as not all are drawn. */
export const hasCount = (element: Element): boolean => unitsOf(element) > SLOTS_SHOWN;

/** Draws the slots or units of an element, each as what it is doing, and how many there are where not all fit. */
export function drawSlots(ctx: Canvas, element: Element, states: Liveness["slots"], withCount = true): void {
  const shown = slotCount(element);
  const { unitLooks } = kindOf(element);
  for (let i = 0; i < shown; i++) drawSlot(ctx, slotAt(element, i)[0], states?.[i] ?? UNIT.idle, unitLooks);
  const count = unitsOf(element);
  if (withCount && count > SLOTS_SHOWN) text(ctx, `of ${count}`, 0, -25, { size: 11, colour: COLOURS.soft });
}
