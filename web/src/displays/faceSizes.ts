import { create } from "zustand";
import type { Size } from "../floor/view.ts";

/** How large the faces of displays are on screen before they are enlarged or turned, in pixels, by their ids. */
export const useFaceSizes = create<Readonly<Record<string, Size>>>(() => ({}));

const ids = new WeakMap<Element, string>();
let observer: ResizeObserver | undefined;

/** Keeps the size of a face known for as long as it is on screen; as a ref of its element. */
export function watchFace(element: HTMLElement | null): (() => void) | undefined {
  const id = element?.dataset.display;
  if (!element || id === undefined) return undefined;
  observer ??= new ResizeObserver((entries) => {
    const sizes: Record<string, Size> = {};
    for (const { target } of entries) {
      const of = ids.get(target);
      if (of !== undefined && target instanceof HTMLElement)
        sizes[of] = { width: target.offsetWidth, height: target.offsetHeight };
    }
    useFaceSizes.setState(sizes);
  });
  ids.set(element, id);
  observer.observe(element);
  return () => observer?.unobserve(element);
}
