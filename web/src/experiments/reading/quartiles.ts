/** The five figures of a box plot (Tukey 1977): whiskers end at the last value within 1.5 times the box from it. */
export interface Quartiles {
  readonly first: number;
  readonly median: number;
  readonly third: number;
  readonly whiskers: readonly [number, number];
}

/** The p-quantile of numbers in rising order, between two of them (Hyndman and Fan 1996, definition 7); NaN of none. */
export function quantileBetween(sorted: readonly number[], p: number): number {
  if (sorted.length === 0) return Number.NaN;
  const place = (sorted.length - 1) * p;
  const low = Math.floor(place);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low] + (place - low) * (sorted[high] - sorted[low]);
}

/** Quartiles between the order statistics (Hyndman and Fan 1996, definition 7), as spreadsheets have them. */
export function quartiles(values: readonly number[]): Quartiles {
  const sorted = [...values].sort((a, b) => a - b);
  const [first, median, third] = [0.25, 0.5, 0.75].map((p) => quantileBetween(sorted, p));
  const reach = 1.5 * (third - first);
  const within = sorted.filter((v) => v >= first - reach && v <= third + reach);
  return { first, median, third, whiskers: [Math.min(within[0], first), Math.max(within.at(-1)!, third)] };
}
