import { type Point, polylineLength, type Road } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { shownRoad } from "../roads.ts";
import type { Scene } from "../scene.ts";
import type { Canvas } from "../symbols/shared.ts";
import { toScreen } from "../view.ts";
import { addLine, outside, strokeLine } from "./lines.ts";

/** Pixels that a way is wide at least. */
const NARROWEST = 3;
/** Pixels from the end of a closed way to the bar across it. */
const BAR = 12;
/** Pixels between two arrows of a one-way way, at least where there are two. */
const ARROWS = 70;

export const roadOnScreen = (road: Road, { design, view, size }: Scene): Point[] =>
  shownRoad(road, design).map((p) => toScreen(view, size, p));

/** Pixels that a way is wide. */
export const roadWidth = ({ width }: Road, { view }: Scene): number => Math.max(NARROWEST, width * view.scale);

/**
 * Ways under all that stands on them: first the edges of all, then their grounds, so that they run into one another
 * where they meet.
 */
export function drawRoads(ctx: Canvas, roads: readonly Road[], scene: Scene): void {
  const seen = roads.flatMap((road) => {
    const points = roadOnScreen(road, scene);
    return outside(points, scene.size) ? [] : [{ road, points, width: roadWidth(road, scene) }];
  });
  if (seen.length === 0) return;
  ctx.lineJoin = ctx.lineCap = "round";
  for (const { road, points, width } of seen) {
    ctx.lineWidth = width + 2;
    ctx.strokeStyle = scene.troubled.has(road.id)
      ? COLOURS.buoy
      : road.kind === "road"
        ? COLOURS.wall
        : COLOURS.hairline;
    strokeLine(ctx, points);
  }
  for (const { road, points, width } of seen) {
    ctx.lineWidth = width;
    ctx.strokeStyle = road.kind === "road" ? COLOURS.sheet : COLOURS.walkway;
    strokeLine(ctx, points);
  }
  ctx.lineCap = "butt";
  for (const { road, points, width } of seen) if (road.oneWay) drawArrows(ctx, points, width);
}

/** Small arrows along a way that is gone one way, as far from its ends as half of what is between them. */
function drawArrows(ctx: Canvas, points: readonly Point[], width: number): void {
  const path = new Path2D();
  const reach = Math.min(7, Math.max(4, width / 2));
  const whole = polylineLength(points);
  const between = whole / Math.max(1, Math.floor(whole / ARROWS));
  let left = between / 2;
  for (let i = 1; i < points.length; i++) {
    const [[x0, y0], [x1, y1]] = [points[i - 1], points[i]];
    const length = Math.hypot(x1 - x0, y1 - y0);
    const angle = Math.atan2(y1 - y0, x1 - x0);
    let at = left;
    for (; at < length; at += between) {
      const [x, y] = [x0 + ((x1 - x0) * at) / length, y0 + ((y1 - y0) * at) / length];
      addLine(path, [
        [x - reach * Math.cos(angle - 0.6), y - reach * Math.sin(angle - 0.6)],
        [x, y],
        [x - reach * Math.cos(angle + 0.6), y - reach * Math.sin(angle + 0.6)],
      ]);
    }
    left = at - length;
  }
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.soft;
  ctx.stroke(path);
}

/** Nobody may come onto a way just now: a broken line along its middle, and bars across both its ends. */
export function drawClosedRoad(ctx: Canvas, road: Road, scene: Scene): void {
  const points = roadOnScreen(road, scene);
  if (outside(points, scene.size)) return;
  ctx.strokeStyle = COLOURS.buoy;
  ctx.lineWidth = 2;
  ctx.setLineDash([5, 5]);
  strokeLine(ctx, points);
  ctx.setLineDash([]);
  const reach = roadWidth(road, scene) / 2 + 3;
  for (const [end, next] of [
    [points[0], points[1]],
    [points[points.length - 1], points[points.length - 2]],
  ]) {
    const angle = Math.atan2(next[1] - end[1], next[0] - end[0]);
    const [x, y] = [end[0] + BAR * Math.cos(angle), end[1] + BAR * Math.sin(angle)];
    ctx.lineWidth = 3;
    strokeLine(ctx, [
      [x - reach * Math.sin(angle), y + reach * Math.cos(angle)],
      [x + reach * Math.sin(angle), y - reach * Math.cos(angle)],
    ]);
  }
}

/** A way that is selected or hovered: a line along its middle. */
export function drawChosenRoad(ctx: Canvas, road: Road, scene: Scene): void {
  ctx.lineWidth = 2.2;
  ctx.lineJoin = "round";
  ctx.strokeStyle = COLOURS.action;
  strokeLine(ctx, roadOnScreen(road, scene));
}

/** A way that is being drawn, with what the next click would add. */
export function drawRoadPlan(
  ctx: Canvas,
  { points, next, joins }: NonNullable<Scene["laying"]>,
  { view, size }: Scene,
): void {
  const at = (p: Point) => toScreen(view, size, p);
  ctx.strokeStyle = COLOURS.action;
  ctx.lineWidth = 2.5;
  ctx.lineJoin = "round";
  if (points.length > 1) strokeLine(ctx, points.map(at));
  const last = points.at(-1);
  if (last && next) {
    ctx.setLineDash([6, 4]);
    strokeLine(ctx, [at(last), at(next)]);
    ctx.setLineDash([]);
  }
  ctx.fillStyle = COLOURS.action;
  for (const [x, y] of points.map(at)) {
    ctx.beginPath();
    ctx.arc(x, y, 3.5, 0, 7);
    ctx.fill();
  }
  if (!next || !joins) return;
  // A ring round what it would be joined to.
  const [x, y] = at(next);
  ctx.beginPath();
  ctx.arc(x, y, 9, 0, 7);
  ctx.lineWidth = 2;
  ctx.strokeStyle = COLOURS.buoy;
  ctx.stroke();
}
