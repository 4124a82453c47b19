/** The chart's compass rose; the plan's up is north. */
export function CompassRose() {
  return (
    <svg width={50} height={64} viewBox="-25 -36 50 64" aria-hidden className="pointer-events-none text-ink">
      <text y={-26} textAnchor="middle" fontSize={10} fill="currentColor">
        N
      </text>
      <circle r={20} fill="none" stroke="currentColor" strokeWidth={0.8} />
      <circle r={16} fill="none" stroke="currentColor" strokeWidth={0.4} strokeDasharray="1 2.14" />
      <path
        d="M0-22 4-4 22 0 4 4 0 22-4 4-22 0-4-4Z"
        fill="var(--color-sheet)"
        stroke="currentColor"
        strokeWidth={0.8}
      />
      <path d="M0-22 4-4 0 0ZM22 0 4 4 0 0ZM0 22-4 4 0 0ZM-22 0-4-4 0 0Z" fill="currentColor" />
    </svg>
  );
}
