import { create } from "zustand";

/** What besides elements and links has its card open: one thing at a time, while nothing is selected. */
export type Shown = { readonly kind: "drawing" | "display"; readonly id: string };

export const useShown = create<{ shown: Shown | undefined; show(shown: Shown | undefined): void }>((set) => ({
  shown: undefined,
  show: (shown) => set({ shown }),
}));

export const useShownId = (kind: Shown["kind"]): string | undefined =>
  useShown((s) => (s.shown?.kind === kind ? s.shown.id : undefined));
