import type { Study } from "@busy-harbor/core";
import { useMemo } from "react";
import { useDrawings } from "../drawings/drawingStore.ts";
import { cornersOf } from "../drawings/outline.ts";
import type { Scene } from "../floor/scene.ts";
import { useShownDrawing } from "./useShownDrawing.ts";

/** The outline of the background drawing at hand, and the points picked on it. */
export function useDrawingOutline(study: Study): Scene["placing"] {
  const shown = useShownDrawing(study);
  const picked = useDrawings((s) => s.picked);
  const [drawing, info] = [shown?.drawing, shown?.info];
  return useMemo(
    () => (drawing && info ? { corners: cornersOf(drawing, info), picked: picked ?? [] } : undefined),
    [drawing, info, picked],
  );
}
