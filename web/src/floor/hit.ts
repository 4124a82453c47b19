import type { Design, Element, Point } from "@busy-harbor/core";
import { canLead } from "../state/edits.ts";
import { distanceToSegment, drawnLinks, queueLine } from "./paths.ts";
import { wayHandles } from "./scene.ts";
import { extentOf } from "./symbols/index.ts";
import { type Size, symbolScale, toScreen, type View } from "./view.ts";

/** What lies under a point of the screen. */
export type Hit =
  | { readonly kind: "floor" }
  | { readonly kind: "element" | "way out"; readonly id: string }
  | { readonly kind: "link"; readonly id: string; /** Segment of the drawn line. */ readonly segment: number }
  | { readonly kind: "bend" | "line bend"; readonly id: string; readonly index: number };

const GRAB = 8;

/** Finds what a person means by a point: handles first, then symbols, then links. */
export function hitTest(
  design: Design,
  view: View,
  size: Size,
  at: Point,
  selection: ReadonlySet<string>,
  hovered: string | undefined,
): Hit {
  const near = (p: Point, reach = GRAB) => Math.hypot(p[0] - at[0], p[1] - at[1]) <= reach;
  const screen = (p: Point) => toScreen(view, size, p);
  for (const link of design.links) {
    if (!selection.has(link.id)) continue;
    const index = link.bends.findIndex((p) => near(screen(p)));
    if (index >= 0) return { kind: "bend", id: link.id, index };
  }
  for (const element of design.elements) {
    if (!selection.has(element.id) || !("line" in element)) continue;
    const index = queueLine(element).findIndex((p, i) => i > 0 && near(screen(p)));
    if (index > 0) return { kind: "line bend", id: element.id, index: index - 1 };
  }
  const k = symbolScale(view);
  const shown = design.elements.find((e) => e.id === hovered);
  if (shown && canLead(shown) && wayHandles(shown, screen(shown.at), k).some((p) => near(p)))
    return { kind: "way out", id: shown.id };
  const element = elementAt(design, view, size, at);
  if (element) return { kind: "element", id: element.id };
  const lines = drawnLinks(design);
  for (let i = design.links.length - 1; i >= 0; i--) {
    const link = design.links[i];
    const points = lines.get(link.id)?.map(screen);
    if (!points) continue;
    const reach = link.kind === "walkway" ? 6 * k + 2 : 6;
    for (let segment = 1; segment < points.length; segment++) {
      if (distanceToSegment(at, points[segment - 1], points[segment]).distance <= reach)
        return { kind: "link", id: link.id, segment: segment - 1 };
    }
  }
  return { kind: "floor" };
}

/** The element whose symbol, with a small margin that its handles fill, covers the point; the last drawn wins. */
export function elementAt(design: Design, view: View, size: Size, at: Point, margin = 3): Element | undefined {
  const k = symbolScale(view);
  for (let i = design.elements.length - 1; i >= 0; i--) {
    const element = design.elements[i];
    const [x, y] = toScreen(view, size, element.at);
    const { w, h } = extentOf(element);
    if (Math.abs(at[0] - x) <= (w + margin) * k && Math.abs(at[1] - y) <= (h + margin) * k) return element;
  }
  return undefined;
}
