import { type Design, type Element, type Frame, kindOf, type Model, type Study } from "@busy-harbor/core";
import { type PointerEvent, useCallback, useImperativeHandle, useMemo, useRef, type Ref } from "react";
import { useBackdropFor } from "../drawings/useBackdropFor.ts";
import { drawNotes, drawScene } from "../floor/scene.ts";
import { drawEntities } from "../floor/symbols/entities.ts";
import { usePictures } from "../floor/usePictures.ts";
import { useTheme } from "../ui/theme.ts";
import { paletteOf } from "./entityColours.ts";
import { useCanvas } from "../floor/useCanvas.ts";
import { panBy, type Size, symbolScale, type View } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { linesOnScreen, placeEntities, type SlotMemory } from "./placeEntities.ts";

export interface WatchFloorHandle {
  show(frame: Frame): void;
}

const NOTHING: ReadonlySet<string> = new Set();

/** The floor in motion. The design is drawn below, entities in one pass above it. */
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
  const { view, size, setView } = useView();
  const over = useRef<HTMLCanvasElement>(null);
  const latest = useRef<Frame>(undefined);
  const slots = useRef<SlotMemory>(new Map());
  const looks = usePictures(design.entityTypes);
  const theme = useTheme((s) => s.theme);
  // The colours of states go with the theme.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const palettes = useMemo(() => model.types.map(({ type }) => paletteOf(type)), [model, theme]);
  const lines = useMemo(() => linesOnScreen(design, view, size), [design, view, size]);
  const panning = useRef<{ x: number; y: number }>(undefined);

  const show = useCallback(
    (frame: Frame) => {
      latest.current = frame;
      const canvas = over.current;
      const ctx = canvas?.getContext("2d");
      if (!canvas || !ctx || size.width === 0) return;
      const ratio = window.devicePixelRatio || 1;
      if (canvas.width !== Math.round(size.width * ratio) || canvas.height !== Math.round(size.height * ratio)) {
        canvas.width = Math.round(size.width * ratio);
        canvas.height = Math.round(size.height * ratio);
      }
      ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
      ctx.clearRect(0, 0, size.width, size.height);
      const { placed, live } = placeEntities(frame, design, lines, view, size, slots.current);
      drawScene(ctx, {
        plan: [],
        design: { ...design, links: [], elements: design.elements.filter(showsStates) },
        view,
        size,
        selection: NOTHING,
        troubled: NOTHING,
        grid: false,
        live,
        overlay: true,
      });
      const seen = placed.filter(({ x, y }) => x > -20 && y > -20 && x < size.width + 20 && y < size.height + 20);
      drawEntities(ctx, seen, looks, palettes, symbolScale(view), ratio);
      drawCounts(ctx, frame, design, view, size);
    },
    [design, view, size, looks, palettes, lines],
  );
  useImperativeHandle(ref, () => ({ show }), [show]);

  const backdrop = useBackdropFor(study.drawings, view, size);
  const base = useCanvas(
    useCallback(
      (ctx: CanvasRenderingContext2D) => {
        drawScene(ctx, {
          plan: study.plan,
          backdrop,
          design,
          view,
          size,
          selection: NOTHING,
          troubled: NOTHING,
          grid: true,
        });
        if (latest.current) show(latest.current);
      },
      [study.plan, backdrop, design, view, size, show],
    ),
  );

  const drag = (event: PointerEvent) => {
    if (!panning.current) return;
    setView(panBy(view, event.clientX - panning.current.x, event.clientY - panning.current.y));
    panning.current = { x: event.clientX, y: event.clientY };
  };
  return (
    <div
      className="absolute inset-0 touch-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        panning.current = { x: event.clientX, y: event.clientY };
      }}
      onPointerMove={drag}
      onPointerUp={() => (panning.current = undefined)}
    >
      <canvas ref={base} className="h-full w-full" aria-label="Floor in motion" role="img" data-testid="watch-floor" />
      <canvas ref={over} className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden />
    </div>
  );
}

/** Elements whose slots or units tell what they are doing. */
const showsStates = (element: Element) => kindOf(element).units !== undefined;

function drawCounts(ctx: CanvasRenderingContext2D, frame: Frame, design: Design, view: View, size: Size): void {
  const notes = new Map(
    design.elements.map((e, i) => {
      const { counts, quiet } = kindOf(e);
      return [e.id, quiet && frame.counts[i] === 0 ? "" : `${frame.counts[i]} ${counts}`];
    }),
  );
  drawNotes(ctx, design, view, size, notes);
}
