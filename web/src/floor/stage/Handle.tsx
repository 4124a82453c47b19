import type { Point } from "@busy-harbor/core";
import { Circle } from "./konva.ts";
import { COLOURS } from "../colours.ts";
import { HANDLE, type HandleOf } from "./nodeNames.ts";

const RADIUS = 4.5;
/** How near, in pixels, is on the handle. */
const GRAB = 8;

/** A small round grip at a point of the stage. */
export function Handle({ at: [x, y], of, grab = GRAB }: { at: Point; of: HandleOf; grab?: number }) {
  return (
    <Circle
      name={HANDLE}
      of={of}
      x={x}
      y={y}
      radius={RADIUS}
      fill={COLOURS.sheet}
      stroke={COLOURS.action}
      strokeWidth={1.5}
      hitStrokeWidth={2 * (grab - RADIUS)}
      perfectDrawEnabled={false}
    />
  );
}
