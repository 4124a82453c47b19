import { formatNumber, type PairedComparison } from "@busy-harbor/core";

const WIDTH = 190;

/** The interval of a difference around 0, with a dot for each pair of replications. */
export function DifferencePlot({ comparison, factor }: { comparison: PairedComparison; factor: number }) {
  const { differences, difference, low, high, tellsApart } = comparison;
  const reach = Math.max(...differences.map(Math.abs), Math.abs(low), Math.abs(high)) || 1;
  const x = (v: number) => WIDTH / 2 + (v / reach) * (WIDTH / 2 - 8);
  const dots = differences.map((d, i) => `M${x(d).toFixed(1)} ${12 + ((i * 7) % 11) - 5}h0`).join("");
  const colour = tellsApart ? "var(--color-action)" : "var(--color-soft)";
  return (
    <svg
      width={WIDTH}
      height={38}
      role="img"
      aria-label={`${formatNumber(difference.mean / factor, 3)}, from ${formatNumber(low / factor, 3)} to ${formatNumber(high / factor, 3)}`}
    >
      <line x1={WIDTH / 2} x2={WIDTH / 2} y1={0} y2={24} stroke="var(--color-buoy)" strokeDasharray="2 2" />
      <path d={dots} stroke="var(--color-soft)" strokeOpacity={0.4} strokeWidth={2.6} strokeLinecap="round" />
      <line x1={x(low)} x2={x(high)} y1={12} y2={12} stroke={colour} strokeWidth={2.5} />
      <circle cx={x(difference.mean)} cy={12} r={4} fill={colour} />
      <text x={WIDTH / 2} y={35} textAnchor="middle" fontSize={12} fill="var(--color-ink)">
        {formatNumber(difference.mean / factor, 3)} ± {formatNumber(difference.halfWidth / factor, 2)}
      </text>
    </svg>
  );
}
