import type { Study } from "@busy-harbor/core";
import { findUnit } from "@busy-harbor/core";
import { Maximize, Minus, Plus } from "lucide-react";
import { useView } from "./viewStore.ts";
import { roundStep, zoomAt } from "./view.ts";

/** Least width of a part of the bar. */
const LEAST_PIXELS = 32;

/** Scale bar in the study's unit of length, and buttons to zoom and fit. */
export function ScaleBar({ units, onFit }: { units: Study["units"]; onFit: () => void }) {
  const { view, size, setView } = useView();
  const factor = findUnit(units.length)!.factor;
  const step = roundStep(factor * view.scale, LEAST_PIXELS);
  const part = step * factor * view.scale;
  const zoom = (by: number) => setView(zoomAt(view, size, [size.width / 2, size.height / 2], by));
  const marks = [0, step, 2 * step, 4 * step];
  return (
    <div className="flex items-end gap-4" data-testid="scale">
      <svg
        width={part * 4 + 40}
        height={26}
        role="img"
        aria-label={`Scale bar: ${4 * step} ${units.length}`}
        className="overflow-visible rounded-md bg-paper/80"
      >
        {marks.map((m, i) => (
          <text
            key={m}
            x={(m / step) * part + 4}
            y={11}
            textAnchor={i === 0 ? "start" : "middle"}
            fontSize={12}
            fill="currentColor"
          >
            {Number(m.toPrecision(3))}
            {i === 3 ? ` ${units.length}` : ""}
          </text>
        ))}
        <rect x={4} y={16} width={part * 4} height={5} fill="none" stroke="currentColor" />
        <rect x={4} y={16} width={part} height={5} fill="currentColor" />
        <rect x={4 + part * 2} y={16} width={part * 2} height={5} fill="currentColor" />
      </svg>
      <div className="panel flex">
        <button className="p-1.5" aria-label="Zoom out (-)" data-tip="Zoom out (-)" onClick={() => zoom(1 / 1.25)}>
          <Minus size={14} />
        </button>
        <button className="p-1.5" aria-label="Zoom in (+)" data-tip="Zoom in (+)" onClick={() => zoom(1.25)}>
          <Plus size={14} />
        </button>
        <button className="p-1.5" aria-label="Fit all (F)" data-tip="Fit all (F)" onClick={onFit}>
          <Maximize size={14} />
        </button>
      </div>
    </div>
  );
}
