import { type Design, type Element, type Frame, kindOf, looksOf, type Model, type Study } from "@busy-harbor/core";
import type Konva from "konva";
import { type Ref, useCallback, useImperativeHandle, useLayoutEffect, useMemo, useRef } from "react";
import { Layer, Shape } from "../floor/stage/konva.ts";
import { useBackdropFor } from "../drawings/useBackdropFor.ts";
import { drawClosedRoad } from "../floor/draw/roads.ts";
import { drawElement } from "../floor/draw/elements.ts";
import { drawNotes } from "../floor/draw/names.ts";
import { NOTHING, type Scene } from "../floor/scene.ts";
import { FloorStage, stageSize } from "../floor/stage/FloorStage.tsx";
import { StillLayer } from "../floor/stage/StillLayer.tsx";
import { StillShapes } from "../floor/stage/StillShapes.tsx";
import { drawCarrier } from "../floor/symbols/carrier.ts";
import { drawMember } from "../floor/symbols/member.ts";
import { drawEntities } from "../floor/symbols/entities.ts";
import type { Canvas } from "../floor/symbols/shared.ts";
import { usePictures } from "../floor/usePictures.ts";
import { panBy, symbolScale } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { useTheme } from "../ui/theme.ts";
import { paletteWith } from "./entityColours.ts";
import { placeCarriers, stacked } from "./placeCarriers.ts";
import { linesOnScreen, placeEntities, type SlotMemory } from "./placeEntities.ts";

export interface WatchFloorHandle {
  show(frame: Frame): void;
}

/** The floor in motion: the design rests below; states of units and all entities are one shape above it. */
export function WatchFloor({
  study,
  design,
  model,
  ref,
}: {
  study: Study;
  design: Design;
  model: Model;
  ref: Ref<WatchFloorHandle>;
}) {
  const { view, size: seen } = useView();
  const size = useMemo(() => stageSize(seen), [seen]);
  const moving = useRef<Konva.Layer>(null);
  const latest = useRef<Frame>(undefined);
  const slots = useRef<SlotMemory>(new Map());
  const looks = usePictures(design.entityTypes);
  const theme = useTheme((s) => s.shown);
  const backdrop = useBackdropFor(study.drawings, view, seen);
  const palettes = useMemo(
    () => model.types.map(({ type }) => paletteWith(type, looksOf(model.document))),
    // The colours of states go with the theme.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [model, theme],
  );
  const lines = useMemo(() => linesOnScreen(design, model, view, size), [design, model, view, size]);
  const scene: Scene = useMemo(
    () => ({
      plan: study.plan,
      backdrop,
      design,
      view,
      size,
      selection: NOTHING,
      troubled: NOTHING,
      grid: true,
      theme,
    }),
    [study.plan, backdrop, design, view, size, theme],
  );

  const draw = useCallback(
    (ctx: Canvas) => {
      const frame = latest.current;
      if (!frame) return;
      const { placed, live } = placeEntities(
        frame,
        design,
        lines,
        view,
        size,
        slots.current,
        (from, to) => model.roads?.route(model.nodes[from].element.at, model.nodes[to].element.at)?.points,
      );
      model.followed.forEach(({ road }, i) => frame.roads.closed[i] === 1 && drawClosedRoad(ctx, road, scene));
      for (const element of design.elements) if (showsStates(element)) drawElement(ctx, element, { ...scene, live });
      const isSeen = ({ x, y }: { readonly x: number; readonly y: number }) =>
        x > -20 && y > -20 && x < size.width + 20 && y < size.height + 20;
      const k = symbolScale(view);
      const gone = placeCarriers(frame, model, view, size);
      const carriers = gone.carriers.filter(isSeen);
      for (const { x, y, angle, doing } of gone.members.filter(isSeen)) drawMember(ctx, x, y, angle, k, doing);
      for (const { x, y, angle } of carriers) drawCarrier(ctx, x, y, angle, k);
      const loads = carriers.flatMap(({ load, others, ...at }) =>
        load < 0 ? [] : stacked([load, ...others], at, k).map((on) => ({ ...at, ...on, shade: 0 })),
      );
      drawEntities(ctx, [...placed.filter(isSeen), ...loads], looks, palettes, k, ctx.getTransform().a);
      drawNotes(ctx, scene, notesOf(frame, design));
    },
    [design, model, view, size, scene, looks, palettes, lines],
  );
  // At once, not when the page comes to it: what a frame costs is measured, and each is shown.
  const show = useCallback((frame: Frame) => {
    latest.current = frame;
    moving.current?.drawScene();
  }, []);
  useImperativeHandle(ref, () => ({ show }), [show]);
  useLayoutEffect(() => void moving.current?.batchDraw(), [draw]);

  const dragged = useRef<readonly [number, number]>([0, 0]);
  return (
    <div className="absolute inset-0" role="img" aria-label="Floor in motion" data-testid="watch-floor">
      <FloorStage
        onDragStart={({ at }) => (dragged.current = at)}
        onDrag={({ at }) => {
          const { view: now, setView } = useView.getState();
          setView(panBy(now, at[0] - dragged.current[0], at[1] - dragged.current[1]));
          dragged.current = at;
        }}
      >
        <StillLayer scene={scene} listening={false}>
          {(holder) => <StillShapes design={design} without={NOTHING} scene={holder} />}
        </StillLayer>
        <Layer ref={moving} listening={false}>
          <Shape perfectDrawEnabled={false} sceneFunc={(ctx) => draw(ctx._context)} />
        </Layer>
      </FloorStage>
    </div>
  );
}

/** Elements whose slots or units tell what they are doing. */
const showsStates = (element: Element) => kindOf(element).units !== undefined;

/** How many are at each element, or have been. */
const notesOf = (frame: Frame, design: Design): ReadonlyMap<string, string> =>
  new Map(
    design.elements.map((e, i) => {
      const { counts, quiet } = kindOf(e);
      return [e.id, quiet && frame.counts[i] === 0 ? "" : `${frame.counts[i]} ${counts}`];
    }),
  );
