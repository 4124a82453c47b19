import { type Display, displaySchema, type Point } from "@busy-harbor/core";

/** Pixels that the face of a picture is wide before it is enlarged to its metres on the floor. */
export const PICTURE_FACE = 100;

/** How much larger than its face a display is, at so many pixels a metre. */
export const sizeOf = (display: Display, scale: number): number =>
  display.kind === "picture" ? (display.width * scale) / PICTURE_FACE : display.size;

/** A display `factor` times as large, turned to so many degrees and moved by metres; undefined where it may not be. */
export function turnAndResize(display: Display, factor: number, degrees: number, by: Point): Display | undefined {
  // Turning alone leaves the size as it is, to the last bit.
  const k = Math.abs(factor - 1) > 1e-9 ? factor : 1;
  const resized = displaySchema.safeParse({
    ...display,
    ...(display.kind === "picture" ? { width: rounded(display.width * k, k) } : { size: rounded(display.size * k, k) }),
    rotation: Number(degrees.toFixed(1)),
    at: [Number((display.at[0] + by[0]).toFixed(3)), Number((display.at[1] + by[1]).toFixed(3))],
  });
  return resized.success ? resized.data : undefined;
}

const rounded = (value: number, factor: number) => (factor === 1 ? value : Number(value.toPrecision(6)));
