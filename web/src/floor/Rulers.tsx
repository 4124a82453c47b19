import { findUnit, type Study } from "@busy-harbor/core";
import { roundStep } from "./view.ts";
import { useView } from "./viewStore.ts";

/** Least distance between numbered marks. */
const LEAST_PIXELS = 56;
const WIDTH = 20;

/** Rulers along the top and the left edge of the floor, in the study's unit of length. */
export function Rulers({ units }: { units: Study["units"] }) {
  const { view, size } = useView();
  if (size.width === 0) return null;
  const factor = findUnit(units.length)!.factor;
  const step = roundStep(factor * view.scale, LEAST_PIXELS);
  const pixels = step * factor * view.scale;
  const marks = (middle: number, length: number) => {
    const first = middle - length / 2 / view.scale;
    const from = Math.ceil(first / (step * factor));
    return Array.from(
      { length: Math.floor((length - (from * step * factor - first) * view.scale) / pixels) + 1 },
      (_, i) => ({
        at: (from + i) * step * factor * view.scale - first * view.scale,
        label: String(Number(((from + i) * step).toPrecision(6))),
      }),
    );
  };
  const across = marks(view.x, size.width).filter((m) => m.at > WIDTH);
  const down = marks(view.y, size.height).filter((m) => m.at > WIDTH);
  return (
    <div aria-hidden className="pointer-events-none absolute inset-0 text-soft" data-testid="rulers">
      <svg className="absolute top-0 left-0" width={size.width} height={WIDTH}>
        <rect width={size.width} height={WIDTH} className="fill-sheet/85" />
        {across.map(({ at, label }) => (
          <g key={label} transform={`translate(${at} 0)`}>
            <line y1={13} y2={WIDTH} stroke="currentColor" />
            <line x1={pixels / 2} x2={pixels / 2} y1={16} y2={WIDTH} stroke="currentColor" opacity={0.6} />
            <text x={3} y={12} fontSize={12} fill="currentColor">
              {label}
            </text>
          </g>
        ))}
      </svg>
      <svg className="absolute left-0" style={{ top: WIDTH }} width={WIDTH} height={size.height - WIDTH}>
        <rect width={WIDTH} height={size.height} className="fill-sheet/85" />
        {down.map(({ at, label }) => (
          <g key={label} transform={`translate(0 ${at - WIDTH})`}>
            <line x1={13} x2={WIDTH} stroke="currentColor" />
            <line x1={16} x2={WIDTH} y1={pixels / 2} y2={pixels / 2} stroke="currentColor" opacity={0.6} />
            <text x={12} y={-3} fontSize={12} fill="currentColor" textAnchor="start" transform="rotate(-90 12 -3)">
              {label}
            </text>
          </g>
        ))}
      </svg>
      <span className="absolute top-0 left-0 flex h-5 w-5 items-center justify-center bg-sheet text-xs">
        {units.length}
      </span>
    </div>
  );
}
