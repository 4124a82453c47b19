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

const made = new Map<string, Path2D>();

function shapeOf(look: EntityType["look"]): Path2D {
  let path = made.get(look);
  if (!path) made.set(look, (path = shapes[look]()));
  return path;
}

/** Draws one entity at a screen point. */
export function drawEntity(ctx: Canvas, look: EntityType["look"], colour: string, x: number, y: number, angle: number, scale: number): void {
  const cos = Math.cos(angle) * scale;
  const sin = Math.sin(angle) * scale;
  const { a, b, c, d, e, f } = ctx.getTransform();
  ctx.transform(cos, sin, -sin, cos, x, y);
  const path = shapeOf(look);
  ctx.fillStyle = colour;
  ctx.fill(path);
  ctx.lineWidth = 1;
  ctx.strokeStyle = COLOURS.ink;
  ctx.stroke(path);
  ctx.beginPath();
  ctx.arc(look === "hull" ? -0.5 : 0, 0, 1.7, 0, 7);
  ctx.fillStyle = COLOURS.sheet;
  ctx.fill();
  ctx.setTransform(a, b, c, d, e, f);
}
