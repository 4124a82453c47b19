import { standardNormal } from "./standardNormal.ts";
import { exp } from "../numeric/elementary.ts";
import { normalCdf } from "./normalCdf.ts";

/** Deviations from the mean beyond which the share of a normal distribution is no number any more. */
const FARTHEST = 37;

/** What is wrong with the bounds, if anything; either may be undefined. */
export function boundsProblem(
  mean: number,
  sd: number,
  low: number | undefined,
  high: number | undefined,
): string | undefined {
  if (low !== undefined && high !== undefined && low >= high) return "the lowest value must be below the highest.";
  const far =
    (low !== undefined && (low - mean) / sd > FARTHEST) || (high !== undefined && (mean - high) / sd > FARTHEST);
  return far
    ? `the bounds must not both lie more than ${FARTHEST} standard deviations to one side of the mean, where nothing is left to draw from.`
    : undefined;
}

/**
 * The quantile of a normal distribution of which only what lies between two bounds is left; NaN for a bound that is
 * not.
 */
export function truncatedNormalQuantile(u: number, mean: number, sd: number, low: number, high: number): number {
  const a = Number.isNaN(low) ? -Infinity : (low - mean) / sd;
  const b = Number.isNaN(high) ? Infinity : (high - mean) / sd;
  const z = a > 0 ? -below(1 - u, -b, -a) : below(u, a, b);
  const value = mean + sd * z;
  return value < low ? low : value > high ? high : value;
}

/** For bounds that do not both lie above the mean: shares below are exact there. */
function below(u: number, a: number, b: number): number {
  const from = a === -Infinity ? 0 : normalCdf(a);
  const to = b === Infinity ? 1 : normalCdf(b);
  return standardNormal(from + u * (to - from));
}

const PANELS = 4000;

/** Mean and variance, by integrating over what of the interval is not negligible beside its densest point. */
export function truncatedNormalMoments(
  mean: number,
  sd: number,
  low: number | undefined,
  high: number | undefined,
): { readonly mean: number; readonly variance: number } {
  const a = low === undefined ? -Infinity : (low - mean) / sd;
  const b = high === undefined ? Infinity : (high - mean) / sd;
  const densest = Math.min(Math.max(0, a), b);
  // Where the exponent has fallen by 50: from there on the density is below 1e-21 of the largest.
  const reach = Math.sqrt(densest * densest + 100) - Math.abs(densest);
  const from = Math.max(a, densest - (densest >= b ? reach : 10));
  const to = Math.min(b, densest + (densest <= a ? reach : 10));
  let [total, first, second] = [0, 0, 0];
  // Simpson's rule, relative to the densest point, so that a narrow interval far out loses no digits.
  const step = (to - from) / PANELS;
  for (let i = 0; i <= PANELS; i++) {
    const z = from + i * step - densest;
    const weight = (i === 0 || i === PANELS ? 1 : i % 2 === 1 ? 4 : 2) * exp(-0.5 * z * (z + 2 * densest));
    total += weight;
    first += weight * z;
    second += weight * z * z;
  }
  const shift = first / total;
  return { mean: mean + sd * (densest + shift), variance: sd * sd * (second / total - shift * shift) };
}
