import type Konva from "konva";
import { type ReactNode, useLayoutEffect, useRef, useState } from "react";
import { Layer } from "./konva.ts";
import type { Scene, SceneHolder } from "../scene.ts";

/** A layer for what is at hand: drawn anew whenever its scene changes. */
export function HandLayer({
  scene,
  listening,
  children,
}: {
  scene: Scene;
  /** Not while something is dragged: what lies where need not be drawn then. */
  listening: boolean;
  children: (holder: SceneHolder) => ReactNode;
}) {
  const layer = useRef<Konva.Layer>(null);
  const [holder] = useState<SceneHolder>(() => ({ current: scene }));
  useLayoutEffect(() => {
    holder.current = scene;
    layer.current?.batchDraw();
  }, [scene, holder]);
  return (
    <Layer ref={layer} listening={listening}>
      {children(holder)}
    </Layer>
  );
}
