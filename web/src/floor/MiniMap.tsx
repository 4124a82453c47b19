import type { Design, PlanShape } from "@busy-harbor/core";
import type { KonvaEventObject } from "konva/lib/Node";
import { X } from "lucide-react";
import { useMemo } from "react";
import { Layer, Rect, Shape, Stage } from "./stage/konva.ts";
import { COLOURS } from "./colours.ts";
import type { Canvas } from "./symbols/shared.ts";
import { fit, toFloor, toScreen, type View } from "./view.ts";
import { extentPoints, useView } from "./viewStore.ts";

const SIZE = { width: 184, height: 116 };
const INSETS = { top: 6, right: 6, bottom: 6, left: 6 };

/** The whole plan in small, with the part in view as a frame that can be dragged; shown while parts lie out of view. */
export function MiniMap({
  design,
  plan,
  onPutAway,
}: {
  design: Design;
  plan: readonly PlanShape[];
  onPutAway: () => void;
}) {
  const { view, size, setView } = useView();
  const points = useMemo(() => extentPoints(design, plan), [design, plan]);
  const map = useMemo(() => fit(points, SIZE, INSETS), [points]);
  const hidden = points.some((p) => {
    const [x, y] = toScreen(view, size, p);
    return x < 0 || y < 0 || x > size.width || y > size.height;
  });

  if (!hidden) return null;
  const [x0, y0] = toScreen(map, SIZE, toFloor(view, size, [0, 0]));
  const [x1, y1] = toScreen(map, SIZE, toFloor(view, size, [size.width, size.height]));
  const go = ({ evt, target }: KonvaEventObject<PointerEvent>) => {
    const at = target.getStage()?.getPointerPosition();
    if (evt.buttons !== 1 || !at) return;
    const [x, y] = toFloor(map, SIZE, [at.x, at.y]);
    setView({ ...view, x, y });
  };
  return (
    <div data-testid="minimap" className="panel relative overflow-hidden" style={SIZE}>
      <div
        role="img"
        aria-label="The whole plan in small; the frame is what is in view"
        className="touch-none cursor-pointer"
      >
        <Stage {...SIZE} onPointerDown={go} onPointerMove={go}>
          <Layer listening={false}>
            <Shape sceneFunc={({ _context: ctx }) => drawAll(ctx, design, plan, map)} />
            <Rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} stroke={COLOURS.action} strokeWidth={1.5} />
          </Layer>
        </Stage>
      </div>
      <button
        className="absolute top-0.5 right-0.5 rounded bg-sheet/80 p-0.5 text-soft hover:text-ink"
        aria-label="Put the small map away"
        data-tip="Put the small map away"
        onClick={onPutAway}
      >
        <X size={13} />
      </button>
    </div>
  );
}

/** Walls as lines, elements as dots. */
function drawAll(ctx: Canvas, design: Design, plan: readonly PlanShape[], map: View): void {
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
}
