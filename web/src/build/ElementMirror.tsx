import { type Design, type Element, kindOf } from "@busy-harbor/core";
import { memo, useDeferredValue, useMemo } from "react";
import { extentOf } from "../floor/symbols/index.ts";
import { symbolScale, toScreen } from "../floor/view.ts";
import { useView } from "../floor/viewStore.ts";
import { useStudy } from "../state/study.ts";

/**
 * The elements as a list for keyboard and assistive technology, each entry where
 * its symbol is drawn. Focus selects; the pointer goes through to the canvas.
 */
export function ElementMirror({ design: latest }: { design: Design }) {
  // The canvas shows each step of a drag; the list may follow when there is time.
  const design = useDeferredValue(latest);
  const { view, size } = useView();
  const selection = useStudy((s) => s.selection);
  const chosen = useMemo(() => new Set(selection), [selection]);
  // Panning moves the list as a whole; its entries are laid out anew only when the scale changes.
  const [x, y] = toScreen(view, size, [0, 0]);
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden">
      <ul
        role="listbox"
        aria-label="Elements on the floor"
        aria-multiselectable
        className="absolute"
        style={{ transform: `translate(${x}px, ${y}px)` }}
      >
        {design.elements.map((element) => (
          <MirrorEntry
            key={element.id}
            element={element}
            chosen={chosen.has(element.id)}
            scale={view.scale}
            symbols={symbolScale(view)}
          />
        ))}
      </ul>
    </div>
  );
}

const MirrorEntry = memo(function MirrorEntry({
  element,
  chosen,
  scale,
  symbols,
}: {
  element: Element;
  chosen: boolean;
  scale: number;
  symbols: number;
}) {
  const { w, h } = extentOf(element);
  return (
    <li
      role="option"
      aria-selected={chosen}
      aria-label={`${element.name}, ${kindOf(element).label.toLowerCase()}`}
      tabIndex={0}
      data-element={element.name}
      className="absolute rounded-lg"
      style={{
        left: element.at[0] * scale - w * symbols,
        top: element.at[1] * scale - h * symbols,
        width: 2 * w * symbols,
        height: 2 * h * symbols,
      }}
      onFocus={(event) => event.target.matches(":focus-visible") && !chosen && useStudy.getState().select([element.id])}
    />
  );
});
