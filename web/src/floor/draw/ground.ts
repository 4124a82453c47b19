import type { Backdrop } from "../../drawings/backdrop.ts";
import { COLOURS } from "../colours.ts";
import { drawPlan } from "../plan.ts";
import type { Scene } from "../scene.ts";
import type { Canvas } from "../symbols/shared.ts";
import { gridStep, type Size, toFloor, toScreen, type View } from "../view.ts";

/** Paper, background drawings, grid and plan: all that lies under the elements. */
export function drawGround(ctx: Canvas, { plan, backdrop, grid, view, size }: Scene): void {
  ctx.fillStyle = COLOURS.paper;
  ctx.fillRect(0, 0, size.width, size.height);
  if (backdrop) drawBackdrop(ctx, backdrop, view, size);
  if (grid) drawGrid(ctx, view, size);
  drawPlan(ctx, plan, view, size);
}

/** The picture of the drawings, moved and scaled to where it belongs while a sharper one is being painted. */
function drawBackdrop(ctx: Canvas, { image, view: from, size: painted }: Backdrop, view: View, size: Size): void {
  const k = view.scale / from.scale;
  const [x, y] = toScreen(view, size, toFloor(from, painted, [0, 0]));
  ctx.drawImage(image, x, y, painted.width * k, painted.height * k);
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
