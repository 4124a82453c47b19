import type { Point } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import type { Canvas } from "../symbols/shared.ts";
import { strokeLine } from "./lines.ts";

/** How dark the least and the most are. */
const [FAINT, DARK] = [0.07, 0.75];

/** The darkness of a share from 0 to 1 of the most: by its root, so that what is seldom is seen too. */
export const darkness = (share: number): number => FAINT + (DARK - FAINT) * Math.sqrt(Math.min(1, Math.max(0, share)));

/** A square that is the darker the more moves there, by its share of the most. */
export function drawHeat(ctx: Canvas, [x, y]: Point, side: number, share: number): void {
  ctx.globalAlpha = darkness(share);
  ctx.fillStyle = COLOURS.buoy;
  ctx.fillRect(x, y, side, side);
  ctx.globalAlpha = 1;
}

/** Where somebody has been, the fainter the longer ago, with a ring round where it is. */
export function drawTrail(ctx: Canvas, points: readonly Point[], now: Point | undefined, k: number): void {
  ctx.strokeStyle = COLOURS.action;
  ctx.lineWidth = 3;
  ctx.lineJoin = ctx.lineCap = "round";
  const line = now ? [...points, now] : points;
  const parts = Math.min(PARTS, line.length - 1);
  for (let part = 0; part < parts; part++) {
    const [from, to] = [part, part + 1].map((n) => Math.round((n * (line.length - 1)) / parts));
    ctx.globalAlpha = 0.15 + (0.75 * (part + 1)) / parts;
    strokeLine(ctx, line.slice(from, to + 1));
  }
  ctx.globalAlpha = 1;
  ctx.lineCap = "butt";
  if (!now) return;
  ctx.beginPath();
  ctx.arc(now[0], now[1], 11 * k, 0, 7);
  ctx.lineWidth = 2.5;
  ctx.strokeStyle = COLOURS.buoy;
  ctx.stroke();
}

/** Parts of a trail of one faintness each. */
const PARTS = 12;
