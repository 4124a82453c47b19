import { UNIT } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { headOf, personFromAbove, type Pose } from "./person.ts";
import type { Canvas } from "./shared.ts";

/** So much larger than a person who is an entity. */
const LARGER = 1.2;

/** One of a crew seen from above, facing where it walks: shoulders and a head, filled while it is in use. */
export function drawMember(
  ctx: Canvas,
  x: number,
  y: number,
  angle: number,
  k: number,
  state: number,
  pose: Pose = "standing",
): void {
  const inUse = state === UNIT.busy || state === UNIT.walking;
  ctx.save();
  ctx.translate(x, y);
  ctx.rotate(angle);
  ctx.scale(LARGER * k, LARGER * k);
  ctx.lineWidth = 1.4 / LARGER;
  ctx.strokeStyle = COLOURS.ink;
  ctx.fillStyle = state === UNIT.offShift ? COLOURS.offPale : inUse ? COLOURS.busy : COLOURS.sheet;
  const body = personFromAbove(pose);
  ctx.fill(body);
  ctx.stroke(body);
  ctx.fillStyle = COLOURS.sheet;
  ctx.beginPath();
  ctx.arc(headOf(pose) + 0.4, 0, 2.6, 0, 7);
  ctx.fill();
  ctx.stroke();
  ctx.restore();
}
