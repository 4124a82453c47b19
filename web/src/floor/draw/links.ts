import { type Element, type Link, type Point, polylineLength } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import { drawnLinks, elementsById, pointAt } from "../paths.ts";
import type { Scene } from "../scene.ts";
import { extentOf } from "../symbols/index.ts";
import type { Canvas } from "../symbols/shared.ts";
import { symbolScale, toScreen } from "../view.ts";
import { addArrowHead, addLine, FINE_SCALE, outside, strokeLine } from "./lines.ts";

/** Pixels from one roller of a conveyor to the next. */
const ROLLER = 8;

/** A link's line on the screen, from symbol to symbol; undefined where it misses an end or is out of sight. */
export function lineOnScreen(link: Link, { design, view, size }: Scene): Point[] | undefined {
  const line = drawnLinks(design).get(link.id);
  const whole = line?.map((p) => toScreen(view, size, p));
  if (!whole || outside(whole, size)) return undefined;
  const byId = elementsById(design);
  return trimmed(whole, byId.get(link.from)!, byId.get(link.to)!, symbolScale(view));
}

/** The edges of walkways, under the lines of all links. */
export function drawWalkways(ctx: Canvas, links: readonly Link[], scene: Scene): void {
  if (scene.view.scale < FINE_SCALE) return;
  const k = symbolScale(scene.view);
  const walkways = new Path2D();
  for (const link of links) {
    const points = link.kind === "walkway" && lineOnScreen(link, scene);
    if (points) addLine(walkways, points);
  }
  ctx.lineJoin = "round";
  for (const [width, colour] of [
    [10 * k, COLOURS.hairline],
    [10 * k - 2, COLOURS.walkway],
  ] as const) {
    ctx.lineWidth = width;
    ctx.strokeStyle = colour;
    ctx.stroke(walkways);
  }
}

/** Conveyors, under the lines of all links: two rails with rollers across. */
export function drawConveyors(ctx: Canvas, links: readonly Link[], scene: Scene): void {
  if (scene.view.scale < FINE_SCALE) return;
  const k = symbolScale(scene.view);
  const belts = new Path2D();
  const rollers = new Path2D();
  for (const link of links) {
    const points = link.kind === "conveyor" && lineOnScreen(link, scene);
    if (!points) continue;
    addLine(belts, points);
    const length = polylineLength(points);
    for (let at = ROLLER / 2; at < length; at += ROLLER) {
      const { point, angle } = pointAt(points, at);
      const [x, y] = [-Math.sin(angle) * 6 * k, Math.cos(angle) * 6 * k];
      addLine(rollers, [
        [point[0] - x, point[1] - y],
        [point[0] + x, point[1] + y],
      ]);
    }
  }
  ctx.lineJoin = "round";
  for (const [path, width, colour] of [
    [belts, 14 * k, COLOURS.soft],
    [belts, 14 * k - 2, COLOURS.sheet],
    [rollers, 1, COLOURS.hairline],
  ] as const) {
    ctx.lineWidth = width;
    ctx.strokeStyle = colour;
    ctx.stroke(path);
  }
}

/** A link's line with its arrow head. */
export function drawLink(ctx: Canvas, link: Link, scene: Scene): void {
  const points = lineOnScreen(link, scene);
  if (!points) return;
  const { view, selection } = scene;
  const selected = selection.has(link.id);
  ctx.strokeStyle = ctx.fillStyle = colourOf(link, scene);
  ctx.lineWidth = selected ? 2.4 : 1.2;
  ctx.lineJoin = "round";
  ctx.setLineDash(dashOf(link, view.scale));
  strokeLine(ctx, points);
  ctx.setLineDash([]);
  ctx.beginPath();
  addArrowHead(ctx, points, symbolScale(view));
  ctx.fill();
}

/** So many links lie over all else, where what goes along them is carried and seen on its vehicle. */
const MANY = 150;

function colourOf({ id, takes, kind }: Link, { selection, hovered, troubled, design }: Scene): string {
  if (selection.has(id) || hovered === id) return COLOURS.action;
  if (troubled.has(id)) return COLOURS.buoy;
  if (takes !== "done") return takes === "scrapped" ? COLOURS.down : COLOURS.blocked;
  if (kind === "carried" && design.links.length > MANY) return COLOURS.hairline;
  return kind === "direct" ? COLOURS.ink : COLOURS.soft;
}

function dashOf({ takes, kind }: Link, scale: number): number[] {
  if (takes !== "done") return [7, 3, 1.5, 3];
  if (scale < FINE_SCALE || kind === "direct") return [];
  return kind === "walkway" ? [6, 4] : kind === "conveyor" ? [] : [2, 3];
}

/** Cuts a line back at both ends so that it runs from edge to edge of the symbols. */
function trimmed(points: readonly Point[], from: Element, to: Element, k: number): Point[] {
  const cut = [...points];
  cut[0] = edgeTowards(points[0], points[1], from, k);
  cut[cut.length - 1] = edgeTowards(points[points.length - 1], points[points.length - 2], to, k);
  return cut;
}

/** The point a little outside a symbol's edge on the way from its middle to `next`. */
function edgeTowards([x, y]: Point, next: Point, element: Element, k: number): Point {
  const { w, h } = extentOf(element);
  const dx = next[0] - x;
  const dy = next[1] - y;
  const reach = Math.min((w * k + 4) / Math.max(Math.abs(dx), 1e-9), (h * k + 4) / Math.max(Math.abs(dy), 1e-9));
  const share = Math.min(0.45, reach);
  return [x + dx * share, y + dy * share];
}
