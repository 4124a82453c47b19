import type { Design, Point } from "@busy-harbor/core";
import { distanceToSegment, drawnLinks } from "../floor/paths.ts";
import { DISPLAY, ELEMENT, HANDLE, type HandleOf, LINK } from "../floor/stage/nodeNames.ts";
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
  | { readonly kind: "bend" | "line bend"; readonly id: string; readonly index: number };

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
      return { kind: "link", id: node.id(), segment: nearestSegment(node.id(), design, view, size, at) };
    default:
      return { kind: "floor" };
  }
}

function nearestSegment(id: string, design: Design, view: View, size: Size, at: Point): number {
  const points = drawnLinks(design)
    .get(id)
    ?.map((p) => toScreen(view, size, p));
  let nearest = 0;
  let least = Infinity;
  for (let i = 1; i < (points?.length ?? 0); i++) {
    const { distance } = distanceToSegment(at, points![i - 1], points![i]);
    if (distance < least) [least, nearest] = [distance, i - 1];
  }
  return nearest;
}
