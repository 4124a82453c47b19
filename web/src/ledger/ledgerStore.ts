import { allKinds } from "@busy-harbor/core";
import { z } from "zod";
import { create } from "zustand";
import { persist } from "zustand/middleware";

/** Pixels. */
export const MIN_HEIGHT = 140;

const keptSchema = z.object({
  open: z.boolean(),
  height: z.number().min(120).max(4000),
  sheet: z.string(),
});

type Kept = z.infer<typeof keptSchema>;

interface LedgerState extends Kept {
  filter: string;
  toggle(): void;
  show(sheet: string): void;
  setHeight(height: number): void;
  setFilter(filter: string): void;
}

/** How high the ledger is and what it shows; kept in this browser. */
export const useLedger = create<LedgerState>()(
  persist(
    (set) => ({
      open: false,
      height: 300,
      sheet: allKinds.find(({ isWork }) => isWork)?.kind ?? "",
      filter: "",
      toggle: () => set((s) => ({ open: !s.open })),
      show: (sheet) => set({ sheet, filter: "" }),
      setHeight: (height) => set({ height: Math.max(MIN_HEIGHT, height) }),
      setFilter: (filter) => set({ filter }),
    }),
    {
      name: "busy-harbor-ledger",
      partialize: ({ height, sheet }) => ({ height, sheet }),
      merge: (kept, initial) => {
        const read = keptSchema.partial().safeParse(kept);
        const good = read.success ? read.data : {};
        return { ...initial, ...good };
      },
    },
  ),
);
