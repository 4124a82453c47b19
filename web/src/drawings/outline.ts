import type { Drawing, Point } from "@busy-harbor/core";

/** Corners of a drawing on the floor, clockwise, in metres; `width` and `height` are in its own unit. */
export function cornersOf(
  { at, rotation, metresPerUnit }: Drawing,
  { width, height }: { readonly width: number; readonly height: number },
): Point[] {
  const [cos, sin] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([sx, sy]) => {
    const [x, y] = [(sx * width * metresPerUnit) / 2, (sy * height * metresPerUnit) / 2];
    return [at[0] + x * cos - y * sin, at[1] + x * sin + y * cos];
  });
}
