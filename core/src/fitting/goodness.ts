import { ln } from "../numeric/elementary.ts";
import type { Candidate } from "./candidates.ts";
import type { Sample } from "./sample.ts";

/** How far a sample is from a distribution, by three measures; the larger, the farther. */
export interface Goodness {
  /** Kolmogorov and Smirnov: the largest distance of the distribution functions. */
  readonly ks: number;
  /** Anderson and Darling (1954): squared distances, weighed so that tails count. */
  readonly andersonDarling: number;
  /** Pearson's: over bins that are equally likely. */
  readonly chiSquare: number;
}

/** The least logarithm that is taken: of a value that the distribution can hardly yield. */
const LEAST = 1e-300;

/**
 * Bins that are equally likely under the fitted distribution: about 2 n^0.4 of them (Mann and Wald 1942, as halved by
 * Schorr 1974), with at least five values to be expected in each.
 */
export const binsOf = (n: number): number => Math.max(2, Math.min(Math.floor(n / 5), Math.round(2 * n ** 0.4), 60));

export function goodnessOf(sample: Sample, candidate: Candidate, p: readonly number[], bins: number): Goodness {
  const { sorted, n } = sample;
  const counts = new Float64Array(bins);
  const [below, above] = [new Float64Array(n), new Float64Array(n)];
  let ks = 0;
  for (let i = 0; i < n; i++) {
    const u = candidate.below(sorted[i], p);
    below[i] = u;
    // Near 1 the other tail has the digits.
    above[i] = u > 0.5 ? candidate.above(sorted[i], p) : 1 - u;
    ks = Math.max(ks, (i + 1) / n - u, u - i / n);
    counts[Math.min(bins - 1, Math.floor(u * bins))] += 1;
  }
  let weighed = 0;
  for (let i = 0; i < n; i++)
    weighed += (2 * i + 1) * (ln(Math.max(LEAST, below[i])) + ln(Math.max(LEAST, above[n - 1 - i])));
  const expected = n / bins;
  let chiSquare = 0;
  for (const count of counts) chiSquare += (count - expected) ** 2 / expected;
  return { ks, andersonDarling: -n - weighed / n, chiSquare };
}
