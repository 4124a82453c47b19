import type { Design, PlanShape } from "@busy-harbor/core";
import { Konva } from "./stage/konva.ts";
import type { Backdrop } from "../drawings/backdrop.ts";
import { drawElement, drawPosts } from "./draw/elements.ts";
import { drawGround } from "./draw/ground.ts";
import { drawConveyors, drawLink, drawWalkways } from "./draw/links.ts";
import { drawRoads } from "./draw/roads.ts";
import { roadsOf } from "./roads.ts";
import { drawNames } from "./draw/names.ts";
import { NOTHING, type Scene } from "./scene.ts";
import type { Size, View } from "./view.ts";

/**
 * The floor as a picture of its own, whatever is on the screen: `size` in pixels as the screen counts them, each of
 * which is `ratio` pixels of the picture wide.
 */
export function floorPicture({
  design,
  plan,
  view,
  size,
  ratio,
  names,
  grid = false,
  backdrop,
}: {
  design: Design;
  plan: readonly PlanShape[];
  view: View;
  size: Size;
  ratio: number;
  names: boolean;
  grid?: boolean;
  backdrop?: Backdrop;
}): HTMLCanvasElement {
  const scene: Scene = { design, plan, view, size, grid, backdrop, selection: NOTHING, troubled: NOTHING, theme: "" };
  const stage = new Konva.Stage({ container: document.createElement("div"), ...size });
  const layer = new Konva.Layer({ listening: false });
  layer.add(
    new Konva.Shape({
      sceneFunc: ({ _context: ctx }) => {
        drawGround(ctx, scene);
        drawRoads(ctx, roadsOf(design), scene);
        drawPosts(ctx, design.elements, scene);
        drawWalkways(ctx, design.links, scene);
        drawConveyors(ctx, design.links, scene);
        for (const link of design.links) drawLink(ctx, link, scene);
        for (const element of design.elements) drawElement(ctx, element, scene);
        if (names) drawNames(ctx, design.elements, scene);
      },
    }),
  );
  stage.add(layer);
  const picture = stage.toCanvas({ pixelRatio: ratio });
  stage.destroy();
  return picture;
}
