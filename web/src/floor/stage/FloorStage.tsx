import type { KonvaEventObject } from "konva/lib/Node";
import type { Point } from "@busy-harbor/core";
import { type ReactNode, type Ref, useCallback, useEffect, useImperativeHandle, useRef, useState } from "react";
import { Konva, Stage } from "./konva.ts";
import { panBy, type Size, zoomAt } from "../view.ts";
import { useView } from "../viewStore.ts";

/** Pixels of the stage beyond each edge of what is seen of it, so that panning need not draw anew at every step. */
export const BEYOND = 240;

/** The size of the stage whose middle is seen at `size`. */
export const stageSize = ({ width, height }: Size): Size => ({
  width: width + 2 * BEYOND,
  height: height + 2 * BEYOND,
});

/** Pixels that a pointer moves before it drags. */
const DRAG_DISTANCE = 4;
/** Pixels within which two clicks are one double click. */
const SAME_PLACE = 6;

/** Layers whose picture is still moving, and what brings each to rest at once. */
export const unsettled = new Map<Konva.Layer, () => void>();

/** One object, so that the stage is not taken for changed, and drawn. */
const PLACE = { left: -BEYOND, top: -BEYOND };

const RESTS = { x: 0, y: 0 };
const stays = () => RESTS;

// The middle button drags too: it pans, whatever lies under it.
Konva.dragButtons = [0, 1];

export interface PointerAt {
  /** On the screen, within the floor. */
  readonly at: Point;
  /** What lies under it; the stage where nothing does. */
  readonly target: Konva.Node;
  readonly button: number;
  readonly shift: boolean;
  readonly alt: boolean;
}

export interface StageHandle {
  /** What lies under a point of the screen, if anything. */
  under(at: Point): Konva.Node | undefined;
  /** Where an event of the page happened, on the screen within the floor. */
  pointOf(event: { readonly clientX: number; readonly clientY: number }): Point;
  /** Lets go of what is dragged. */
  letGo(): void;
}

interface Props {
  readonly ref?: Ref<StageHandle>;
  /** Not while a click does something else. */
  readonly draggable?: boolean;
  readonly onDown?: (pointer: PointerAt) => void;
  readonly onMove?: (pointer: PointerAt) => void;
  readonly onClick?: (pointer: PointerAt) => void;
  readonly onDoubleClick?: (pointer: PointerAt) => void;
  /** The pointer, pressed at `from`, begins to drag. */
  readonly onDragStart?: (from: PointerAt) => void;
  readonly onDrag?: (pointer: PointerAt) => void;
  readonly onDragEnd?: (pointer: PointerAt) => void;
  /** Layers. */
  readonly children: ReactNode;
}

/**
 * The floor as a stage for shapes in pixels of the screen. It fills its place, zooms by wheel and pinch and pans by
 * touch pad. What is dragged does not move by itself: who listens changes the design or the view, and the stage
 * follows.
 */
export function FloorStage({ ref, draggable = true, children, ...on }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const stage = useRef<Konva.Stage>(null);
  const pressed = useRef<PointerAt>(undefined);
  const before = useRef<PointerAt>(undefined);
  const size = useView((s) => s.size);
  const pinch = usePinch(stage);

  useEffect(() => {
    const element = holder.current!;
    const observer = new ResizeObserver(() => {
      useView.getState().setSize({ width: element.clientWidth, height: element.clientHeight });
    });
    observer.observe(element);
    return () => {
      observer.disconnect();
      // The next floor has a size of its own, and is fitted only once that is known.
      useView.getState().setSize({ width: 0, height: 0 });
    };
  }, []);

  useImperativeHandle(
    ref,
    () => ({
      under([x, y]) {
        if (stage.current) settleAll(stage.current);
        return stage.current?.getIntersection({ x: x + BEYOND, y: y + BEYOND }) ?? undefined;
      },
      pointOf(event) {
        const box = holder.current!.getBoundingClientRect();
        return [event.clientX - box.left, event.clientY - box.top];
      },
      letGo: () => stage.current?.stopDrag(),
    }),
    [],
  );

  const pointer = useCallback((event: KonvaEventObject<MouseEvent | TouchEvent>): PointerAt => {
    const { evt, target } = event;
    const at = stage.current?.getPointerPosition() ?? RESTS;
    return {
      at: [at.x - BEYOND, at.y - BEYOND],
      target,
      button: "button" in evt ? evt.button : 0,
      shift: evt.shiftKey,
      alt: evt.altKey,
    };
  }, []);

  const down = (event: KonvaEventObject<MouseEvent | TouchEvent>) => {
    before.current = pressed.current;
    pressed.current = pointer(event);
    on.onDown?.(pressed.current);
  };
  const twice = (event: KonvaEventObject<MouseEvent | TouchEvent>) => {
    const now = pointer(event);
    const first = before.current?.at ?? now.at;
    if (Math.hypot(first[0] - now.at[0], first[1] - now.at[1]) <= SAME_PLACE) on.onDoubleClick?.(now);
  };
  const ofStage = (event: KonvaEventObject<DragEvent>) => event.target === stage.current && !pinch.isPinching();

  if (size.width === 0) return <div ref={holder} className="absolute inset-0" />;
  const { width, height } = stageSize(size);
  return (
    <div
      ref={holder}
      className="absolute inset-0 touch-none overflow-hidden"
      onPointerDownCapture={() => stage.current && settleAll(stage.current)}
    >
      <Stage
        ref={stage}
        width={width}
        height={height}
        className="absolute"
        style={PLACE}
        draggable={draggable}
        dragBoundFunc={stays}
        dragDistance={DRAG_DISTANCE}
        onMouseDown={down}
        onTouchStart={down}
        onMouseMove={(event) => on.onMove?.(pointer(event))}
        onClick={(event) => on.onClick?.(pointer(event))}
        onTap={(event) => on.onClick?.(pointer(event))}
        onDblClick={twice}
        onDblTap={twice}
        onDragStart={(event) => ofStage(event) && pressed.current && on.onDragStart?.(pressed.current)}
        onDragMove={(event) => ofStage(event) && on.onDrag?.(pointer(event))}
        // Without an event it was let go by us, and not by the hand.
        onDragEnd={(event) => event.target === stage.current && event.evt && on.onDragEnd?.(pointer(event))}
        onTouchMove={pinch.move}
        onTouchEnd={pinch.end}
        onWheel={turnWheel}
      >
        {children}
      </Stage>
    </div>
  );
}

/** What is still moving rests: whoever presses means what he sees. */
function settleAll(stage: Konva.Stage): void {
  for (const layer of stage.getLayers()) unsettled.get(layer)?.();
}

/** The wheel zooms about the pointer; sideways, or with Shift, it pans, as touch pads do. */
function turnWheel({ evt, currentTarget }: KonvaEventObject<WheelEvent>): void {
  evt.preventDefault();
  const { view, size, setView } = useView.getState();
  const sideways = evt.shiftKey && evt.deltaX === 0 ? evt.deltaY : evt.deltaX;
  if (evt.shiftKey || (Math.abs(evt.deltaX) > 0 && !evt.ctrlKey)) {
    setView(panBy(view, -sideways, evt.shiftKey ? 0 : -evt.deltaY));
    return;
  }
  const at = currentTarget.getStage()!.getPointerPosition() ?? RESTS;
  const factor = Math.exp(-evt.deltaY * (evt.ctrlKey ? 0.01 : 0.0015));
  setView(zoomAt(view, size, [at.x - BEYOND, at.y - BEYOND], factor));
}

/** Two fingers zoom about the middle between them, and pan with it. */
function usePinch(stage: { readonly current: Konva.Stage | null }) {
  const last = useRef<{ readonly apart: number; readonly middle: Point }>(undefined);
  const [pinch] = useState(() => ({
    isPinching: () => last.current !== undefined,
    move({ evt }: KonvaEventObject<TouchEvent>) {
      if (evt.touches.length !== 2) return;
      evt.preventDefault();
      stage.current?.stopDrag();
      const box = stage.current!.container().getBoundingClientRect();
      const [a, b] = [...evt.touches].map(({ clientX, clientY }): Point => [
        clientX - box.left - BEYOND,
        clientY - box.top - BEYOND,
      ]);
      const middle: Point = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
      const apart = Math.hypot(a[0] - b[0], a[1] - b[1]);
      const before = last.current;
      last.current = { apart, middle };
      if (!before) return;
      const { view, size, setView } = useView.getState();
      const panned = panBy(view, middle[0] - before.middle[0], middle[1] - before.middle[1]);
      setView(zoomAt(panned, size, middle, apart / before.apart));
    },
    end({ evt }: KonvaEventObject<TouchEvent>) {
      if (evt.touches.length < 2) last.current = undefined;
    },
  }));
  return pinch;
}
