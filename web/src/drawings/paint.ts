import type { Drawing } from "@busy-harbor/core";
import { toScreen, type Size, type View } from "../floor/view.ts";
import type { Chunk, LineDrawing } from "./lineDrawing.ts";
import { INK } from "./dxf/colours.ts";

/** A drawing that has been read: lines, or a picture. */
export type Content =
  | { readonly kind: "lines"; readonly lines: LineDrawing }
  | { readonly kind: "picture"; readonly image: CanvasImageSource; readonly width: number; readonly height: number };

type Canvas = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** Colours of the page that the drawing lies on. */
export interface Page {
  readonly ink: string;
  readonly paper: string;
}

/** Lines shorter than this many pixels are left out. */
const LEAST_PIXELS = 0.4;
/** Words lower than this many pixels cannot be read. */
const LEAST_LETTERS = 5;

const paths = new WeakMap<Chunk, Path2D>();

function pathOf(chunk: Chunk): Path2D {
  let path = paths.get(chunk);
  if (!path) {
    path = new Path2D();
    const { points, starts } = chunk;
    for (let line = 0; line + 1 < starts.length; line++) {
      path.moveTo(points[2 * starts[line]], points[2 * starts[line] + 1]);
      for (let i = starts[line] + 1; i < starts[line + 1]; i++) path.lineTo(points[2 * i], points[2 * i + 1]);
    }
    paths.set(chunk, path);
  }
  return path;
}

/** Paints a drawing on the floor as it is placed. `ctx` is in pixels of the screen. */
export function paintDrawing(
  ctx: Canvas,
  drawing: Drawing,
  content: Content,
  view: View,
  size: Size,
  page: Page,
): void {
  if (!drawing.visible || drawing.opacity === 0) return;
  const scale = drawing.metresPerUnit * view.scale;
  const [x, y] = toScreen(view, size, drawing.at);
  ctx.save();
  ctx.translate(x, y);
  ctx.rotate((drawing.rotation * Math.PI) / 180);
  ctx.globalAlpha = drawing.opacity;
  if (content.kind === "picture") {
    ctx.imageSmoothingQuality = "high";
    ctx.drawImage(
      content.image,
      (-content.width / 2) * scale,
      (-content.height / 2) * scale,
      content.width * scale,
      content.height * scale,
    );
  } else {
    ctx.scale(scale, scale);
    paintLines(ctx, drawing, content.lines, scale, visiblePart(drawing, view, size), page);
  }
  ctx.restore();
}

type Box = readonly [left: number, top: number, right: number, bottom: number];

/** The part of the drawing that is on the screen, in its own unit: the box around the turned screen. */
function visiblePart(drawing: Drawing, view: View, size: Size): Box {
  const turn = (-drawing.rotation * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const corners = [
    [0, 0],
    [size.width, 0],
    [0, size.height],
    [size.width, size.height],
  ].map(([sx, sy]) => {
    const [dx, dy] = [
      (sx - size.width / 2) / view.scale + view.x - drawing.at[0],
      (sy - size.height / 2) / view.scale + view.y - drawing.at[1],
    ];
    return [(dx * cos - dy * sin) / drawing.metresPerUnit, (dx * sin + dy * cos) / drawing.metresPerUnit];
  });
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

function paintLines(
  ctx: Canvas,
  drawing: Drawing,
  lines: LineDrawing,
  scale: number,
  [left, top, right, bottom]: Box,
  page: Page,
): void {
  const looks = lines.layers.map(({ name, shown }) => {
    const own = Object.hasOwn(drawing.layers, name) ? drawing.layers[name] : {};
    return { shown: own.visible ?? shown, colour: own.colour, opacity: own.opacity ?? drawing.opacity };
  });
  const colourOf = (layer: number, colour: number) =>
    looks[layer].colour ?? (colour === INK ? page.ink : legible(colour, page));
  ctx.lineWidth = 1 / scale;
  ctx.lineJoin = "round";
  for (const chunk of lines.chunks) {
    const look = looks[chunk.layer];
    const [l, t, r, b] = chunk.box;
    if (!look.shown || l > right || r < left || t > bottom || b < top) continue;
    if (Math.max(r - l, b - t) * scale < LEAST_PIXELS) continue;
    ctx.globalAlpha = look.opacity;
    ctx.strokeStyle = colourOf(chunk.layer, chunk.colour);
    ctx.stroke(pathOf(chunk));
  }
  ctx.textBaseline = "alphabetic";
  for (const word of lines.words) {
    const look = looks[word.layer];
    const room = word.size * word.text.length;
    if (
      !look.shown ||
      word.size * scale < LEAST_LETTERS ||
      word.x > right ||
      word.x + room < left ||
      word.y - room > bottom ||
      word.y + room < top
    )
      continue;
    ctx.save();
    ctx.translate(word.x, word.y);
    ctx.rotate(word.turn);
    // Fonts are set in whole pixels; the drawing's unit may be a kilometre.
    ctx.scale(word.size / 14, word.size / 14);
    ctx.font = "20px sans-serif";
    ctx.globalAlpha = look.opacity;
    ctx.fillStyle = colourOf(word.layer, word.colour);
    ctx.fillText(word.text, 0, 0);
    ctx.restore();
  }
}

const luminance = (r: number, g: number, b: number) => (0.299 * r + 0.587 * g + 0.114 * b) / 255;

/** A colour from a file, drawn towards the ink where it would not be seen on this page. */
export function legible(colour: number, { ink, paper }: Page): string {
  const of = (hex: string) => [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16));
  const own = [(colour >> 16) & 255, (colour >> 8) & 255, colour & 255];
  const [inkRgb, paperRgb] = [of(ink), of(paper)];
  const near =
    1 - Math.abs(luminance(own[0], own[1], own[2]) - luminance(paperRgb[0], paperRgb[1], paperRgb[2])) / 0.45;
  const share = Math.min(0.75, Math.max(0, near));
  return `rgb(${own.map((c, i) => Math.round(c * (1 - share) + inkRgb[i] * share)).join(" ")})`;
}
