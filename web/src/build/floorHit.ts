import type { Design, Point } from "@busy-harbor/core";
import { distanceToSegment, drawnLinks } from "../floor/paths.ts";
import { DISPLAY, ELEMENT, HANDLE, type HandleOf, LINK, ROAD } from "../floor/stage/nodeNames.ts";
import { drawnRoad, roadsOf } from "../floor/roads.ts";
import { type Size, toScreen, type View } from "../floor/view.ts";

/** What a person means by a point of the floor. */
export type Hit =
  | { readonly kind: "floor" }
  | { readonly kind: "element" | "way out" | "drawing" | "display"; readonly id: string }
  | {
      readonly kind: "link";
      readonly id: string;
      /** Segment of the drawn line; -1 of one that has no bends. */ readonly segment: number;
    }
  | { readonly kind: "road"; readonly id: string; /** The point behind which it was hit. */ readonly segment: number }
  | { readonly kind: "bend" | "line bend" | "road point"; readonly id: string; readonly index: number };

/** What is read of a node on the floor. */
interface NodeLike {
  name(): string;
  id(): string;
  getAttr(name: string): unknown;
}

/** What the node under the pointer stands for. */
export function hitOf(node: NodeLike | undefined, design: Design, view: View, size: Size, at: Point): Hit {
  switch (node?.name()) {
    case HANDLE:
      return node.getAttr("of") as HandleOf;
    case ELEMENT:
      return { kind: "element", id: node.id() };
    case DISPLAY:
      return { kind: "display", id: node.id() };
    case LINK:
      return {
        kind: "link",
        id: node.id(),
        segment: nearestSegment(drawnLinks(design).get(node.id()), view, size, at),
      };
    case ROAD: {
      const road = roadsOf(design).find(({ id }) => id === node.id());
      const points = road && drawnRoad(road, design);
      return { kind: "road", id: node.id(), segment: nearestSegment(points, view, size, at) + 1 };
    }
    default:
      return { kind: "floor" };
  }
}

function nearestSegment(line: readonly Point[] | undefined, view: View, size: Size, at: Point): number {
  const points = line?.map((p) => toScreen(view, size, p));
  let nearest = 0;
  let least = Infinity;
  for (let i = 1; i < (points?.length ?? 0); i++) {
    const { distance } = distanceToSegment(at, points![i - 1], points![i]);
    if (distance < least) [least, nearest] = [distance, i - 1];
  }
  return nearest;
}
