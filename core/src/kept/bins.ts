/** What bins are found by. */
interface Spread {
  readonly n: number;
  readonly least: number;
  readonly most: number;
  quantile(p: number): number;
}

/** Bins of equal width: where the first begins, how wide each is, and how many there are. */
export interface Bins {
  readonly start: number;
  readonly width: number;
  readonly count: number;
}

const MOST_BINS = 200;

/** Bins of a round width about that of Freedman and Diaconis (1981): twice the distance of the quartiles over ∛n. */
export function likelyBins(sample: Spread): Bins {
  const { n, least, most } = sample;
  if (!(most > least)) return { start: least - 0.5, width: 1, count: 1 };
  const quartiles = sample.quantile(0.75) - sample.quantile(0.25);
  const wanted = quartiles > 0 ? (2 * quartiles) / n ** (1 / 3) : (most - least) / 10;
  const width = roundWidth(Math.max(wanted, (most - least) / 60));
  const start = Math.floor(least / width) * width;
  return { start, width, count: Math.min(MOST_BINS, Math.floor((most - start) / width) + 1) };
}

/** The nearest of 1, 2 and 5 times a power of ten that is not smaller. */
export function roundWidth(width: number): number {
  let power = 1;
  while (power > width) power /= 10;
  while (power * 10 <= width) power *= 10;
  const factor = [1, 2, 5, 10].find((f) => f * power >= width * (1 - 1e-9))!;
  return Number((factor * power).toPrecision(12));
}

/** How many values lie in each bin, from its start to below its end, and how many lie outside of all. */
export function binned(
  { values }: { readonly values: Float64Array },
  { start, width, count }: Bins,
): { counts: number[]; outside: number } {
  const counts = new Array<number>(count).fill(0);
  let outside = 0;
  for (const v of values) {
    const at = Math.floor((v - start) / width);
    if (at >= 0 && at < count) counts[at] += 1;
    else outside += 1;
  }
  return { counts, outside };
}
