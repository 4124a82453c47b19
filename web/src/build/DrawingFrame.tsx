import type { Drawing, Point, Study } from "@busy-harbor/core";
import type Konva from "konva";
import { useRef } from "react";
import { Rect } from "../floor/stage/konva.ts";
import { changeDrawing } from "../drawings/drawingStore.ts";
import { Handle } from "../floor/stage/Handle.tsx";
import { TurnAndResize } from "../floor/stage/TurnAndResize.tsx";
import type { Scene } from "../floor/scene.ts";
import { toScreen } from "../floor/view.ts";
import { useShownDrawing } from "./useShownDrawing.ts";

/** The grip and the handles by which the background drawing at hand is moved, turned and resized. */
export function DrawingFrame({ study, scene }: { study: Study; scene: Scene }) {
  const shown = useShownDrawing(study);
  if (!shown || shown.drawing.locked || shown.picking) return null;
  return <Frame {...shown} scene={scene} />;
}

function Frame({
  drawing,
  info,
  scene,
}: {
  drawing: Drawing;
  info: { readonly width: number; readonly height: number };
  scene: Scene;
}) {
  const frame = useRef<Konva.Rect>(null);
  const turns = useRef(0);
  const { view, size } = scene;
  const [x, y] = toScreen(view, size, drawing.at);
  const pixels = drawing.metresPerUnit * view.scale;
  const { id } = drawing;
  return (
    <>
      <Rect
        ref={frame}
        listening={false}
        x={x}
        y={y}
        width={info.width * pixels}
        height={info.height * pixels}
        offsetX={(info.width * pixels) / 2}
        offsetY={(info.height * pixels) / 2}
        rotation={drawing.rotation}
      />
      <TurnAndResize
        of={frame}
        changed={`${x} ${y} ${pixels} ${drawing.rotation}`}
        onStart={() => (turns.current += 1)}
        onChange={(node) => {
          const factor = node.scaleX();
          const rotation = roundTo(node.rotation(), 0.1);
          const at: Point = [drawing.at[0] + (node.x() - x) / view.scale, drawing.at[1] + (node.y() - y) / view.scale];
          changeDrawing(
            id,
            "Turn or resize drawing",
            (d) => {
              d.rotation = rotation;
              // Turning alone leaves the scale as it is, to the last bit.
              if (Math.abs(factor - 1) > 1e-9) d.metresPerUnit = Math.min(1e6, d.metresPerUnit * factor);
              d.at = [roundTo(at[0], 0.001), roundTo(at[1], 0.001)];
            },
            `turn-${turns.current}`,
          );
        }}
      />
      <Handle at={[x, y]} of={{ kind: "drawing", id }} grab={12} />
    </>
  );
}

const roundTo = (value: number, step: number) => Number((Math.round(value / step) * step).toFixed(6));
