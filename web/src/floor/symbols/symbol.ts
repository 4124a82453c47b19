import type { ElementKindName, ElementOf } from "@busy-harbor/core";
import type { Canvas, Extent, Liveness } from "./shared.ts";

/** A pictogram seen from above, drawn around the origin in its own pixels. */
export interface Symbol<K extends ElementKindName> {
  extent(element: ElementOf<K>): Extent;
  draw(ctx: Canvas, element: ElementOf<K>, live: Liveness): void;
}
