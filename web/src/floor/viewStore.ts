import type { Design, PlanShape, Point } from "@busy-harbor/core";
import { create } from "zustand";
import { queueLine } from "./paths.ts";
import { fit, type Insets, type Size, type View } from "./view.ts";

interface ViewState {
  view: View;
  size: Size;
  /** The study the view was last fitted to. */
  fitted: string | undefined;
  setView(view: View): void;
  setSize(size: Size): void;
  fitAll(studyId: string, design: Design, plan: readonly PlanShape[], insets: Insets, besides?: readonly Point[]): void;
}

/** Where the floor is looked at; Build and Watch share it. */
export const useView = create<ViewState>((set, get) => ({
  view: { x: 0, y: 0, scale: 20 },
  size: { width: 0, height: 0 },
  fitted: undefined,
  setView: (view) => set({ view }),
  setSize: (size) => set({ size }),
  fitAll: (studyId, design, plan, insets, besides = []) =>
    set({
      view: fit([...extentPoints(design, plan), ...besides], get().size, {
        ...insets,
        left: insets.left + FOR_NAMES,
        right: insets.right + FOR_NAMES,
      }),
      fitted: studyId,
    }),
}));

/** Pixels at either side for names that stand beside the outermost symbols. */
const FOR_NAMES = 40;

/**
 * Points that "fit all" must show: elements, lines, bends, ways, corners of displays, and walls; water reaches beyond
 * the picture.
 */
export function extentPoints(design: Design, plan: readonly PlanShape[]): Point[] {
  return [
    ...design.elements.flatMap((e) => ("line" in e ? queueLine(e) : [e.at])),
    ...design.links.flatMap((l) => l.bends),
    ...(design.roads ?? []).flatMap((r) => r.points),
    ...design.displays.map((d) => d.at),
    ...plan.flatMap((shape) => (shape.shape === "wall" ? shape.points : [])),
  ];
}
