import type { Interval } from "@busy-harbor/core";
import { memo } from "react";

/** Most dots drawn; of more values every so-manieth is taken. */
const MOST_DOTS = 120;

/**
 * One dot a replication, the mean and its interval, on one scale from the least to the most. `values` are in SI
 * units, `interval` in the unit shown.
 */
export const DotStrip = memo(function DotStrip({
  values,
  factor,
  interval: { mean, halfWidth, min, max },
  width = 170,
}: {
  values: readonly number[] | undefined;
  factor: number;
  interval: Interval;
  width?: number;
}) {
  if (!Number.isFinite(mean)) return null;
  const x = (v: number) => (max > min ? 6 + ((v - min) / (max - min)) * (width - 12) : width / 2);
  const count = values?.length ?? 0;
  const step = Math.max(1, Math.ceil(count / MOST_DOTS));
  let dots = "";
  for (let i = 0; values && i < count; i += step) {
    const value = values[i] / factor;
    // Spread a little up and down, the same way at every drawing.
    if (Number.isFinite(value))
      dots += `M${x(Math.min(max, Math.max(min, value))).toFixed(1)} ${9 + ((i * 7) % 9) - 4}h0`;
  }
  return (
    <svg width={width} height={18} aria-hidden className="block overflow-visible">
      <path d={dots} stroke="var(--color-soft)" strokeOpacity={0.55} strokeWidth={3} strokeLinecap="round" />
      {Number.isFinite(halfWidth) && halfWidth > 0 && (
        <line
          x1={Math.max(0, x(mean - halfWidth))}
          x2={Math.min(width, x(mean + halfWidth))}
          y1={9}
          y2={9}
          stroke="var(--color-action)"
          strokeWidth={2}
        />
      )}
      <circle cx={x(mean)} cy={9} r={3.5} fill="var(--color-action)" />
    </svg>
  );
});
