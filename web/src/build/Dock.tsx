import { elementKinds, type ElementKindName } from "@busy-harbor/core";
import { Fragment } from "react";
import { useView } from "../floor/viewStore.ts";
import { useBuild } from "./buildStore.ts";
import { addAt } from "./putOnFloor.ts";
import { SymbolIcon } from "./SymbolIcon.tsx";

/** The row of element symbols: a click takes one to the floor, Enter puts it in the middle. */
export function Dock() {
  const placing = useBuild((s) => s.placing);
  const { startPlacing, stopPlacing } = useBuild.getState();
  const { size } = useView();
  return (
    <div
      role="toolbar"
      aria-label="Elements to place"
      className="panel float flex max-w-full gap-0.5 overflow-x-auto px-2 py-1.5"
    >
      {(Object.keys(elementKinds) as ElementKindName[]).map((kind, i, kinds) => (
        <Fragment key={kind}>
          {i > 0 && elementKinds[kind].group !== elementKinds[kinds[i - 1]].group && (
            <span role="separator" className="mx-1 w-px shrink-0 self-stretch bg-line" />
          )}
          <button
            title={elementKinds[kind].summary}
            aria-pressed={placing === kind}
            className={`flex w-[66px] shrink-0 flex-col items-center rounded-lg px-1 pt-0.5 pb-1 text-xs ${placing === kind ? "bg-water text-ink" : "text-soft hover:bg-water"}`}
            onClick={(event) => {
              // A click by keyboard has no place: put the element into the middle of the floor.
              if (event.detail === 0) addAt(kind, [size.width / 2, size.height / 2]);
              else if (placing === kind) stopPlacing();
              else startPlacing(kind);
            }}
          >
            <SymbolIcon kind={kind} />
            {elementKinds[kind].label}
          </button>
        </Fragment>
      ))}
    </div>
  );
}
