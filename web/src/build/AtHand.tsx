import type { Element, Link, Point, Road, Study } from "@busy-harbor/core";
import { useMemo } from "react";
import { Group, Rect } from "../floor/stage/konva.ts";
import { COLOURS } from "../floor/colours.ts";
import { drawElement, drawPosts, wayHandles } from "../floor/draw/elements.ts";
import { drawGuides, drawPending, drawPlacing, drawUses } from "../floor/draw/hand.ts";
import { drawConveyors, drawLink, drawWalkways } from "../floor/draw/links.ts";
import { drawChosenRoad, drawRoadPlan, drawRoads } from "../floor/draw/roads.ts";
import { drawnRoad, roadsOf, standsOn } from "../floor/roads.ts";
import { drawNames } from "../floor/draw/names.ts";
import { queueLine } from "../floor/paths.ts";
import type { Scene } from "../floor/scene.ts";
import { BEYOND } from "../floor/stage/FloorStage.tsx";
import { Handle } from "../floor/stage/Handle.tsx";
import { HandLayer } from "../floor/stage/HandLayer.tsx";
import { Drawn } from "../floor/stage/shapes.tsx";
import { DesignShapes, touches } from "../floor/stage/StillShapes.tsx";
import type { Canvas } from "../floor/symbols/shared.ts";
import { symbolScale, toScreen } from "../floor/view.ts";
import { canLead } from "../state/edits.ts";
import type { Gesture } from "./gestures.ts";
import { DisplayFrames } from "./DisplayFrames.tsx";
import { DrawingFrame } from "./DrawingFrame.tsx";

/** Up to so many elements at hand are named whatever stands there. */
const ALWAYS_NAMED = 12;

/** What is dragged, selected, hovered or being drawn, over all that rests. */
export function AtHand({
  study,
  scene,
  apart,
  gesture,
}: {
  study: Study;
  scene: Scene;
  /** Elements and links that are not in the picture of what rests. */
  apart: ReadonlySet<string>;
  gesture: Gesture | undefined;
}) {
  const { design } = scene;
  const moved = useMemo(() => {
    const roads = roadsOf(design).filter((r) => touches(r, apart));
    return {
      // Those who stand on such a way are drawn once more, or it would lie above them.
      elements: design.elements.filter((e) => apart.has(e.id) || roads.some((road) => standsOn(e, road, design))),
      links: design.links.filter((l) => touches(l, apart)),
      roads,
    };
  }, [design, apart]);
  return (
    <HandLayer scene={scene} listening={gesture === undefined || gesture.kind === "link"}>
      {(holder) => (
        <>
          <Drawn scene={holder} draw={drawUses} />
          {gesture?.kind === "move" ? (
            <Drawn scene={holder} draw={(ctx, now) => drawDesign(ctx, moved, now)} />
          ) : (
            <DesignShapes elements={moved.elements} links={moved.links} roads={moved.roads} scene={holder} />
          )}
          <Drawn scene={holder} draw={(ctx, now) => drawChosen(ctx, now, apart)} />
          <Drawn scene={holder} draw={drawPlans} />
          <DrawingFrame study={study} scene={scene} />
          <DisplayFrames scene={scene} />
          <Handles scene={scene} />
          {gesture?.kind === "box" && <SelectionBox from={gesture.from} to={gesture.to} />}
        </>
      )}
    </HandLayer>
  );
}

/**
 * Elements and links as one shape, for as long as they are dragged: a shape for each would cost a third more time a
 * step, and nothing of them is under the pointer then.
 */
function drawDesign(
  ctx: Canvas,
  {
    elements,
    links,
    roads,
  }: { readonly elements: readonly Element[]; readonly links: readonly Link[]; readonly roads: readonly Road[] },
  scene: Scene,
): void {
  drawRoads(ctx, roads, scene);
  drawPosts(ctx, elements, scene);
  drawWalkways(ctx, links, scene);
  drawConveyors(ctx, links, scene);
  for (const link of links) drawLink(ctx, link, scene);
  for (const element of elements) drawElement(ctx, element, scene);
  drawNames(ctx, elements, scene);
}

/** What is selected or hovered, drawn over itself; what is apart is drawn so already. */
function drawChosen(ctx: Canvas, scene: Scene, apart: ReadonlySet<string>): void {
  const { design, selection, hovered } = scene;
  if (selection.size === 0 && hovered === undefined) return;
  const isChosen = ({ id }: { readonly id: string }) => (selection.has(id) || id === hovered) && !apart.has(id);
  const elements = design.elements.filter(isChosen);
  for (const road of roadsOf(design))
    if (selection.has(road.id) || road.id === hovered) drawChosenRoad(ctx, road, scene);
  for (const link of design.links) if (isChosen(link)) drawLink(ctx, link, scene);
  drawPosts(ctx, elements, scene);
  for (const element of elements) drawElement(ctx, element, scene);
  drawNames(ctx, elements, scene, elements.length <= ALWAYS_NAMED);
}

/** What is about to be: a link, a new element, lines to stand on, points of a scale. */
function drawPlans(ctx: Canvas, scene: Scene): void {
  drawPending(ctx, scene);
  if (scene.laying) drawRoadPlan(ctx, scene.laying, scene);
  if (scene.ghost) drawGhost(ctx, scene.ghost, scene);
  if (scene.placing) drawPlacing(ctx, scene.placing, scene.view, scene.size);
  if (scene.guides) drawGuides(ctx, scene.guides, scene.view, scene.size);
}

function drawGhost(ctx: Canvas, ghost: Element, scene: Scene): void {
  ctx.globalAlpha = 0.55;
  drawElement(ctx, ghost, scene);
  ctx.globalAlpha = 1;
  drawNames(ctx, [ghost], scene, true);
}

/** Grips at the bends of what is selected, and where a link begins at what is hovered. */
function Handles({ scene }: { scene: Scene }) {
  const { design, view, size, selection, hovered } = scene;
  const at = (p: Point) => toScreen(view, size, p);
  const links = design.links.filter((l) => selection.has(l.id));
  const lines = design.elements.filter((e) => "line" in e && selection.has(e.id));
  const leads = design.elements.find((e) => e.id === hovered && canLead(e));
  return (
    <>
      {links.flatMap(({ id, bends }) =>
        bends.map((p, index) => <Handle key={`${id} ${index}`} at={at(p)} of={{ kind: "bend", id, index }} />),
      )}
      {roadsOf(design)
        .filter((road) => selection.has(road.id))
        .flatMap((road) =>
          drawnRoad(road, design).map((p, index) => (
            <Handle key={`${road.id} ${index}`} at={at(p)} of={{ kind: "road point", id: road.id, index }} />
          )),
        )}
      {lines.flatMap((element) =>
        queueLine(element)
          .slice(1)
          .map((p, index) => (
            <Handle key={`${element.id} ${index}`} at={at(p)} of={{ kind: "line bend", id: element.id, index }} />
          )),
      )}
      {leads &&
        wayHandles(leads, at(leads.at), symbolScale(view)).map((p, i) => (
          <Handle key={`${leads.id} way ${i}`} at={p} of={{ kind: "way out", id: leads.id }} />
        ))}
    </>
  );
}

function SelectionBox({ from: [x0, y0], to: [x1, y1] }: { from: Point; to: Point }) {
  return (
    <Group listening={false} x={BEYOND} y={BEYOND}>
      <Rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill={COLOURS.chosen} stroke={COLOURS.action} />
    </Group>
  );
}
