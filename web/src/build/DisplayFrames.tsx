import type { Display, Point } from "@busy-harbor/core";
import type Konva from "konva";
import { useRef } from "react";
import { Rect } from "../floor/stage/konva.ts";
import { changeDisplay } from "../displays/displayStore.ts";
import { useFaceSizes } from "../displays/faceSizes.ts";
import { sizeOf, turnAndResize } from "../displays/size.ts";
import type { Scene } from "../floor/scene.ts";
import { DISPLAY } from "../floor/stage/nodeNames.ts";
import { TurnAndResize } from "../floor/stage/TurnAndResize.tsx";
import { toScreen } from "../floor/view.ts";
import { useShownId } from "../state/shown.ts";
import { useStudy } from "../state/study.ts";

/** Where displays are on the stage, by which they are grabbed; the one at hand has handles to turn and resize it. */
export function DisplayFrames({ scene }: { scene: Scene }) {
  const isAlone = useStudy((s) => s.selection.length === 0);
  const shown = useShownId("display");
  return scene.design.displays.map((display) => (
    <Frame key={display.id} display={display} scene={scene} isShown={isAlone && display.id === shown} />
  ));
}

function Frame({ display, scene, isShown }: { display: Display; scene: Scene; isShown: boolean }) {
  const frame = useRef<Konva.Rect>(null);
  const turns = useRef(0);
  const face = useFaceSizes((s) => s[display.id]);
  if (!face) return null;
  const { view } = scene;
  const [x, y] = toScreen(view, scene.size, display.at);
  const large = sizeOf(display, view.scale);
  const [width, height] = [face.width * large, face.height * large];
  return (
    <>
      <Rect
        ref={frame}
        name={DISPLAY}
        id={display.id}
        x={x}
        y={y}
        width={width}
        height={height}
        rotation={display.rotation}
        // Seen by the pointer alone.
        fill="transparent"
        perfectDrawEnabled={false}
      />
      {isShown && (
        <TurnAndResize
          of={frame}
          changed={`${x} ${y} ${width} ${height} ${display.rotation}`}
          onStart={() => (turns.current += 1)}
          onChange={(node) => {
            const by: Point = [(node.x() - x) / view.scale, (node.y() - y) / view.scale];
            const resized = turnAndResize(display, node.scaleX(), node.rotation(), by);
            if (resized)
              changeDisplay(
                display.id,
                "Turn or resize display",
                (d) => void Object.assign(d, resized),
                `turn-${turns.current}`,
              );
          }}
        />
      )}
    </>
  );
}
