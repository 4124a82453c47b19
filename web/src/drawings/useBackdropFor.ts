import type { Drawing } from "@busy-harbor/core";
import { useEffect } from "react";
import type { Size, View } from "../floor/view.ts";
import { useTheme } from "../ui/theme.ts";
import { type Backdrop, useBackdrop, wantBackdrop } from "./backdrop.ts";
import { ensureFile, useDrawingFiles } from "./files.ts";

/** The drawings as a picture for the floor seen so; the last one until a better is painted. */
export function useBackdropFor(drawings: readonly Drawing[], view: View, size: Size): Backdrop | undefined {
  const files = useDrawingFiles((s) => s.files);
  const theme = useTheme((s) => s.theme);
  const backdrop = useBackdrop((s) => s.backdrop);
  useEffect(() => {
    for (const { file, visible } of drawings) if (visible) void ensureFile(file);
  }, [drawings, files]);
  useEffect(() => wantBackdrop(drawings, files, view, size), [drawings, files, view, size, theme]);
  return drawings.length > 0 ? backdrop : undefined;
}
