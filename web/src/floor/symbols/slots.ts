import { type Element, kindOf, UNIT } from "@busy-harbor/core";
import { unitsOf } from "../../state/edits.ts";
import { COLOURS } from "../colours.ts";
import { drawSlot, SLOT, SLOTS_SHOWN } from "./slot.ts";
import { type Canvas, type Liveness, text } from "./shared.ts";

/** Spots of a place that are drawn, and how many in a row where they are few. */
const SPOTS_SHOWN = 40;
const SPOTS_IN_ROW = 5;

/**
 * Slots or units of an element that are drawn one by one; above that number a count stands for the rest.
 */
export const slotCount = (element: Element): number => {
  const count = unitsOf(element);
  return Number.isInteger(count) && count >= 1 ? Math.min(count, mostShown(element)) : 1;
};

const mostShown = (element: Element): number => (kindOf(element).hasSpots ? SPOTS_SHOWN : SLOTS_SHOWN);

/** How so many spots of a place lie: in rows, few enough that all are seen. */
export function spotRows(count: number): { readonly columns: number; readonly rows: number } {
  const columns = Math.min(count, count > 2 * SPOTS_IN_ROW ? 2 * SPOTS_IN_ROW : SPOTS_IN_ROW);
  return { columns, rows: Math.ceil(count / columns) };
}

/** Pixels from a row of spots to the next: who types has a desk ahead. */
export const rowPitch = (element: Element): number =>
  "posture" in element && element.posture === "typing" ? 1.4 * SLOT.pitch : SLOT.pitch;

/** Middle of a slot, relative to the element. */
export function slotAt(element: Element, slot: number): [number, number] {
  const count = slotCount(element);
  if (!kindOf(element).hasSpots) return [(slot - (count - 1) / 2) * SLOT.pitch, 0];
  const { columns, rows } = spotRows(count);
  return [
    ((slot % columns) - (columns - 1) / 2) * SLOT.pitch,
    (Math.floor(slot / columns) - (rows - 1) / 2) * rowPitch(element),
  ];
}

/** Whether a count of all stands above the symbol, as not all are drawn. */
export const hasCount = (element: Element): boolean => unitsOf(element) > mostShown(element);

/** Draws the slots or units of an element, each as what it is doing, and how many there are where not all fit. */
export function drawSlots(ctx: Canvas, element: Element, states: Liveness["slots"], withCount = true): void {
  const shown = slotCount(element);
  const { unitLooks } = kindOf(element);
  for (let i = 0; i < shown; i++) drawSlot(ctx, slotAt(element, i)[0], states?.[i] ?? UNIT.idle, unitLooks);
  const count = unitsOf(element);
  if (withCount && count > SLOTS_SHOWN) text(ctx, `of ${count}`, 0, -25, { size: 11, colour: COLOURS.soft });
}
