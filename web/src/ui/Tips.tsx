import { autoUpdate, flip, offset, shift, useFloating } from "@floating-ui/react-dom";
import { useEffect, useId, useState } from "react";
import { createPortal } from "react-dom";

/** Milliseconds for which one stays on a thing before its tip comes. */
const WAIT = 450;
/** What has a tip, its own words where that is empty; with the other, only while its own words are cut off. */
const HAS_TIP = "[data-tip]";
const CUT_ONLY = "data-tip-cut";

/**
 * Tips of all things that have one (`data-tip`): shown while the pointer stays on them, or the keys have come to them.
 * One for the whole page, as a table or a card has hundreds of things that do. It is no layer of its own: Escape goes
 * to what is open under it.
 */
export function Tips() {
  const id = useId();
  const [tip, setTip] = useState<{ readonly of: Element; readonly words: string }>();
  const { refs, floatingStyles } = useFloating({
    elements: { reference: tip?.of },
    placement: "bottom",
    strategy: "fixed",
    middleware: [offset(6), flip({ padding: 8 }), shift({ padding: 8 })],
    whileElementsMounted: autoUpdate,
  });

  useEffect(() => {
    let near: Element | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const leave = () => {
      clearTimeout(timer);
      near = null;
      setTip(undefined);
    };
    const come = (of: Element | null) => {
      if (of === near) return;
      leave();
      near = of;
      if (of) timer = setTimeout(() => show(of), WAIT);
    };
    const show = (of: Element) => {
      const words = of.getAttribute("data-tip") || of.textContent;
      const isCut = !of.hasAttribute(CUT_ONLY) || of.scrollWidth > of.clientWidth;
      if (!words || !isCut || !of.isConnected) return;
      setTip({ of, words });
    };
    const owner = (target: EventTarget | null) => (target instanceof Element ? target.closest(HAS_TIP) : null);
    const over = (event: PointerEvent) => event.pointerType !== "touch" && come(owner(event.target));
    const focused = (event: FocusEvent) => {
      const of = owner(event.target);
      if (of === event.target && of?.matches(":focus-visible")) come(of);
    };
    const events = [
      ["pointerover", over],
      ["focusin", focused],
      ["focusout", leave],
      ["pointerdown", leave],
      ["keydown", leave],
      ["wheel", leave],
    ] as const;
    for (const [name, listener] of events) document.addEventListener(name, listener as EventListener, true);
    return () => {
      clearTimeout(timer);
      for (const [name, listener] of events) document.removeEventListener(name, listener as EventListener, true);
    };
  }, []);

  // What it says describes the thing, while it is there.
  useEffect(() => {
    if (!tip) return;
    const before = tip.of.getAttribute("aria-describedby");
    tip.of.setAttribute("aria-describedby", before ? `${before} ${id}` : id);
    return () => {
      if (before) tip.of.setAttribute("aria-describedby", before);
      else tip.of.removeAttribute("aria-describedby");
    };
  }, [tip, id]);

  if (!tip) return null;
  return createPortal(
    <div
      ref={refs.setFloating}
      id={id}
      role="tooltip"
      style={floatingStyles}
      className="panel float pointer-events-none z-[70] w-max max-w-80 px-2.5 py-1.5 text-xs break-words"
    >
      {tip.words}
    </div>,
    document.body,
  );
}
