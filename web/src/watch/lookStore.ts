import { create } from "zustand";
import type { Followed } from "./following.ts";

interface Look {
  /** Who is followed, if anybody. */
  readonly followed: Followed | undefined;
  /** Whether traffic and use are shown as heat. */
  readonly heat: boolean;
  follow(followed: Followed | undefined): void;
  setHeat(heat: boolean): void;
}

/** How one looks at what is watched. */
export const useLook = create<Look>((set) => ({
  followed: undefined,
  heat: false,
  follow: (followed) => set({ followed }),
  setHeat: (heat) => set({ heat }),
}));
