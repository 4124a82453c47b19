import { COLOURS, FONT } from "../colours.ts";

export type Canvas = CanvasRenderingContext2D;

/** What a symbol may be told while the design is watched. */
export interface Liveness {
  /** States of a station's slots or a resource's units, a `UNIT` each. */
  readonly slots?: readonly number[];
}

/** Half width and half height of a symbol, in its own pixels. */
export interface Extent {
  readonly w: number;
  readonly h: number;
}

export function plaque(ctx: Canvas, w: number, h: number, radius = 8): void {
  ctx.beginPath();
  ctx.roundRect(-w, -h, 2 * w, 2 * h, radius);
  ctx.fillStyle = COLOURS.sheet;
  ctx.fill();
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.ink;
  ctx.stroke();
}

export function text(
  ctx: Canvas,
  value: string,
  x: number,
  y: number,
  { size = 12, weight = 500, colour = COLOURS.ink, align = "center" as CanvasTextAlign, halo = true } = {},
): void {
  ctx.font = `${weight} ${size}px ${FONT}`;
  ctx.textAlign = align;
  ctx.textBaseline = "middle";
  if (halo) {
    ctx.lineWidth = 3.5;
    ctx.lineJoin = "round";
    ctx.strokeStyle = COLOURS.paper;
    ctx.strokeText(value, x, y);
  }
  ctx.fillStyle = colour;
  ctx.fillText(value, x, y);
}

/** Three steps of a quay with an arrow in or out. */
export function quaySteps(ctx: Canvas): void {
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.ink;
  ctx.beginPath();
  [
    [-12, 2, 14],
    [-14, 7, 12],
    [-16, 12, 10],
  ].forEach(([x0, y, x1]) => {
    ctx.moveTo(x0, y);
    ctx.lineTo(x1, y);
  });
  ctx.stroke();
}

export function arrow(ctx: Canvas, x0: number, x1: number, y: number, colour: string): void {
  ctx.lineWidth = 2;
  ctx.strokeStyle = colour;
  ctx.beginPath();
  ctx.moveTo(x0, y);
  ctx.lineTo(x1, y);
  ctx.moveTo(x1 - 5, y - 4.5);
  ctx.lineTo(x1, y);
  ctx.lineTo(x1 - 5, y + 4.5);
  ctx.stroke();
}
