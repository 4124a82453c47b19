import { UNIT } from "@busy-harbor/core";
import { COLOURS } from "../colours.ts";
import type { Canvas } from "./shared.ts";

export const SLOT = { width: 13, height: 16, pitch: 16 };
export const SLOTS_SHOWN = 8;

/** Colour and pattern of each state, so that it is read without colour too. */
interface Dress {
  readonly fill: () => string;
  readonly line?: () => string;
  readonly pattern?: (ctx: Canvas, x: number) => void;
}

const strokes = (ctx: Canvas, lines: Iterable<readonly [x0: number, y0: number, x1: number, y1: number]>): void => {
  ctx.beginPath();
  for (const [x0, y0, x1, y1] of lines) {
    ctx.moveTo(x0, y0);
    ctx.lineTo(x1, y1);
  }
  ctx.stroke();
};

const steps = (from: number, to: number, by: number): number[] =>
  Array.from({ length: Math.floor((to - from) / by) + 1 }, (_, i) => from + i * by);
const rising = (x: number) => steps(-24, 24, 5).map((d) => [x + d - 12, 12, x + d + 12, -12] as const);
const falling = (x: number) => steps(-24, 24, 5).map((d) => [x + d - 12, -12, x + d + 12, 12] as const);
const upright = (x: number) => steps(-6, 6, 3).map((d) => [x + d, -12, x + d, 12] as const);
const level = (x: number) => steps(-8, 8, 4).map((d) => [x - 10, d, x + 10, d] as const);
const lines = (of: (x: number) => readonly (readonly [number, number, number, number])[]) => (ctx: Canvas, x: number) =>
  strokes(ctx, of(x));

const DRESSES: readonly Dress[] = [
  { fill: () => COLOURS.paper },
  { fill: () => COLOURS.settingPale, line: () => COLOURS.setting, pattern: lines(level) },
  { fill: () => COLOURS.busy },
  {
    fill: () => COLOURS.needingPale,
    line: () => COLOURS.needing,
    pattern(ctx, x) {
      ctx.fillStyle = COLOURS.needing;
      for (const dx of [-4, 0, 4])
        for (const y of [-5, 0, 5]) {
          ctx.beginPath();
          ctx.arc(x + dx, y, 1.2, 0, 7);
          ctx.fill();
        }
    },
  },
  { fill: () => COLOURS.blockedPale, line: () => COLOURS.blocked, pattern: lines(rising) },
  { fill: () => COLOURS.downPale, line: () => COLOURS.down, pattern: lines((x) => [...rising(x), ...falling(x)]) },
  { fill: () => COLOURS.offPale, line: () => COLOURS.off, pattern: lines(upright) },
  { fill: () => COLOURS.sheet, line: () => COLOURS.busy, pattern: lines(rising) },
  { fill: () => COLOURS.sheet, line: () => COLOURS.soft, pattern: lines(falling) },
  { fill: () => COLOURS.needingPale, line: () => COLOURS.needing, pattern: lines(falling) },
];

/** One slot or unit in a state (a `UNIT`), its middle at `x`. */
export function drawSlot(ctx: Canvas, x: number, state: number, shape: "slot" | "person" | "piece" = "slot"): void {
  const { fill, line, pattern } = DRESSES[state] ?? DRESSES[UNIT.idle];
  const outline = () => {
    ctx.beginPath();
    if (shape === "person") ctx.ellipse(x, 1, 6.5, 7, 0, 0, 7);
    else ctx.roundRect(x - SLOT.width / 2, -SLOT.height / 2, SLOT.width, SLOT.height, shape === "piece" ? 1 : 3.5);
  };
  outline();
  ctx.fillStyle = fill();
  ctx.fill();
  if (pattern) {
    ctx.save();
    ctx.clip();
    ctx.strokeStyle = line!();
    ctx.lineWidth = 1.4;
    pattern(ctx, x);
    ctx.restore();
    outline();
  }
  ctx.lineWidth = 1.3;
  ctx.strokeStyle = line?.() ?? COLOURS.ink;
  ctx.stroke();
  if (shape === "person") {
    // A head over shoulders, from above.
    ctx.beginPath();
    ctx.arc(x, 0, 2.6, 0, 7);
    ctx.fillStyle = COLOURS.sheet;
    ctx.fill();
    ctx.stroke();
  }
}
