import type { Element, Link, Road } from "@busy-harbor/core";
import type Konva from "konva";
import type { Context } from "konva/lib/Context";
import { memo } from "react";
import { Shape } from "./konva.ts";
import { drawElement } from "../draw/elements.ts";
import { roadOnScreen, roadWidth } from "../draw/roads.ts";
import { drawLink, lineOnScreen } from "../draw/links.ts";
import type { Scene, SceneHolder } from "../scene.ts";
import { extentOf } from "../symbols/index.ts";
import type { Canvas } from "../symbols/shared.ts";
import { symbolScale, toScreen } from "../view.ts";
import { ELEMENT, LINK, ROAD } from "./nodeNames.ts";

/** Pixels of the symbol's own around it that count as it. */
const AROUND = 3;

/** Draws part of the scene, and is never under the pointer. */
export function Drawn({ draw, scene }: { draw: (ctx: Canvas, scene: Scene) => void; scene: SceneHolder }) {
  return <Shape listening={false} perfectDrawEnabled={false} sceneFunc={(ctx) => draw(ctx._context, scene.current)} />;
}

/** An element: its symbol, and the place it takes under the pointer. */
export const ElementShape = memo(function ElementShape({ element, scene }: { element: Element; scene: SceneHolder }) {
  return (
    <Shape
      id={element.id}
      name={ELEMENT}
      fill="black"
      perfectDrawEnabled={false}
      sceneFunc={(ctx) => drawElement(ctx._context, element, scene.current)}
      hitFunc={(ctx, shape) => {
        const { view, size } = scene.current;
        const [x, y] = toScreen(view, size, element.at);
        const k = symbolScale(view);
        const { w, h } = extentOf(element);
        if (x + w * k < 0 || y + h * k < 0 || x - w * k > size.width || y - h * k > size.height) return;
        ctx.beginPath();
        ctx.rect(x - (w + AROUND) * k, y - (h + AROUND) * k, 2 * (w + AROUND) * k, 2 * (h + AROUND) * k);
        ctx.fillShape(shape);
      }}
    />
  );
});

/** A link: its line, and a broader one under the pointer. */
export const LinkShape = memo(function LinkShape({ link, scene }: { link: Link; scene: SceneHolder }) {
  return (
    <Shape
      id={link.id}
      name={LINK}
      stroke="black"
      perfectDrawEnabled={false}
      sceneFunc={(ctx) => drawLink(ctx._context, link, scene.current)}
      hitFunc={(ctx, shape) => hitLine(ctx, shape, link, scene.current)}
    />
  );
});

/** A way: drawn with all others, it only takes its place under the pointer here. */
export const RoadShape = memo(function RoadShape({ road, scene }: { road: Road; scene: SceneHolder }) {
  return (
    <Shape
      id={road.id}
      name={ROAD}
      stroke="black"
      perfectDrawEnabled={false}
      sceneFunc={() => undefined}
      hitFunc={(ctx, shape) => {
        shape.hitStrokeWidth(Math.max(10, roadWidth(road, scene.current)));
        ctx.beginPath();
        roadOnScreen(road, scene.current).forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
        ctx.strokeShape(shape);
      }}
    />
  );
});

function hitLine(ctx: Context, shape: Konva.Shape, link: Link, scene: Scene): void {
  const points = lineOnScreen(link, scene);
  if (!points) return;
  shape.hitStrokeWidth(["walkway", "conveyor"].includes(link.kind) ? 12 * symbolScale(scene.view) + 4 : 12);
  ctx.beginPath();
  points.forEach(([x, y], i) => (i === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
  ctx.strokeShape(shape);
}
