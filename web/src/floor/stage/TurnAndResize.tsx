import type Konva from "konva";
import { type RefObject, useEffect, useRef } from "react";
import { Transformer } from "./konva.ts";
import { COLOURS } from "../colours.ts";

/** Degrees at which turning catches. */
const CATCHES = [0, 45, 90, 135, 180, 225, 270, 315];

/** Handles at the corners of a node to resize it in proportion, and one above to turn it. */
export function TurnAndResize({
  of,
  changed,
  onStart,
  onChange,
}: {
  of: RefObject<Konva.Node | null>;
  /** Tells where the node is: when it changes, the handles follow. */
  changed: string;
  onStart: () => void;
  /** Reads how the node has been scaled, turned and moved; it is back at its own scale after. */
  onChange: (node: Konva.Node) => void;
}) {
  const handles = useRef<Konva.Transformer>(null);
  useEffect(() => {
    if (of.current) handles.current?.nodes([of.current]);
  }, [of]);
  useEffect(() => {
    handles.current?.forceUpdate();
  }, [changed]);
  return (
    <Transformer
      ref={handles}
      keepRatio
      flipEnabled={false}
      enabledAnchors={["top-left", "top-right", "bottom-left", "bottom-right"]}
      rotationSnaps={CATCHES}
      rotationSnapTolerance={3}
      anchorSize={9}
      anchorCornerRadius={5}
      anchorFill={COLOURS.sheet}
      anchorStroke={COLOURS.action}
      borderEnabled={false}
      onTransformStart={onStart}
      onTransform={() => {
        const node = of.current;
        if (!node) return;
        onChange(node);
        node.scale({ x: 1, y: 1 });
      }}
    />
  );
}
