import { GripVertical } from "lucide-react";
import { Fragment, type ReactNode, useEffect, useRef, useState } from "react";

export interface SortableProps {
  /** Ids of the entries in their order. */
  readonly ids: readonly string[];
  readonly nameOf: (id: string) => string;
  /** An entry is put in another's place. */
  readonly onMove: (from: number, to: number) => void;
  /** Shows an entry, with the grip by which it is moved; there is none where there is nothing to move it past. */
  readonly children: (id: string, index: number, grip: ReactNode) => ReactNode;
}

type Entries = typeof import("./SortableEntries.tsx");

/** What moves entries is a large package: it is fetched when a hand or the keys first come to a list. */
let entries: Entries | undefined;
let coming: Promise<Entries> | undefined;
const fetchEntries = (): Promise<Entries> =>
  (coming ??= import("./SortableEntries.tsx").then((module) => (entries = module)));

/** Entries whose order means something: see `SortableEntries`. */
export function SortableList(props: SortableProps) {
  const { ids, nameOf, children } = props;
  const [isMoved, setMoved] = useState(entries !== undefined);
  const list = useRef<HTMLDivElement>(null);
  const [grip, setGrip] = useState<string>();
  // The keys that came to a grip go on at the one that moves.
  useEffect(() => {
    if (!isMoved || grip === undefined) return;
    const label = `Move ${nameOf(grip)}`;
    const found = [...(list.current?.querySelectorAll("button") ?? [])].find((b) => b.ariaLabel === label);
    found?.focus();
    setGrip(undefined);
  }, [isMoved, grip, nameOf]);
  /** Not while one writes in an entry, which would lose the keys. */
  const take = () =>
    void fetchEntries().then(() => {
      if (!list.current?.contains(document.activeElement) || document.activeElement?.matches("[data-grip]"))
        setMoved(true);
    });
  if (isMoved && entries)
    return (
      <div ref={list}>
        <entries.default {...props} />
      </div>
    );
  return (
    <div
      ref={list}
      onPointerEnter={take}
      onBlur={({ relatedTarget }) => {
        if (!list.current?.contains(relatedTarget)) take();
      }}
    >
      {ids.map((id, i) => (
        <Fragment key={id}>
          {children(
            id,
            i,
            ids.length > 1 && (
              <button
                type="button"
                data-grip
                className="cursor-grab rounded text-soft"
                aria-label={`Move ${nameOf(id)}`}
                data-tip="Drag to change the order"
                onFocus={() => {
                  setGrip(id);
                  take();
                }}
              >
                <GripVertical size={13} />
              </button>
            ),
          )}
        </Fragment>
      ))}
    </div>
  );
}

/** The entries with one put in another's place. */
export function moved<T>(entries: readonly T[], from: number, to: number): T[] {
  const next = [...entries];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}
