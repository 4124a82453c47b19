import type { Interval } from "@busy-harbor/core";

/** Most dots drawn; of more values every so-manieth is taken. */
const MOST_DOTS = 400;

/** One dot a replication, the mean and its interval, on one scale from the least to the most. */
export function DotStrip({ values, interval: { mean, halfWidth, min, max }, width = 170 }: { values: readonly number[]; interval: Interval; width?: number }) {
  if (!Number.isFinite(mean)) return null;
  const x = (v: number) => (max > min ? 6 + ((v - min) / (max - min)) * (width - 12) : width / 2);
  const step = Math.ceil(values.length / MOST_DOTS);
  // Spread a little up and down, the same way at every drawing.
  const dots = values.map((v, i) => (i % step === 0 && Number.isFinite(v) ? `M${x(Math.min(max, Math.max(min, v))).toFixed(1)} ${(9 + ((i * 7) % 9) - 4).toFixed(1)}h0` : "")).join("");
  return (
    <svg width={width} height={18} aria-hidden className="block overflow-visible">
      <path d={dots} stroke="var(--color-soft)" strokeOpacity={0.55} strokeWidth={3} strokeLinecap="round" />
      {Number.isFinite(halfWidth) && halfWidth > 0 && <line x1={Math.max(0, x(mean - halfWidth))} x2={Math.min(width, x(mean + halfWidth))} y1={9} y2={9} stroke="var(--color-action)" strokeWidth={2} />}
      <circle cx={x(mean)} cy={9} r={3.5} fill="var(--color-action)" />
    </svg>
  );
}
