import { useEffect, useRef } from "react";
import { drawSlot } from "../floor/symbols/slot.ts";
import { useTheme } from "../ui/theme.ts";

/** A slot in a state, as it stands on the floor. */
export function StateMark({ state }: { state: number }) {
  const ref = useRef<HTMLCanvasElement>(null);
  const shown = useTheme((s) => s.shown);
  useEffect(() => {
    const ctx = ref.current?.getContext("2d");
    if (!ctx) return;
    const ratio = window.devicePixelRatio || 1;
    ref.current!.width = 15 * ratio;
    ref.current!.height = 18 * ratio;
    ctx.setTransform(ratio, 0, 0, ratio, 7.5 * ratio, 9 * ratio);
    drawSlot(ctx, 0, state);
  }, [state, shown]);
  return <canvas ref={ref} className="inline-block align-middle" style={{ width: 15, height: 18 }} aria-hidden />;
}
