import type { Element } from "@busy-harbor/core";
import { unitsOf } from "../state/edits.ts";
import { COLOURS } from "./colours.ts";
import { drawSymbol, extentOf } from "./symbols/index.ts";
import type { Canvas } from "./symbols/shared.ts";

/** Pixels around a symbol's extent that its outline and count may reach. */
const MARGIN = 16;
const MOST = 400;

const stamps = new Map<string, HTMLCanvasElement>();

/**
 * Draws a symbol that is at rest from an image kept of it: one stamp in place of a dozen strokes, as plans repeat a
 * few symbols many times.
 */
export function stampSymbol(ctx: Canvas, element: Element, x: number, y: number, scale: number): void {
  const pixels = scale * ctx.getTransform().a;
  const { w, h } = extentOf(element);
  const posture = "posture" in element ? element.posture : "";
  const key = `${element.kind} ${unitsOf(element)} ${posture} ${pixels.toFixed(4)} ${COLOURS.ink}`;
  const [width, height] = [w + MARGIN, h + MARGIN];
  let stamp = stamps.get(key);
  if (!stamp) {
    if (stamps.size >= MOST) stamps.clear();
    stamp = document.createElement("canvas");
    stamp.width = Math.ceil(2 * width * pixels);
    stamp.height = Math.ceil(2 * height * pixels);
    const inner = stamp.getContext("2d")!;
    inner.setTransform(pixels, 0, 0, pixels, width * pixels, height * pixels);
    drawSymbol(inner, element);
    stamps.set(key, stamp);
  }
  const ratio = pixels / scale;
  // On whole pixels of the screen, or thin lines blur.
  const whole = (value: number) => Math.round(value * ratio) / ratio;
  ctx.drawImage(stamp, whole(x - width * scale), whole(y - height * scale), stamp.width / ratio, stamp.height / ratio);
}
