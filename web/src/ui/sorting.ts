import type { ReactNode } from "react";

/** A list whose order means something. */
export interface SortableProps {
  /** Ids of the entries in their order. */
  readonly ids: readonly string[];
  readonly nameOf: (id: string) => string;
  /** An entry is put in another's place. */
  readonly onMove: (from: number, to: number) => void;
  /** Shows an entry, with the grip by which it is moved; there is none where there is nothing to move it past. */
  readonly children: (id: string, index: number, grip: ReactNode) => ReactNode;
}

/** The entries with one put in another's place. */
export function moved<T>(entries: readonly T[], from: number, to: number): T[] {
  const next = [...entries];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}
