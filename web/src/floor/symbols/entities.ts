import type { EntityType } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import type { Canvas } from "./shared.ts";

/** Shapes of entities seen from above, pointing to the right, about 12 pixels long. */
const shapes: { readonly [L in EntityType["look"]]: () => Path2D } = {
  hull() {
    const p = new Path2D();
    p.moveTo(-6.5, -3.6);
    p.lineTo(1.5, -3.9);
    p.quadraticCurveTo(5.5, -2.6, 7.5, 0);
    p.quadraticCurveTo(5.5, 2.6, 1.5, 3.9);
    p.lineTo(-6.5, 3.6);
    p.quadraticCurveTo(-7.4, 0, -6.5, -3.6);
    p.closePath();
    return p;
  },
  crate() {
    const p = new Path2D();
    p.rect(-5, -5, 10, 10);
    return p;
  },
  barrel() {
    const p = new Path2D();
    p.arc(0, 0, 5.2, 0, 7);
    return p;
  },
  parcel() {
    const p = new Path2D();
    p.roundRect(-6, -4, 12, 8, 1.5);
    return p;
  },
  person() {
    const p = new Path2D();
    p.ellipse(0, 0, 3.4, 6, 0, 0, 7);
    return p;
  },
  cart() {
    const p = new Path2D();
    p.roundRect(-6, -4.5, 9, 9, 2);
    p.moveTo(3, -3);
    p.lineTo(7, -3);
    p.moveTo(3, 3);
    p.lineTo(7, 3);
    return p;
  },
};

/** Pixels from the middle of a sprite to its edge, at scale 1: the longest shape with its outline. */
const REACH = 9;

const sprites = new Map<string, HTMLCanvasElement>();

/** An entity drawn once, to be stamped many times: one image instead of three paths each. */
function spriteOf(look: EntityType["look"], colour: string, pixels: number): HTMLCanvasElement {
  const key = `${look} ${colour} ${pixels} ${COLOURS.ink}`;
  let sprite = sprites.get(key);
  if (!sprite) {
    if (sprites.size > 200) sprites.clear();
    sprite = document.createElement("canvas");
    sprite.width = sprite.height = Math.ceil(2 * REACH * pixels);
    const ctx = sprite.getContext("2d")!;
    ctx.setTransform(pixels, 0, 0, pixels, sprite.width / 2, sprite.width / 2);
    const path = shapes[look]();
    ctx.fillStyle = colour;
    ctx.fill(path);
    ctx.lineWidth = 1;
    ctx.strokeStyle = COLOURS.ink;
    ctx.stroke(path);
    ctx.beginPath();
    ctx.arc(look === "hull" ? -0.5 : 0, 0, 1.7, 0, 7);
    ctx.fillStyle = COLOURS.sheet;
    ctx.fill();
    sprites.set(key, sprite);
  }
  return sprite;
}

/**
 * Draws entities at screen points, each turned by its angle. `ratio` is device
 * pixels a screen pixel; the canvas's transform is set anew and left at the ratio.
 */
export function drawEntities(
  ctx: Canvas,
  entities: Iterable<{ readonly x: number; readonly y: number; readonly angle: number; readonly type: number }>,
  looks: readonly Pick<EntityType, "look" | "colour">[],
  scale: number,
  ratio: number,
): void {
  const images = looks.map(({ look, colour }) => spriteOf(look, colour, scale * ratio));
  for (const { x, y, angle, type } of entities) {
    const image = images[type];
    const cos = Math.cos(angle);
    const sin = Math.sin(angle);
    ctx.setTransform(cos, sin, -sin, cos, x * ratio, y * ratio);
    ctx.drawImage(image, -image.width / 2, -image.width / 2);
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
}
