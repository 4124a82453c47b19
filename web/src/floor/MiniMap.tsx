import type { Design, PlanShape } from "@busy-harbor/core";
import { type PointerEvent, useEffect, useMemo, useRef } from "react";
import { COLOURS } from "./colours.ts";
import { fit, toFloor, toScreen } from "./view.ts";
import { extentPoints, useView } from "./viewStore.ts";

const SIZE = { width: 184, height: 116 };
const INSETS = { top: 6, right: 6, bottom: 6, left: 6 };

/** The whole plan in small, with the part in view as a frame that can be dragged; shown while parts lie out of view. */
export function MiniMap({ design, plan }: { design: Design; plan: readonly PlanShape[] }) {
  const { view, size, setView } = useView();
  const ref = useRef<HTMLCanvasElement>(null);
  const points = useMemo(() => extentPoints(design, plan), [design, plan]);
  const map = useMemo(() => fit(points, SIZE, INSETS), [points]);
  const hidden = points.some((p) => {
    const [x, y] = toScreen(view, size, p);
    return x < 0 || y < 0 || x > size.width || y > size.height;
  });

  useEffect(() => {
    const canvas = ref.current;
    const ctx = canvas?.getContext("2d");
    if (!canvas || !ctx) return;
    const ratio = window.devicePixelRatio || 1;
    canvas.width = SIZE.width * ratio;
    canvas.height = SIZE.height * ratio;
    ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
    ctx.strokeStyle = COLOURS.wall;
    ctx.lineWidth = 1;
    for (const shape of plan) {
      if (shape.shape !== "wall") continue;
      ctx.beginPath();
      shape.points.forEach((p) => ctx.lineTo(...toScreen(map, SIZE, p)));
      ctx.stroke();
    }
    ctx.fillStyle = COLOURS.ink;
    for (const element of design.elements) {
      const [x, y] = toScreen(map, SIZE, element.at);
      ctx.fillRect(x - 1.5, y - 1.5, 3, 3);
    }
    const [x0, y0] = toScreen(map, SIZE, toFloor(view, size, [0, 0]));
    const [x1, y1] = toScreen(map, SIZE, toFloor(view, size, [size.width, size.height]));
    ctx.strokeStyle = COLOURS.action;
    ctx.lineWidth = 1.5;
    ctx.strokeRect(x0, y0, x1 - x0, y1 - y0);
  }, [design, plan, map, view, size, hidden]);

  if (!hidden) return null;
  const go = (event: PointerEvent) => {
    if (event.buttons !== 1) return;
    const box = ref.current!.getBoundingClientRect();
    const [x, y] = toFloor(map, SIZE, [event.clientX - box.left, event.clientY - box.top]);
    setView({ ...view, x, y });
  };
  return (
    <canvas
      ref={ref}
      role="img"
      aria-label="The whole plan in small; the frame is what is in view"
      data-testid="minimap"
      className="panel touch-none cursor-pointer"
      style={SIZE}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        go(event);
      }}
      onPointerMove={go}
    />
  );
}
