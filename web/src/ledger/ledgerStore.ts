import { allKinds } from "@busy-harbor/core";
import { z } from "zod";
import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Sorting } from "./arrangeRows.ts";

const keptSchema = z.object({
  open: z.boolean(),
  height: z.number().min(120).max(4000),
  sheet: z.string(),
  hidden: z.record(z.string(), z.array(z.string())),
  widths: z.record(z.string(), z.number().min(30).max(1000)),
  sorting: z.record(z.string(), z.object({ column: z.string(), down: z.boolean() })),
});

type Kept = z.infer<typeof keptSchema>;

interface LedgerState extends Kept {
  filter: string;
  toggle(): void;
  show(sheet: string): void;
  setHeight(height: number): void;
  setWidth(sheet: string, column: string, width: number): void;
  sort(sheet: string, sorting: Sorting | undefined): void;
  setHidden(sheet: string, columns: readonly string[]): void;
  setFilter(filter: string): void;
}

/** How a person has arranged the ledger; kept in this browser. */
export const useLedger = create<LedgerState>()(
  persist(
    (set) => ({
      open: false,
      height: 300,
      sheet: allKinds.find(({ isWork }) => isWork)?.kind ?? "",
      hidden: {},
      widths: {},
      sorting: {},
      filter: "",
      toggle: () => set((s) => ({ open: !s.open })),
      show: (sheet) => set({ sheet, filter: "" }),
      setHeight: (height) => set({ height: Math.max(140, height) }),
      setWidth: (sheet, column, width) =>
        set((s) => ({ widths: { ...s.widths, [`${sheet}/${column}`]: Math.min(1000, Math.max(40, width)) } })),
      sort: (sheet, sorting) =>
        set((s) => {
          const { [sheet]: _, ...others } = s.sorting;
          return { sorting: sorting ? { ...others, [sheet]: sorting } : others };
        }),
      setHidden: (sheet, columns) => set((s) => ({ hidden: { ...s.hidden, [sheet]: [...columns] } })),
      setFilter: (filter) => set({ filter }),
    }),
    {
      name: "busy-harbor-ledger",
      partialize: ({ height, sheet, hidden, widths, sorting }) => ({ height, sheet, hidden, widths, sorting }),
      merge: (kept, initial) => {
        const read = keptSchema.partial().safeParse(kept);
        const good = read.success ? read.data : {};
        return { ...initial, ...good };
      },
    },
  ),
);
