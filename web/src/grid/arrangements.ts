import { z } from "zod";
import { create } from "zustand";
import { persist } from "zustand/middleware";

const arrangementSchema = z.object({
  sorting: z.array(z.object({ id: z.string(), desc: z.boolean() })).optional(),
  columnVisibility: z.record(z.string(), z.boolean()).optional(),
  columnSizing: z.record(z.string(), z.number().min(30).max(1000)).optional(),
  columnOrder: z.array(z.string()).optional(),
  columnPinning: z.object({ start: z.array(z.string()), end: z.array(z.string()) }).optional(),
});

/** How a person has arranged the columns of a grid, as the package has it; what is not said is as at first. */
export type Arrangement = z.infer<typeof arrangementSchema>;

const keptSchema = z.object({ of: z.record(z.string(), arrangementSchema) });

interface Arrangements {
  readonly of: Readonly<Record<string, Arrangement>>;
  change(grid: string, part: Arrangement): void;
}

/** How the columns of each grid are arranged; kept in this browser. */
export const useArrangements = create<Arrangements>()(
  persist(
    (set) => ({
      of: {},
      change: (grid, part) => set((s) => ({ of: { ...s.of, [grid]: { ...s.of[grid], ...part } } })),
    }),
    {
      name: "busy-harbor-grids",
      partialize: ({ of }) => ({ of }),
      merge: (kept, initial) => {
        const read = keptSchema.safeParse(kept);
        return read.success ? { ...initial, ...read.data } : initial;
      },
    },
  ),
);
