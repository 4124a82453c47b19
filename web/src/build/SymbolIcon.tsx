import { type ElementKindName, elementSchema, kindOf, UNIT } from "@busy-harbor/core";
import { useEffect, useRef } from "react";
import { drawSymbol, extentOf } from "../floor/symbols/index.ts";

const SIZE = 40;

/** An element's symbol as it stands on the floor, small. */
export function SymbolIcon({ kind }: { kind: ElementKindName }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const ctx = ref.current?.getContext("2d");
    if (!ctx) return;
    const ratio = window.devicePixelRatio || 1;
    ref.current!.width = SIZE * ratio;
    ref.current!.height = SIZE * ratio;
    const { label, units } = kindOf({ kind });
    const element = elementSchema.parse({
      kind,
      id: kind,
      name: label,
      at: [0, 0],
      ...(units === undefined ? {} : { [units]: "2" }),
    });
    const { w, h } = extentOf(element);
    const k = Math.min(1, (SIZE - 6) / (2 * Math.max(w, h))) * ratio;
    ctx.setTransform(k, 0, 0, k, (SIZE / 2) * ratio, (SIZE / 2) * ratio);
    ctx.clearRect(-SIZE, -SIZE, 2 * SIZE, 2 * SIZE);
    drawSymbol(ctx, element, { slots: [UNIT.busy, UNIT.idle] });
  }, [kind]);
  return <canvas ref={ref} style={{ width: SIZE, height: SIZE }} aria-hidden />;
}
