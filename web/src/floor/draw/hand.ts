import { type Element, kindOf, resourcesOf } from "@busy-harbor/core";
import { isResource } from "../../state/edits.ts";
import { remembered } from "../../state/remembered.ts";
import { COLOURS } from "../colours.ts";
import type { Guides } from "../guides.ts";
import { elementsById } from "../paths.ts";
import type { Scene } from "../scene.ts";
import type { Canvas } from "../symbols/shared.ts";
import { type Size, toScreen, type View } from "../view.ts";
import { addArrowHead, strokeLine } from "./lines.ts";

/** Above so many selected, the lines to what they need would hide the plan. */
const MOST_WITH_USES = 12;

const needsOf = remembered((e: Element) => new Set(resourcesOf(e, kindOf(e).settings)));

/** Lines between what is selected and who needs it, or what it needs. */
export function drawUses(ctx: Canvas, { view, size, design, selection }: Scene): void {
  if (selection.size === 0 || selection.size > MOST_WITH_USES) return;
  const chosen = design.elements.filter((e) => selection.has(e.id));
  const pairs = chosen.flatMap((e): (readonly [Element, Element])[] =>
    isResource(e)
      ? design.elements.filter((user) => needsOf(user).has(e.id)).map((user) => [e, user] as const)
      : design.elements.filter((r) => needsOf(e).has(r.id)).map((r) => [r, e] as const),
  );
  ctx.lineWidth = 1.5;
  ctx.strokeStyle = COLOURS.buoy;
  ctx.setLineDash([1.5, 4]);
  for (const [resource, user] of pairs)
    strokeLine(ctx, [toScreen(view, size, resource.at), toScreen(view, size, user.at)]);
  ctx.setLineDash([]);
}

/** The link being drawn, from an element to a point. */
export function drawPending(ctx: Canvas, { design, view, size, drawing }: Scene): void {
  const from = drawing && elementsById(design).get(drawing.from);
  if (!from) return;
  const points = [toScreen(view, size, from.at), toScreen(view, size, drawing.to)];
  ctx.strokeStyle = drawing.refused ? COLOURS.buoy : COLOURS.action;
  ctx.lineWidth = 2;
  ctx.setLineDash([5, 4]);
  strokeLine(ctx, points);
  ctx.setLineDash([]);
  const head = new Path2D();
  addArrowHead(head, points, 1);
  ctx.fillStyle = ctx.strokeStyle;
  ctx.fill(head);
}

/** Lines on which what is moved stands with others. */
export function drawGuides(ctx: Canvas, { x, y }: Guides, view: View, size: Size): void {
  const [sx, sy] = toScreen(view, size, [x ?? 0, y ?? 0]);
  ctx.strokeStyle = COLOURS.buoy;
  ctx.lineWidth = 1;
  if (x !== undefined)
    strokeLine(ctx, [
      [sx, 0],
      [sx, size.height],
    ]);
  if (y !== undefined)
    strokeLine(ctx, [
      [0, sy],
      [size.width, sy],
    ]);
}

/** The outline of a background drawing at hand, and points picked on it. */
export function drawPlacing(
  ctx: Canvas,
  { corners, picked }: NonNullable<Scene["placing"]>,
  view: View,
  size: Size,
): void {
  ctx.strokeStyle = COLOURS.action;
  ctx.lineWidth = 1;
  if (corners.length > 0) {
    ctx.setLineDash([6, 4]);
    strokeLine(
      ctx,
      [...corners, corners[0]].map((p) => toScreen(view, size, p)),
    );
    ctx.setLineDash([]);
  }
  const ends = picked.map((p) => toScreen(view, size, p));
  ctx.lineWidth = 2;
  ctx.strokeStyle = COLOURS.buoy;
  if (ends.length === 2) strokeLine(ctx, ends);
  for (const [x, y] of ends) {
    strokeLine(ctx, [
      [x - 7, y - 7],
      [x + 7, y + 7],
    ]);
    strokeLine(ctx, [
      [x - 7, y + 7],
      [x + 7, y - 7],
    ]);
  }
}
