import { Fragment, lazy, type ReactNode, Suspense } from "react";

export interface SortableProps {
  /** Ids of the entries in their order. */
  readonly ids: readonly string[];
  readonly nameOf: (id: string) => string;
  /** An entry is put in another's place. */
  readonly onMove: (from: number, to: number) => void;
  /** Shows an entry, with the grip by which it is moved; there is none where there is nothing to move it past. */
  readonly children: (id: string, index: number, grip: ReactNode) => ReactNode;
}

// What moves entries is a large package, and the first card opened is seen sooner without it.
const SortableEntries = lazy(() => import("./SortableEntries.tsx"));

/** Entries whose order means something. Until what moves them has come they stand in their order, without grips. */
export function SortableList(props: SortableProps) {
  const { ids, children } = props;
  return (
    <Suspense
      fallback={
        <div>
          {ids.map((id, i) => (
            <Fragment key={id}>{children(id, i, null)}</Fragment>
          ))}
        </div>
      }
    >
      <SortableEntries {...props} />
    </Suspense>
  );
}

/** The entries with one put in another's place. */
export function moved<T>(entries: readonly T[], from: number, to: number): T[] {
  const next = [...entries];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}
