/** One dot a replication, the mean and its interval, on one scale. */
export function DotStrip({ values, mean, halfWidth, width = 170 }: { values: readonly number[]; mean: number; halfWidth: number; width?: number }) {
  const defined = values.filter(Number.isFinite);
  if (defined.length === 0) return null;
  const low = Math.min(...defined);
  const high = Math.max(...defined);
  const x = (v: number) => (high > low ? 6 + ((v - low) / (high - low)) * (width - 12) : width / 2);
  // Spread a little up and down, the same way at every drawing.
  const dots = defined.map((v, i) => `M${x(v).toFixed(1)} ${(9 + ((i * 7) % 9) - 4).toFixed(1)}h0`).join("");
  return (
    <svg width={width} height={18} aria-hidden className="block overflow-visible">
      <path d={dots} stroke="var(--color-soft)" strokeOpacity={0.55} strokeWidth={3} strokeLinecap="round" />
      {Number.isFinite(halfWidth) && halfWidth > 0 && <line x1={Math.max(0, x(mean - halfWidth))} x2={Math.min(width, x(mean + halfWidth))} y1={9} y2={9} stroke="var(--color-action)" strokeWidth={2} />}
      <circle cx={x(mean)} cy={9} r={3.5} fill="var(--color-action)" />
    </svg>
  );
}
