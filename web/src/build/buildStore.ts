import type { ElementKindName, Point } from "@busy-harbor/core";
import { create } from "zustand";

interface QuickAdd {
  /** Screen point within the floor. */
  readonly at: Point;
  /** Element the new one is linked from, if any. */
  readonly from?: string;
  /** Only existing elements are offered, to link to. */
  readonly linkOnly?: boolean;
}

interface BuildState {
  /** Kind whose symbol follows the pointer until it is put down. */
  placing: ElementKindName | undefined;
  quickAdd: QuickAdd | undefined;
  /** Where the pointer is over the floor, in screen pixels. */
  pointer: Point | undefined;
  /** Setting to bring into view and focus on the card. */
  focusField: string | undefined;
  /** Whether it is asked what of the floor is saved as a picture. */
  savingPicture: boolean;
  /** Whether the plan stands in small beside the scale, while parts of it lie out of view. */
  mapShown: boolean;
  startPlacing(kind: ElementKindName): void;
  stopPlacing(): void;
  openQuickAdd(at: Point, from?: string, linkOnly?: boolean): void;
  closeQuickAdd(): void;
}

export const useBuild = create<BuildState>((set) => ({
  placing: undefined,
  quickAdd: undefined,
  pointer: undefined,
  focusField: undefined,
  savingPicture: false,
  mapShown: true,
  startPlacing: (placing) => set({ placing }),
  stopPlacing: () => set({ placing: undefined }),
  openQuickAdd: (at, from, linkOnly) => set({ quickAdd: { at, from, linkOnly } }),
  closeQuickAdd: () => set({ quickAdd: undefined }),
}));
