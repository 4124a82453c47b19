import { log10 } from "../numeric/elementary.ts";
import { type Dimension, dimensionSymbol, isNumber, LENGTH, RATE, sameDimension, SPEED, TIME } from "./dimension.ts";
import { findUnit } from "./units.ts";

/** The units a study shows its figures in. What is stored never depends on them. */
export interface DisplayUnits {
  readonly time: "s" | "min" | "h" | "d";
  readonly length: "m" | "ft" | "in";
}

const TIME_STEPS = ["s", "min", "h", "d"] as const;

/** The unit in which `dimension` is shown, and how many SI units one of it is. */
export function displayUnit(dimension: Dimension, units: DisplayUnits): { symbol: string; factor: number } {
  if (isNumber(dimension)) return { symbol: "", factor: 1 };
  const time = findUnit(units.time)!;
  const length = findUnit(units.length)!;
  if (sameDimension(dimension, TIME)) return time;
  if (sameDimension(dimension, LENGTH)) return length;
  if (sameDimension(dimension, RATE)) {
    const per = units.time === "s" || units.time === "min" ? "h" : units.time;
    return { symbol: `1/${per}`, factor: 1 / findUnit(per)!.factor };
  }
  if (sameDimension(dimension, SPEED)) return { symbol: `${units.length}/s`, factor: length.factor };
  return { symbol: dimensionSymbol(dimension), factor: 1 };
}

/**
 * A number for reading: `digits` significant digits, no exponent for everyday sizes, thousands kept apart by a thin
 * space.
 */
export function formatNumber(value: number, digits = 4): string {
  if (!Number.isFinite(value)) return "–";
  if (value === 0) return "0";
  const size = Math.floor(log10(Math.abs(value)));
  if (size >= 12 || size < -6) return value.toExponential(digits - 1);
  const decimals = Math.max(0, digits - 1 - size);
  const text = value.toFixed(Math.min(decimals, 12));
  const [whole, fraction] = text.split(".");
  const grouped = whole.length > 5 ? whole.replace(/\B(?=(\d{3})+(?!\d))/g, "\u2009") : whole;
  const kept = fraction?.replace(/0+$/, "");
  return (kept ? `${grouped}.${kept}` : grouped).replace("-", "−");
}

/** A quantity given in SI as text in display units: `formatQuantity(90, TIME, {time: "min", …})` is "1.5 min". */
export function formatQuantity(value: number, dimension: Dimension, units: DisplayUnits, digits = 4): string {
  const { symbol, factor } = displayUnit(dimension, units);
  const text = formatNumber(value / factor, digits);
  return symbol && text !== "–" ? `${text} ${symbol}` : text;
}

/** A duration in the unit that reads best: 42 s, 1.5 min, 2.25 h. */
export function formatDuration(seconds: number, digits = 4): string {
  const size = Math.abs(seconds);
  let step: (typeof TIME_STEPS)[number] = "s";
  for (const candidate of TIME_STEPS) if (size >= findUnit(candidate)!.factor) step = candidate;
  return `${formatNumber(seconds / findUnit(step)!.factor, digits)} ${step}`;
}

/**
 * Seconds from midnight of the first day as the clock on the wall shows them; after that day with the number of the
 * day: "day 3, 14:05:00".
 */
export function formatClock(wall: number): string {
  const total = Math.floor(wall + 1e-9);
  const pad = (n: number) => String(n).padStart(2, "0");
  const day = Math.floor(total / 86_400);
  return `${day > 0 ? `day ${day + 1}, ` : ""}${Math.floor(total / 3600) % 24}:${pad(Math.floor(total / 60) % 60)}:${pad(total % 60)}`;
}
