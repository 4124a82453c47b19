import { type RefObject, useEffect, useRef } from "react";
import { useView } from "./viewStore.ts";
import { panBy, zoomAt } from "./view.ts";

/**
 * A canvas that fills its place at the screen's full resolution, redraws when
 * `draw` changes, and zooms and pans by wheel and touch pad.
 */
export function useCanvas(
  draw: ((ctx: CanvasRenderingContext2D) => void) | undefined,
): RefObject<HTMLCanvasElement | null> {
  const ref = useRef<HTMLCanvasElement>(null);
  const latest = useRef(draw);

  useEffect(() => {
    const canvas = ref.current!;
    const observer = new ResizeObserver(() => {
      const { clientWidth: width, clientHeight: height } = canvas;
      const ratio = window.devicePixelRatio || 1;
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
      useView.getState().setSize({ width, height });
      paint(canvas, latest.current);
    });
    observer.observe(canvas);
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const { view, size, setView } = useView.getState();
      const box = canvas.getBoundingClientRect();
      const sideways = event.shiftKey && event.deltaX === 0 ? event.deltaY : event.deltaX;
      if (event.shiftKey || (Math.abs(event.deltaX) > 0 && !event.ctrlKey))
        setView(panBy(view, -sideways, event.shiftKey ? 0 : -event.deltaY));
      else
        setView(
          zoomAt(
            view,
            size,
            [event.clientX - box.left, event.clientY - box.top],
            Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015)),
          ),
        );
    };
    canvas.addEventListener("wheel", wheel, { passive: false });
    return () => {
      observer.disconnect();
      // The next floor has a size of its own, and is fitted only once that is known.
      useView.getState().setSize({ width: 0, height: 0 });
      canvas.removeEventListener("wheel", wheel);
    };
  }, []);

  useEffect(() => {
    latest.current = draw;
    const frame = requestAnimationFrame(() => ref.current && paint(ref.current, draw));
    return () => cancelAnimationFrame(frame);
  }, [draw]);

  return ref;
}

function paint(canvas: HTMLCanvasElement, draw: ((ctx: CanvasRenderingContext2D) => void) | undefined): void {
  const ctx = canvas.getContext("2d");
  if (!ctx || !draw || canvas.width === 0) return;
  const ratio = canvas.width / canvas.clientWidth;
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  draw(ctx);
}
