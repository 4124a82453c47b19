import { type Design, type Element, type Link, type PlanShape, type Point } from "@busy-harbor/core";
import { COLOURS } from "./colours.ts";
import type { Guides } from "./guides.ts";
import { drawnLink, elementsById, queueLine } from "./paths.ts";
import { drawPlan } from "./plan.ts";
import { drawSymbol, extentOf } from "./symbols/index.ts";
import { type Canvas, type Liveness, text } from "./symbols/shared.ts";
import { gridStep, type Size, symbolScale, toScreen, type View } from "./view.ts";

/** All that the floor shows at one moment. */
export interface Scene {
  readonly plan: readonly PlanShape[];
  readonly design: Design;
  readonly view: View;
  readonly size: Size;
  readonly selection: ReadonlySet<string>;
  readonly hovered?: string;
  /** Ids of elements and links with problems. */
  readonly troubled: ReadonlySet<string>;
  readonly grid: boolean;
  /** A link being drawn, from an element to a point. */
  readonly drawing?: { readonly from: string; readonly to: Point; readonly refused: boolean };
  /** A box being drawn to select by, in screen pixels. */
  readonly box?: readonly [Point, Point];
  /** Lines on which a moved element stands with others. */
  readonly guides?: Guides;
  /** A symbol about to be placed. */
  readonly ghost?: Element;
  readonly live?: ReadonlyMap<string, Liveness>;
  /** Drawn over another scene: no paper below, and no names. */
  readonly overlay?: boolean;
}

export function drawScene(ctx: Canvas, scene: Scene): void {
  const { view, size, design } = scene;
  if (!scene.overlay) {
    ctx.fillStyle = COLOURS.paper;
    ctx.fillRect(0, 0, size.width, size.height);
  }
  if (scene.grid) drawGrid(ctx, view, size);
  drawPlan(ctx, scene.plan, view, size);
  const byId = elementsById(design);
  for (const element of design.elements) if (element.kind === "queue") drawPosts(ctx, element, scene);
  for (const link of design.links) drawLink(ctx, link, byId, scene);
  if (scene.drawing) drawPending(ctx, byId.get(scene.drawing.from), scene);
  for (const element of design.elements) drawElement(ctx, element, scene);
  if (scene.ghost) {
    ctx.globalAlpha = 0.55;
    drawElement(ctx, scene.ghost, scene);
    ctx.globalAlpha = 1;
  }
  if (scene.guides) drawGuides(ctx, scene.guides, view, size);
  if (scene.box) {
    const [[x0, y0], [x1, y1]] = scene.box;
    ctx.fillStyle = COLOURS.chosen;
    ctx.fillRect(x0, y0, x1 - x0, y1 - y0);
    ctx.strokeStyle = COLOURS.action;
    ctx.lineWidth = 1;
    ctx.strokeRect(x0, y0, x1 - x0, y1 - y0);
  }
}

function drawGuides(ctx: Canvas, { x, y }: Guides, view: View, size: Size): void {
  const [sx, sy] = toScreen(view, size, [x ?? 0, y ?? 0]);
  ctx.strokeStyle = COLOURS.buoy;
  ctx.lineWidth = 1;
  if (x !== undefined) strokeLine(ctx, [[sx, 0], [sx, size.height]]);
  if (y !== undefined) strokeLine(ctx, [[0, sy], [size.width, sy]]);
}

function drawGrid(ctx: Canvas, view: View, size: Size): void {
  let step = gridStep(view);
  while (step * view.scale < 18) step *= 2;
  ctx.fillStyle = COLOURS.grid;
  const left = Math.floor((view.x - size.width / 2 / view.scale) / step) * step;
  const top = Math.floor((view.y - size.height / 2 / view.scale) / step) * step;
  for (let x = left; ; x += step) {
    const sx = (x - view.x) * view.scale + size.width / 2;
    if (sx > size.width) break;
    for (let y = top; ; y += step) {
      const sy = (y - view.y) * view.scale + size.height / 2;
      if (sy > size.height) break;
      ctx.fillRect(sx - 0.5, sy - 0.5, 1.2, 1.2);
    }
  }
}

/** Mooring posts along the line of a queue. */
function drawPosts(ctx: Canvas, element: Element, { view, size, selection }: Scene): void {
  const points = queueLine(element).map((p) => toScreen(view, size, p));
  ctx.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
  ctx.setLineDash([2, 5]);
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.soft;
  ctx.stroke();
  ctx.setLineDash([]);
  const k = symbolScale(view);
  for (const [i, [x, y]] of points.entries()) {
    if (i === 0) continue;
    ctx.beginPath();
    ctx.arc(x, y + 7 * k, 2.2 * k, 0, 7);
    ctx.fillStyle = COLOURS.ink;
    ctx.fill();
    if (selection.has(element.id)) handle(ctx, x, y);
  }
}

function handle(ctx: Canvas, x: number, y: number): void {
  ctx.beginPath();
  ctx.arc(x, y, 4.5, 0, 7);
  ctx.fillStyle = COLOURS.sheet;
  ctx.fill();
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.action;
  ctx.stroke();
}

function strokeLine(ctx: Canvas, points: readonly Point[]): void {
  ctx.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
  ctx.stroke();
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

function drawLink(ctx: Canvas, link: Link, byId: ReadonlyMap<string, Element>, scene: Scene): void {
  const { view, size, design, selection, troubled, hovered } = scene;
  const drawn = drawnLink(design, link, byId);
  if (!drawn) return;
  const k = symbolScale(view);
  const points = trimmed(drawn.map((p) => toScreen(view, size, p)), byId.get(link.from)!, byId.get(link.to)!, k);
  const selected = selection.has(link.id);
  ctx.lineJoin = "round";
  if (link.kind === "walkway") {
    ctx.lineWidth = 10 * k;
    ctx.strokeStyle = COLOURS.hairline;
    strokeLine(ctx, points);
    ctx.lineWidth = 10 * k - 2;
    ctx.strokeStyle = COLOURS.walkway;
    strokeLine(ctx, points);
  }
  ctx.strokeStyle = selected || hovered === link.id ? COLOURS.action : troubled.has(link.id) ? COLOURS.buoy : link.kind === "direct" ? COLOURS.ink : COLOURS.soft;
  ctx.lineWidth = selected ? 2.4 : 1.2;
  ctx.setLineDash(link.kind === "direct" ? [] : link.kind === "walkway" ? [6, 4] : [2, 3]);
  strokeLine(ctx, points);
  ctx.setLineDash([]);
  arrowHead(ctx, points, ctx.strokeStyle, k);
  if (selected) for (const p of link.bends) handle(ctx, ...toScreen(view, size, p));
}

function arrowHead(ctx: Canvas, points: readonly Point[], colour: string | CanvasGradient | CanvasPattern, k: number): void {
  const [x1, y1] = points[points.length - 1];
  const [x0, y0] = points[points.length - 2];
  const angle = Math.atan2(y1 - y0, x1 - x0);
  const reach = 8 * Math.max(0.7, k);
  ctx.beginPath();
  ctx.moveTo(x1, y1);
  ctx.lineTo(x1 - reach * Math.cos(angle - 0.4), y1 - reach * Math.sin(angle - 0.4));
  ctx.lineTo(x1 - reach * Math.cos(angle + 0.4), y1 - reach * Math.sin(angle + 0.4));
  ctx.closePath();
  ctx.fillStyle = colour;
  ctx.fill();
}

function drawPending(ctx: Canvas, from: Element | undefined, { view, size, drawing }: Scene): void {
  if (!from || !drawing) return;
  const points = [toScreen(view, size, from.at), toScreen(view, size, drawing.to)];
  ctx.strokeStyle = drawing.refused ? COLOURS.buoy : COLOURS.action;
  ctx.lineWidth = 2;
  ctx.setLineDash([5, 4]);
  strokeLine(ctx, points);
  ctx.setLineDash([]);
  arrowHead(ctx, points, ctx.strokeStyle, 1);
}

function drawElement(ctx: Canvas, element: Element, scene: Scene): void {
  const { view, size, selection, hovered, troubled, live, overlay } = scene;
  const [x, y] = toScreen(view, size, element.at);
  if (x < -200 || y < -200 || x > size.width + 200 || y > size.height + 200) return;
  const k = symbolScale(view);
  const { w, h } = extentOf(element);
  ctx.save();
  ctx.translate(x, y);
  ctx.scale(k, k);
  if (selection.has(element.id)) {
    ctx.beginPath();
    ctx.roundRect(-w - 6, -h - 6, 2 * w + 12, 2 * h + 12, 10);
    ctx.lineWidth = 2 / k;
    ctx.setLineDash([4 / k, 3 / k]);
    ctx.strokeStyle = COLOURS.action;
    ctx.stroke();
    ctx.setLineDash([]);
  }
  drawSymbol(ctx, element, live?.get(element.id));
  ctx.restore();
  if (hovered === element.id && element.kind !== "departures") for (const p of wayHandles(element, [x, y], k)) handle(ctx, ...p);
  if (troubled.has(element.id)) {
    ctx.beginPath();
    ctx.arc(x + w * k + 4, y - h * k - 4, 7, 0, 7);
    ctx.fillStyle = COLOURS.buoy;
    ctx.fill();
    text(ctx, "!", x + w * k + 4, y - h * k - 3.5, { size: 11, weight: 700, colour: COLOURS.sheet, halo: false });
  }
  if (!overlay) text(ctx, element.name, x, y + h * k + NAME_BELOW, { size: 12, weight: 550 });
}

/** Pixels from a symbol's edge to the middle of its name. */
const NAME_BELOW = 14;

/** Words under the names of elements. */
export function drawNotes(ctx: Canvas, design: Design, view: View, size: Size, notes: ReadonlyMap<string, string>): void {
  const k = symbolScale(view);
  for (const element of design.elements) {
    const note = notes.get(element.id);
    if (!note) continue;
    const [x, y] = toScreen(view, size, element.at);
    text(ctx, note, x, y + extentOf(element).h * k + NAME_BELOW + 15, { size: 12, weight: 400, colour: COLOURS.soft });
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
