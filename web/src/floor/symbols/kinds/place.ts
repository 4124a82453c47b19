import { type ElementOf, UNIT } from "@busy-harbor/core";
import { unitsOf } from "../../../state/edits.ts";
import { COLOURS } from "../../colours.ts";
import { type Canvas, text } from "../shared.ts";
import { SLOT } from "../slot.ts";
import { rowPitch, slotAt, slotCount, spotRows } from "../slots.ts";
import type { Symbol } from "../symbol.ts";

const extent = (element: ElementOf<"place">) => {
  const { columns, rows } = spotRows(slotCount(element));
  return { w: columns * (SLOT.pitch / 2) + 7, h: rows * (rowPitch(element) / 2) + 6 };
};

/** A desk with a keyboard, ahead of who sits there. */
function drawDesk(ctx: Canvas, x: number, y: number): void {
  ctx.beginPath();
  ctx.roundRect(x - 7, y - 8, 14, 5.5, 1);
  ctx.fillStyle = COLOURS.sheet;
  ctx.fill();
  ctx.lineWidth = 1;
  ctx.strokeStyle = COLOURS.ink;
  ctx.stroke();
  ctx.strokeRect(x - 3, y - 6, 6, 2);
}

/** One spot, as people are there: a seat with its back, one at a desk, a bed with its pillow, or a mark to stand on. */
function drawSpot(ctx: Canvas, x: number, y: number, posture: ElementOf<"place">["posture"], state: number): void {
  if (posture === "typing") drawDesk(ctx, x, y - 3);
  ctx.beginPath();
  if (posture === "standing") ctx.arc(x, y, 5, 0, 7);
  else if (posture === "typing") ctx.roundRect(x - 4.5, y - 2.5, 9, 9, 2.5);
  else if (posture === "lying") ctx.roundRect(x - 5, y - 7, 10, 14, 2);
  else ctx.roundRect(x - 5.5, y - 5, 11, 11, 2.5);
  ctx.fillStyle = state === UNIT.busy ? COLOURS.waterLine : state === UNIT.offShift ? COLOURS.offPale : COLOURS.water;
  ctx.fill();
  ctx.lineWidth = 1.2;
  ctx.strokeStyle = state === UNIT.offShift ? COLOURS.off : COLOURS.ink;
  ctx.setLineDash(posture === "standing" ? [2, 2] : []);
  ctx.stroke();
  ctx.setLineDash([]);
  ctx.beginPath();
  if (posture === "typing") {
    ctx.moveTo(x - 4.5, y + 7);
    ctx.lineTo(x + 4.5, y + 7);
    ctx.lineWidth = 2.2;
  } else if (posture === "sitting") {
    ctx.moveTo(x - 5.5, y - 6);
    ctx.lineTo(x + 5.5, y - 6);
    ctx.lineWidth = 2.4;
  } else if (posture === "lying") {
    ctx.moveTo(x - 3, y - 4);
    ctx.lineTo(x + 3, y - 4);
    ctx.lineWidth = 2;
  }
  ctx.stroke();
}

/** A floor with its spots in rows. */
export const place: Symbol<"place"> = {
  extent,
  draw(ctx, element, { slots }) {
    const { w, h } = extent(element);
    ctx.beginPath();
    ctx.roundRect(-w, -h, 2 * w, 2 * h, 4);
    ctx.fillStyle = COLOURS.walkway;
    ctx.fill();
    ctx.lineWidth = 1.3;
    ctx.strokeStyle = COLOURS.wall;
    ctx.stroke();
    for (let i = 0; i < slotCount(element); i++)
      drawSpot(ctx, ...slotAt(element, i), element.posture, slots?.[i] ?? UNIT.idle);
    const count = unitsOf(element);
    if (count > slotCount(element)) text(ctx, `of ${count}`, 0, -h - 9, { size: 11, colour: COLOURS.soft });
  },
};
