import type { Element, Point } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { queueLine } from "../paths.ts";
import type { Scene } from "../scene.ts";
import { stampSymbol } from "../stamps.ts";
import { drawSymbol, extentOf } from "../symbols/index.ts";
import { type Canvas, text } from "../symbols/shared.ts";
import { symbolScale, toScreen } from "../view.ts";
import { addLine, FINE_SCALE, outside } from "./lines.ts";

/** Mooring posts along the lines of queues. */
export function drawPosts(ctx: Canvas, elements: readonly Element[], { view, size }: Scene): void {
  const k = symbolScale(view);
  const lines = new Path2D();
  const posts = new Path2D();
  for (const element of elements) {
    if (!("line" in element)) continue;
    const points = queueLine(element).map((p) => toScreen(view, size, p));
    if (outside(points, size)) continue;
    addLine(lines, points);
    for (const [x, y] of points.slice(1)) {
      posts.moveTo(x, y + 7 * k);
      posts.arc(x, y + 7 * k, 2.2 * k, 0, 7);
    }
  }
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.soft;
  ctx.setLineDash(view.scale >= FINE_SCALE ? [2, 5] : []);
  ctx.stroke(lines);
  ctx.setLineDash([]);
  ctx.fillStyle = COLOURS.ink;
  ctx.fill(posts);
}

/** An element's symbol, outlined where it is selected, with a mark where it has a problem. */
export function drawElement(ctx: Canvas, element: Element, scene: Scene): void {
  const { view, size, selection, troubled, live } = scene;
  const [x, y] = toScreen(view, size, element.at);
  if (x < -200 || y < -200 || x > size.width + 200 || y > size.height + 200) return;
  const k = symbolScale(view);
  const { w, h } = extentOf(element);
  if (selection.has(element.id)) {
    ctx.beginPath();
    ctx.roundRect(x - (w + 6) * k, y - (h + 6) * k, (2 * w + 12) * k, (2 * h + 12) * k, 10 * k);
    ctx.lineWidth = 2;
    ctx.setLineDash(element.locked ? [] : [4, 3]);
    ctx.strokeStyle = COLOURS.action;
    ctx.stroke();
    ctx.setLineDash([]);
  }
  const state = live?.get(element.id);
  if (state || element.picture) {
    ctx.save();
    ctx.translate(x, y);
    ctx.scale(k, k);
    drawSymbol(ctx, element, state ?? {});
    ctx.restore();
  } else stampSymbol(ctx, element, x, y, k);
  if (troubled.has(element.id)) {
    ctx.beginPath();
    ctx.arc(x + w * k + 4, y - h * k - 4, 7, 0, 7);
    ctx.fillStyle = COLOURS.buoy;
    ctx.fill();
    text(ctx, "!", x + w * k + 4, y - h * k - 3.5, { size: 11, weight: 700, colour: COLOURS.sheet, halo: false });
  }
}

/** Screen points at an element's edge from which a link is dragged. */
export function wayHandles(element: Element, [x, y]: Point, k: number): Point[] {
  const { w, h } = extentOf(element);
  return [
    [x + (w + 8) * k, y],
    [x - (w + 8) * k, y],
    [x, y - (h + 8) * k],
  ];
}
