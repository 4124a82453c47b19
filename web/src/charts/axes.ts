import { formatNumber } from "@busy-harbor/core";
import { roundWidth } from "@busy-harbor/core/kept";

/** How axes of charts are written. */
export const TICK = { fontSize: 11, fill: "var(--color-soft)" };
const WORDS = { fontSize: 11, fill: "var(--color-soft)" };

/** Words below an axis, and beside one. */
export const below = (value: string) => ({ value, position: "insideBottom", offset: -12, ...WORDS }) as const;
export const beside = (value: string) =>
  ({ value, position: "insideLeft", angle: -90, style: { textAnchor: "middle" }, ...WORDS }) as const;

/** What is drawn, with its unit where it has one. */
export const of = (what: string, unit: string) => (unit === "" ? what : `${what}, ${unit}`);

/** Some four to eight round numbers between two. */
export function roundTicks(low: number, high: number): number[] {
  if (!(high > low)) return [low];
  const width = roundWidth((high - low) / 7);
  const first = Math.ceil(low / width - 1e-9);
  return Array.from({ length: Math.floor(high / width + 1e-9) - first + 1 }, (_, i) =>
    Number(((first + i) * width).toPrecision(12)),
  );
}

/** Room for the ticks of an axis at the side, and for the words beside them. */
export const widthOf = (ticks: readonly number[]): number =>
  30 + 6.2 * Math.max(...ticks.map((v) => formatNumber(v).length));

/** Units for the time of a replication, by its length in seconds. */
const TIMES = [
  { symbol: "d", factor: 86_400, from: 3 * 86_400 },
  { symbol: "h", factor: 3600, from: 3 * 3600 },
  { symbol: "min", factor: 60, from: 180 },
  { symbol: "s", factor: 1, from: 0 },
];

export const timeUnit = (seconds: number): { readonly symbol: string; readonly factor: number } =>
  TIMES.find(({ from }) => seconds >= from) ?? TIMES[TIMES.length - 1];
