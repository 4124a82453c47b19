import { type Checked, dimensionSymbol, formatDuration, formatNumber, isNumber } from "@busy-harbor/core";

/** What a checked setting yields, for the line under it. */
export function sampleOf(checked: Checked | undefined): string | undefined {
  if (!checked || checked.type.kind !== "number" || !checked.draws || checked.mean === undefined) return undefined;
  if (isNumber(checked.type.dimension)) return `mean ${formatNumber(checked.mean)}`;
  const symbol = dimensionSymbol(checked.type.dimension);
  return `mean ${symbol === "s" ? formatDuration(checked.mean, 3) : `${formatNumber(checked.mean)} ${symbol}`}`;
}
