import { create } from "zustand";

export const VIEWS = [
  ["replications", "Replications"],
  ["histogram", "Histogram"],
  ["function", "Distribution function"],
  ["box", "Box plot"],
  ["time", "Over time"],
  ["hours", "By hour"],
] as const;
export type View = (typeof VIEWS)[number][0];

interface ChosenState {
  /** Key of the measure that a person chose last; the same is looked at in the next run. */
  readonly picked: string | undefined;
  readonly view: View;
  pick(key: string): void;
  show(view: View): void;
}

export const useChosen = create<ChosenState>((set) => ({
  picked: undefined,
  view: "replications",
  pick: (picked) => set({ picked }),
  show: (view) => set({ view }),
}));
