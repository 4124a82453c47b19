import { type Frame, metresAlong, type Model, type Point, polylineLength } from "@busy-harbor/core";
import { pointAt } from "../floor/paths.ts";
import { type Size, symbolScale, toScreen, type View } from "../floor/view.ts";

/** A vehicle as it is drawn: where on the screen and which way, and what it carries. */
export interface PlacedCarrier {
  readonly x: number;
  readonly y: number;
  readonly angle: number;
  /** Type of its load, and its serial number; -1 where it is empty. */
  readonly load: number;
  readonly serial: number;
}

/** Pixels between vehicles that stand at one place, at a symbol scale of 1, and how far above it: names stand below. */
const APART = 16;
const ABOVE = 32;
const ABREAST = 5;

/** The way a vehicle drives between two elements, in metres. */
function pathOf({ nodes, roads }: Model, carrier: number, from: number, to: number): readonly Point[] {
  const [a, b] = [nodes[from].element.at, nodes[to].element.at];
  const { over } = nodes[carrier].element as { readonly over?: string };
  return (over === "ways" ? roads?.route(a, b)?.points : undefined) ?? [a, b];
}

/** Places the vehicles of a frame; those that stand at one place stand beside one another. */
export function placeCarriers(frame: Frame, model: Model, view: View, size: Size): PlacedCarrier[] {
  const { carriers } = frame;
  const k = symbolScale(view);
  const standing = new Map<number, number>();
  return Array.from({ length: carriers.count }, (_, i) => {
    const { [i]: from } = carriers.from;
    const { [i]: to } = carriers.to;
    const load = { load: carriers.load[i], serial: carriers.serial[i] };
    if (carriers.motion.speed[i] > 0 && from !== to) {
      const path = pathOf(model, carriers.element[i], from, to);
      const metres = polylineLength(path);
      const line = path.map((p) => toScreen(view, size, p));
      const share = metres > 0 ? metresAlong(carriers, i, frame.time) / metres : 0;
      const { point, angle } = pointAt(line, share * polylineLength(line));
      return { x: point[0], y: point[1], angle, ...load };
    }
    const n = standing.get(to) ?? 0;
    standing.set(to, n + 1);
    const [x, y] = toScreen(view, size, model.nodes[to].element.at);
    return {
      x: x + ((n % ABREAST) - (ABREAST - 1) / 2) * APART * k,
      y: y - (ABOVE + Math.floor(n / ABREAST) * 1.8 * APART) * k,
      angle: -Math.PI / 2,
      ...load,
    };
  });
}
