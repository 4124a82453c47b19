import type Konva from "konva";
import { type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import { Layer } from "./konva.ts";
import type { Scene, SceneHolder } from "../scene.ts";
import type { View } from "../view.ts";
import { BEYOND, unsettled } from "./FloorStage.tsx";

/** Milliseconds without a change of the view after which the hand rests. */
const RESTED = 120;

/**
 * A layer for what rests, drawn beyond the edges of the screen: while the view is panned its picture is moved;
 * it is drawn anew when the hand rests or its edge comes in sight, and only then is it known again what lies where.
 */
export function StillLayer({
  scene,
  listening = true,
  onDrawn,
  children,
}: {
  scene: Scene;
  listening?: boolean;
  /** Told when it has been drawn. */
  onDrawn?: () => void;
  children: (holder: SceneHolder) => ReactNode;
}) {
  const layer = useRef<Konva.Layer>(null);
  const [holder] = useState<SceneHolder>(() => ({ current: scene }));
  /** The view that the picture shows. */
  const drawn = useRef<View>(undefined);
  const { view } = scene;

  useLayoutEffect(() => {
    const node = layer.current!;
    const from = drawn.current;
    const before = holder.current;
    const turning = from !== undefined && before.view !== view;
    const [x, y] = from ? [(from.x - view.x) * view.scale, (from.y - view.y) * view.scale] : [0, 0];
    holder.current = scene;
    const serves = from?.scale === view.scale && Math.abs(x) <= BEYOND && Math.abs(y) <= BEYOND;
    if (serves && sameButView(before, scene)) {
      moveTo(node, x, y);
      if (!turning && x === 0 && y === 0) return;
    } else {
      drawn.current = view;
      moveTo(node, 0, 0);
      if (!turning) {
        node.batchDraw();
        return;
      }
      // What is under the pointer is drawn when it rests.
      node.drawScene();
    }
    const settle = () => {
      clearTimeout(rest);
      unsettled.delete(node);
      drawn.current = view;
      moveTo(node, 0, 0);
      node.draw();
    };
    const rest = setTimeout(settle, RESTED);
    unsettled.set(node, settle);
    return () => {
      clearTimeout(rest);
      unsettled.delete(node);
    };
  }, [scene, view, holder]);

  useLayoutEffect(() => {
    layer.current!.getNativeCanvasElement().style.willChange = "transform";
  }, []);

  useEffect(() => {
    const node = layer.current!;
    if (!onDrawn) return;
    node.on("draw", onDrawn);
    return () => void node.off("draw", onDrawn);
  }, [onDrawn]);

  return (
    <Layer ref={layer} listening={listening}>
      {children(holder)}
    </Layer>
  );
}

/** Moves the layer's picture on the page, by whole pixels of the screen, or thin lines blur. */
function moveTo(layer: Konva.Layer, x: number, y: number): void {
  const ratio = window.devicePixelRatio || 1;
  const whole = (value: number) => Math.round(value * ratio) / ratio;
  layer.getNativeCanvasElement().style.transform = x === 0 && y === 0 ? "" : `translate(${whole(x)}px, ${whole(y)}px)`;
}

/** Whether two scenes show the same, but perhaps from elsewhere. */
function sameButView(a: Scene, b: Scene): boolean {
  return (Object.keys({ ...a, ...b }) as (keyof Scene)[]).every((key) => key === "view" || a[key] === b[key]);
}
