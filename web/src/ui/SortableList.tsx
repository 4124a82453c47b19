import { GripVertical } from "lucide-react";
import { Fragment, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { SortableProps } from "./sorting.ts";

type Entries = typeof import("./SortableEntries.tsx");

/** What moves entries is a large package: it is fetched when a hand or the keys first come to a list. */
let entries: Entries | undefined;
let coming: Promise<Entries> | undefined;
const fetchEntries = (): Promise<Entries> =>
  (coming ??= import("./SortableEntries.tsx").then((module) => (entries = module)));

const SIGNS_OF_LIFE = ["pointermove", "keydown"] as const;

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
  // Fetched once somebody is there, so that it is at hand when the list is come to.
  useEffect(() => {
    const fetch = () => void fetchEntries();
    for (const event of SIGNS_OF_LIFE) window.addEventListener(event, fetch, { once: true });
    return () => SIGNS_OF_LIFE.forEach((event) => window.removeEventListener(event, fetch));
  }, []);
  /**
   * What moves entries takes the place of what shows them: only where a hand comes or goes, never under it, and not
   * while one writes in an entry, which would lose the keys.
   */
  const take = () => {
    const { activeElement } = document;
    const isWriting = list.current?.contains(activeElement) && !activeElement?.matches("[data-grip]");
    if (entries && !isWriting) flushSync(() => setMoved(true));
  };
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
      onPointerLeave={take}
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
                  void fetchEntries().then(() => document.activeElement?.matches("[data-grip]") && setMoved(true));
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
