import { webcrypto } from "node:crypto";
import { TextDecoder, TextEncoder } from "node:util";

/** What browsers have and the page in tests has not. */
const lacking = {
  TextDecoder,
  TextEncoder,
  structuredClone: <T>(thing: T): T => JSON.parse(JSON.stringify(thing)) as T,
  requestAnimationFrame: (draw: () => void) => setTimeout(draw, 0),
  cancelAnimationFrame: clearTimeout,
};
for (const [name, value] of Object.entries(lacking))
  if (!(name in globalThis)) Object.defineProperty(globalThis, name, { value, configurable: true, writable: true });
if (!("randomUUID" in globalThis.crypto))
  Object.defineProperty(globalThis, "crypto", { value: webcrypto, configurable: true });

/** What the primitives ask of a page that is laid out, which the one in tests is not. */
if (typeof Element !== "undefined") {
  Object.assign(Element.prototype, {
    hasPointerCapture: () => false,
    setPointerCapture: () => undefined,
    releasePointerCapture: () => undefined,
    scrollIntoView: () => undefined,
  });
  globalThis.ResizeObserver ??= class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
}

/** By day, whatever is asked of the screen. */
if (typeof window !== "undefined")
  window.matchMedia ??= () =>
    Object.assign(new EventTarget(), { matches: false }) as Partial<MediaQueryList> as MediaQueryList;

/** The editor asks where words stand; here they stand nowhere. */
if (typeof Range !== "undefined") {
  const nowhere = () => ({ x: 0, y: 0, top: 0, left: 0, right: 0, bottom: 0, width: 0, height: 0 }) as DOMRect;
  Object.assign(Range.prototype, { getClientRects: () => [], getBoundingClientRect: nowhere });
}
