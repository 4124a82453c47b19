import type { Interval as Figures } from "@busy-harbor/core";

/** A mean with its interval on an axis that rows share. */
export function Interval({
  interval,
  axis: [low, high],
  at,
  marked,
  width,
}: {
  interval: Figures | undefined;
  /** Its ends, in the unit of the interval. */
  axis: readonly [number, number];
  /** A value to see it against. */
  at?: number;
  marked: boolean;
  width: number;
}) {
  if (!interval || !Number.isFinite(interval.mean)) return null;
  const x = (v: number) => (high > low ? 6 + ((v - low) / (high - low)) * (width - 12) : width / 2);
  const half = Number.isFinite(interval.halfWidth) ? interval.halfWidth : 0;
  const colour = marked ? "var(--color-action)" : "var(--color-soft)";
  return (
    <svg width={width} height={18} aria-hidden className="inline-block align-middle">
      {at !== undefined && (
        <line x1={x(at)} x2={x(at)} y1={0} y2={18} stroke="var(--color-buoy)" strokeDasharray="2 2" />
      )}
      <line x1={0} x2={width} y1={9} y2={9} stroke="var(--color-line)" />
      <line x1={x(interval.mean - half)} x2={x(interval.mean + half)} y1={9} y2={9} stroke={colour} strokeWidth={3} />
      <circle
        cx={x(interval.mean)}
        cy={9}
        r={4.5}
        fill={marked ? colour : "var(--color-sheet)"}
        stroke={colour}
        strokeWidth={2}
      />
    </svg>
  );
}
