import type { Drawing, Study } from "@busy-harbor/core";
import { useDrawings } from "../drawings/drawingStore.ts";
import { useDrawingFiles } from "../drawings/files.ts";
import type { FileInfo } from "../drawings/drawing.worker.ts";
import { useShownId } from "../state/shown.ts";
import { useStudy } from "../state/study.ts";

/** The background drawing whose card is open, once its file has been read; whether points are being picked on it. */
export function useShownDrawing(
  study: Study,
): { readonly drawing: Drawing; readonly info: FileInfo; readonly picking: boolean } | undefined {
  const shown = useShownId("drawing");
  const isAlone = useStudy((s) => s.selection.length === 0);
  const picking = useDrawings((s) => s.picked !== undefined);
  const drawing = isAlone ? study.drawings.find((d) => d.id === shown) : undefined;
  const info = useDrawingFiles((s) => {
    const file = drawing && s.files[drawing.file];
    return file?.state === "ready" ? file.info : undefined;
  });
  return drawing && info && { drawing, info, picking };
}
