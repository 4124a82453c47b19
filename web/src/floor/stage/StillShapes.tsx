import type { Design, Element, Link, Road } from "@busy-harbor/core";
import { memo } from "react";
import { drawPosts } from "../draw/elements.ts";
import { drawGround } from "../draw/ground.ts";
import { drawConveyors, drawWalkways } from "../draw/links.ts";
import { drawRoads } from "../draw/roads.ts";
import { roadsOf } from "../roads.ts";
import { drawNames } from "../draw/names.ts";
import type { SceneHolder } from "../scene.ts";
import { Drawn, ElementShape, LinkShape, RoadShape } from "./shapes.tsx";

/** Elements and links, under their names. */
export const DesignShapes = memo(function DesignShapes({
  elements,
  links,
  roads,
  scene,
}: {
  elements: readonly Element[];
  links: readonly Link[];
  roads: readonly Road[];
  scene: SceneHolder;
}) {
  return (
    <>
      <Drawn
        scene={scene}
        draw={(ctx, now) => {
          drawRoads(ctx, roads, now);
          drawPosts(ctx, elements, now);
          drawWalkways(ctx, links, now);
          drawConveyors(ctx, links, now);
        }}
      />
      {roads.map((road) => (
        <RoadShape key={road.id} road={road} scene={scene} />
      ))}
      {links.map((link) => (
        <LinkShape key={link.id} link={link} scene={scene} />
      ))}
      {elements.map((element) => (
        <ElementShape key={element.id} element={element} scene={scene} />
      ))}
      <Drawn scene={scene} draw={(ctx, now) => drawNames(ctx, elements, now)} />
    </>
  );
});

export const touches = (link: Pick<Link, "id" | "from" | "to">, ids: ReadonlySet<string>): boolean =>
  ids.has(link.id) || ids.has(link.from) || ids.has(link.to);

/** The ground and a design on it, without some elements and links and without the links of those elements. */
export const StillShapes = memo(function StillShapes({
  design,
  without,
  scene,
}: {
  design: Design;
  without: ReadonlySet<string>;
  scene: SceneHolder;
}) {
  const { elements, links } = design;
  const roads = roadsOf(design);
  return (
    <>
      <Drawn scene={scene} draw={drawGround} />
      <DesignShapes
        elements={without.size === 0 ? elements : elements.filter((e) => !without.has(e.id))}
        links={without.size === 0 ? links : links.filter((l) => !touches(l, without))}
        roads={without.size === 0 ? roads : roads.filter((r) => !touches(r, without))}
        scene={scene}
      />
    </>
  );
});
