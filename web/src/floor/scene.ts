import { type Design, type Element, type Link, type PlanShape, type Point } from "@busy-harbor/core";
import { canLead, isResource, usesResource } from "../state/edits.ts";
import type { Backdrop } from "../drawings/backdrop.ts";
import { COLOURS, FONT } from "./colours.ts";
import type { Guides } from "./guides.ts";
import { drawnLinks, elementsById, queueLine } from "./paths.ts";
import { LabelSpace, widthOf } from "./labels.ts";
import { drawPlan } from "./plan.ts";
import { stampSymbol } from "./stamps.ts";
import { drawSymbol, extentOf } from "./symbols/index.ts";
import { type Canvas, type Liveness, text } from "./symbols/shared.ts";
import { gridStep, type Size, symbolScale, toFloor, toScreen, type View } from "./view.ts";

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
  /** The background drawings, painted beforehand. */
  readonly backdrop?: Backdrop;
  /** What is at hand of a background drawing: its corners and middle, and points picked on it, in metres. */
  readonly placing?: { readonly corners: readonly Point[]; readonly grip?: Point; readonly picked: readonly Point[] };
  /** Drawn over another scene: no paper below, and no names. */
  readonly overlay?: boolean;
}

/**
 * Which part of a scene to draw: all of it, or the resting part without some elements and links, or only those with
 * what is at hand.
 */
export type Part =
  { readonly draw: "all" } | { readonly draw: "resting" | "at hand"; readonly moved: ReadonlySet<string> };

const NOTHING: ReadonlySet<string> = new Set();

export function drawScene(ctx: Canvas, scene: Scene, part: Part = { draw: "all" }): void {
  const { view, size } = scene;
  if (part.draw === "at hand") {
    const hand = new Set([...part.moved, ...scene.selection, ...(scene.hovered ? [scene.hovered] : [])]);
    const { elements, links } = scene.design;
    // Links of what is only selected rest where they are; those of what has moved do not.
    const apart: Apart = {
      ...scene,
      elements: elements.filter((e) => hand.has(e.id)),
      links: links.filter((l) => hand.has(l.id) || touches(l, part.moved)),
    };
    drawPosts(ctx, apart);
    drawUses(ctx, scene);
    drawLinks(ctx, apart);
    for (const element of apart.elements) drawElement(ctx, element, scene);
    drawNames(ctx, apart.elements, scene);
  } else {
    if (!scene.overlay) {
      ctx.fillStyle = COLOURS.paper;
      ctx.fillRect(0, 0, size.width, size.height);
    }
    if (scene.backdrop) drawBackdrop(ctx, scene.backdrop, view, size);
    if (scene.grid) drawGrid(ctx, view, size);
    drawPlan(ctx, scene.plan, view, size);
    const resting = without(scene, part.draw === "all" ? NOTHING : part.moved);
    drawPosts(ctx, resting);
    if (part.draw === "all") drawUses(ctx, scene);
    drawLinks(ctx, resting);
    for (const element of resting.elements) drawElement(ctx, element, scene);
    if (!scene.overlay) drawNames(ctx, resting.elements, scene);
    if (part.draw === "resting") return;
  }
  if (scene.drawing)
    drawPending(
      ctx,
      scene.design.elements.find((e) => e.id === scene.drawing?.from),
      scene,
    );
  if (scene.ghost) {
    ctx.globalAlpha = 0.55;
    drawElement(ctx, scene.ghost, scene);
    ctx.globalAlpha = 1;
    drawNames(ctx, [scene.ghost], scene);
  }
  if (scene.placing) drawPlacing(ctx, scene.placing, view, size);
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

/** The picture of the drawings, moved and scaled to where it belongs while a sharper one is being painted. */
function drawBackdrop(ctx: Canvas, { image, view: from, size: painted }: Backdrop, view: View, size: Size): void {
  const k = view.scale / from.scale;
  const [x, y] = toScreen(view, size, toFloor(from, painted, [0, 0]));
  ctx.drawImage(image, x, y, painted.width * k, painted.height * k);
}

function drawPlacing(
  ctx: Canvas,
  { corners, grip, picked }: NonNullable<Scene["placing"]>,
  view: View,
  size: Size,
): void {
  ctx.strokeStyle = COLOURS.action;
  ctx.lineWidth = 1;
  if (corners.length > 0) {
    ctx.setLineDash([6, 4]);
    strokeLine(
      ctx,
      [...corners, corners[0]].map((p) => toScreen(view, size, p)),
    );
    ctx.setLineDash([]);
  }
  if (grip) {
    const [x, y] = toScreen(view, size, grip);
    handle(ctx, x, y);
    strokeLine(ctx, [
      [x - 12, y],
      [x + 12, y],
    ]);
    strokeLine(ctx, [
      [x, y - 12],
      [x, y + 12],
    ]);
  }
  const ends = picked.map((p) => toScreen(view, size, p));
  ctx.lineWidth = 2;
  ctx.strokeStyle = COLOURS.buoy;
  if (ends.length === 2) strokeLine(ctx, ends);
  for (const [x, y] of ends) {
    strokeLine(ctx, [
      [x - 7, y - 7],
      [x + 7, y + 7],
    ]);
    strokeLine(ctx, [
      [x - 7, y + 7],
      [x + 7, y - 7],
    ]);
  }
}

/** A scene of some of the design's elements and links only. */
type Apart = Scene & { readonly elements: readonly Element[]; readonly links: readonly Link[] };

const touches = (link: Link, ids: ReadonlySet<string>): boolean =>
  ids.has(link.id) || ids.has(link.from) || ids.has(link.to);

/** The scene without some elements and links, and without the links of those elements. */
function without(scene: Scene, ids: ReadonlySet<string>): Apart {
  const { elements, links } = scene.design;
  return { ...scene, elements: elements.filter((e) => !ids.has(e.id)), links: links.filter((l) => !touches(l, ids)) };
}

function drawGuides(ctx: Canvas, { x, y }: Guides, view: View, size: Size): void {
  const [sx, sy] = toScreen(view, size, [x ?? 0, y ?? 0]);
  ctx.strokeStyle = COLOURS.buoy;
  ctx.lineWidth = 1;
  if (x !== undefined)
    strokeLine(ctx, [
      [sx, 0],
      [sx, size.height],
    ]);
  if (y !== undefined)
    strokeLine(ctx, [
      [0, sy],
      [size.width, sy],
    ]);
}

/** Pixels of the little picture that the grid repeats. */
const TILE = 32;
let tile: { readonly colour: string; readonly image: HTMLCanvasElement } | undefined;

/** A dot at every step of the grid: one picture, repeated. */
function drawGrid(ctx: Canvas, view: View, size: Size): void {
  if (tile?.colour !== COLOURS.grid) {
    const image = document.createElement("canvas");
    image.width = image.height = TILE;
    tile = { colour: COLOURS.grid, image };
  }
  let step = gridStep(view);
  while (step * view.scale < 18) step *= 2;
  const pixels = step * view.scale;
  const inner = tile.image.getContext("2d")!;
  inner.clearRect(0, 0, TILE, TILE);
  inner.fillStyle = COLOURS.grid;
  const dot = (1.3 * TILE) / pixels;
  inner.fillRect(0, 0, dot, dot);
  const pattern = ctx.createPattern(tile.image, "repeat")!;
  const [x, y] = toScreen(view, size, [0, 0]);
  pattern.setTransform(new DOMMatrix([pixels / TILE, 0, 0, pixels / TILE, x - 0.65, y - 0.65]));
  ctx.fillStyle = pattern;
  ctx.fillRect(0, 0, size.width, size.height);
}

/** Mooring posts along the lines of queues. */
function drawPosts(ctx: Canvas, { view, size, elements, selection }: Apart): void {
  const k = symbolScale(view);
  const lines = new Path2D();
  const posts = new Path2D();
  const handles: Point[] = [];
  for (const element of elements) {
    if (!("line" in element)) continue;
    const points = queueLine(element).map((p) => toScreen(view, size, p));
    if (outside(points, size)) continue;
    addLine(lines, points);
    for (const [x, y] of points.slice(1)) {
      posts.moveTo(x, y + 7 * k);
      posts.arc(x, y + 7 * k, 2.2 * k, 0, 7);
      if (selection.has(element.id)) handles.push([x, y]);
    }
  }
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.soft;
  ctx.setLineDash(view.scale >= FINE_SCALE ? [2, 5] : []);
  ctx.stroke(lines);
  ctx.setLineDash([]);
  ctx.fillStyle = COLOURS.ink;
  ctx.fill(posts);
  for (const [x, y] of handles) handle(ctx, x, y);
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

/** Lines of one look, gathered to be drawn at once. */
interface Strokes {
  readonly colour: string;
  readonly width: number;
  readonly dash: readonly number[];
  readonly lines: Path2D;
  readonly heads: Path2D;
  count: number;
}

/** Lines gathered into one path: a path of very many takes longer than several of some. */
const TOGETHER = 24;

/** Below this many pixels a metre dashes and the edges of walkways cannot be made out. */
const FINE_SCALE = 4;

function drawLinks(ctx: Canvas, { view, size, design, links, selection, troubled, hovered }: Apart): void {
  const byId = elementsById(design);
  const k = symbolScale(view);
  const fine = view.scale >= FINE_SCALE;
  const walkways = new Path2D();
  const looks = new Map<string, Strokes>();
  const full: Strokes[] = [];
  const handles: Point[] = [];
  const drawn = drawnLinks(design);
  for (const link of links) {
    const line = drawn.get(link.id);
    if (!line) continue;
    const whole = line.map((p) => toScreen(view, size, p));
    if (outside(whole, size)) continue;
    const points = trimmed(whole, byId.get(link.from)!, byId.get(link.to)!, k);
    const selected = selection.has(link.id);
    const colour =
      selected || hovered === link.id
        ? COLOURS.action
        : troubled.has(link.id)
          ? COLOURS.buoy
          : link.takes !== "done"
            ? link.takes === "scrapped"
              ? COLOURS.down
              : COLOURS.blocked
            : link.kind === "direct"
              ? COLOURS.ink
              : COLOURS.soft;
    const aside = link.takes !== "done";
    const key = `${colour} ${selected} ${link.kind} ${aside}`;
    let strokes = looks.get(key);
    if (!strokes) {
      const dash = aside
        ? [7, 3, 1.5, 3]
        : !fine || link.kind === "direct"
          ? []
          : link.kind === "walkway"
            ? [6, 4]
            : [2, 3];
      looks.set(
        key,
        (strokes = { colour, width: selected ? 2.4 : 1.2, dash, lines: new Path2D(), heads: new Path2D(), count: 0 }),
      );
    }
    if (++strokes.count === TOGETHER) {
      full.push(strokes);
      looks.delete(key);
    }
    addLine(strokes.lines, points);
    addArrowHead(strokes.heads, points, k);
    if (link.kind === "walkway" && fine) addLine(walkways, points);
    if (selected) handles.push(...link.bends.map((p) => toScreen(view, size, p)));
  }
  ctx.lineJoin = "round";
  for (const [width, colour] of [
    [10 * k, COLOURS.hairline],
    [10 * k - 2, COLOURS.walkway],
  ] as const) {
    if (!fine) break;
    ctx.lineWidth = width;
    ctx.strokeStyle = colour;
    ctx.stroke(walkways);
  }
  for (const { colour, width, dash, lines, heads } of [...full, ...looks.values()]) {
    ctx.strokeStyle = ctx.fillStyle = colour;
    ctx.lineWidth = width;
    ctx.setLineDash(dash as number[]);
    ctx.stroke(lines);
    ctx.setLineDash([]);
    ctx.fill(heads);
  }
  for (const [x, y] of handles) handle(ctx, x, y);
}

function outside(points: readonly Point[], { width, height }: Size): boolean {
  return (
    points.every(([x]) => x < 0) ||
    points.every(([x]) => x > width) ||
    points.every(([, y]) => y < 0) ||
    points.every(([, y]) => y > height)
  );
}

function addLine(path: Path2D, points: readonly Point[]): void {
  points.forEach(([x, y], i) => (i === 0 ? path.moveTo(x, y) : path.lineTo(x, y)));
}

function addArrowHead(path: Path2D, points: readonly Point[], k: number): void {
  const [x1, y1] = points[points.length - 1];
  const [x0, y0] = points[points.length - 2];
  const angle = Math.atan2(y1 - y0, x1 - x0);
  const reach = 8 * Math.max(0.7, k);
  path.moveTo(x1, y1);
  path.lineTo(x1 - reach * Math.cos(angle - 0.4), y1 - reach * Math.sin(angle - 0.4));
  path.lineTo(x1 - reach * Math.cos(angle + 0.4), y1 - reach * Math.sin(angle + 0.4));
  path.closePath();
}

function drawPending(ctx: Canvas, from: Element | undefined, { view, size, drawing }: Scene): void {
  if (!from || !drawing) return;
  const points = [toScreen(view, size, from.at), toScreen(view, size, drawing.to)];
  ctx.strokeStyle = drawing.refused ? COLOURS.buoy : COLOURS.action;
  ctx.lineWidth = 2;
  ctx.setLineDash([5, 4]);
  strokeLine(ctx, points);
  ctx.setLineDash([]);
  const head = new Path2D();
  addArrowHead(head, points, 1);
  ctx.fillStyle = ctx.strokeStyle;
  ctx.fill(head);
}

/** Lines between what is selected and who needs it, or what it needs. */
function drawUses(ctx: Canvas, { view, size, design, selection }: Scene): void {
  if (selection.size === 0 || selection.size > ALWAYS_NAMED) return;
  const chosen = design.elements.filter((e) => selection.has(e.id));
  const pairs = chosen.flatMap((e): (readonly [Element, Element])[] =>
    isResource(e)
      ? design.elements.filter((user) => usesResource(user, e.id)).map((user) => [e, user] as const)
      : design.elements.filter((r) => usesResource(e, r.id)).map((r) => [r, e] as const),
  );
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.buoy;
  ctx.setLineDash([1.5, 4]);
  for (const [resource, user] of pairs)
    strokeLine(ctx, [toScreen(view, size, resource.at), toScreen(view, size, user.at)]);
  ctx.setLineDash([]);
}

function drawElement(ctx: Canvas, element: Element, scene: Scene): void {
  const { view, size, selection, hovered, troubled, live } = scene;
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
  if (hovered === element.id && canLead(element)) for (const p of wayHandles(element, [x, y], k)) handle(ctx, ...p);
  if (troubled.has(element.id)) {
    ctx.beginPath();
    ctx.arc(x + w * k + 4, y - h * k - 4, 7, 0, 7);
    ctx.fillStyle = COLOURS.buoy;
    ctx.fill();
    text(ctx, "!", x + w * k + 4, y - h * k - 3.5, { size: 11, weight: 700, colour: COLOURS.sheet, halo: false });
  }
}

/** Up to so many elements at hand are named whatever stands there. */
const ALWAYS_NAMED = 12;

/** Names below the symbols, as far as they cover no symbol and no other name; those at hand first. */
function drawNames(ctx: Canvas, elements: readonly Element[], { design, view, size, selection, hovered }: Scene): void {
  const k = symbolScale(view);
  const space = new LabelSpace();
  const atHand = (e: Element) => selection.has(e.id) || e.id === hovered;
  for (const element of design.elements) {
    const [x, y] = toScreen(view, size, element.at);
    if (x < -200 || y < -60 || x > size.width + 200 || y > size.height + 60) continue;
    const { w, h } = extentOf(element);
    space.block(x - w * k, x + w * k, y - h * k, y + h * k);
  }
  ctx.font = `550 12px ${FONT}`;
  for (const first of [true, false]) {
    for (const element of elements) {
      if (atHand(element) !== first) continue;
      const [x, y] = toScreen(view, size, element.at);
      if (x < -200 || y < -60 || x > size.width + 200 || y > size.height + 20) continue;
      const below = y + extentOf(element).h * k + NAME_BELOW;
      const free = space.take(x, below, widthOf(ctx, element.name));
      if (free || (first && selection.size <= ALWAYS_NAMED))
        text(ctx, element.name, x, below, { size: 12, weight: 550 });
    }
  }
}

/** Pixels from a symbol's edge to the middle of its name. */
const NAME_BELOW = 14;

/** Words under the names of elements. */
export function drawNotes(
  ctx: Canvas,
  design: Design,
  view: View,
  size: Size,
  notes: ReadonlyMap<string, string>,
): void {
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
