import { integrate, type Rule } from "../numeric/quadrature.ts";
import { solveRising } from "../numeric/solve.ts";
import { normalCdf } from "../random/normalCdf.ts";
import { deviations, NORMAL } from "./scaled.ts";

/** The chance that the range of `groups` standard normal variables is at most `w`. */
const rangeCdf = (w: number, groups: number): number =>
  groups * integrate(NORMAL, (z, i) => (NORMAL.below[i] - normalCdf(z - w)) ** (groups - 1));

const cdf = (q: number, groups: number, rule: Rule): number =>
  q <= 0
    ? 0
    : Math.min(
        1,
        integrate(rule, (s) => rangeCdf(q * s, groups)),
      );

/**
 * The chance that the studentized range of `groups` means is at most `q`, with `df` degrees of freedom of the
 * deviation (Tukey 1953; Hsu 1996, appendix D).
 */
export const studentizedRangeCdf = (q: number, groups: number, df: number): number => cdf(q, groups, deviations(df));

/** The value below which it lies with chance `p`. */
export function studentizedRangeQuantile(p: number, groups: number, df: number): number {
  const rule = deviations(df);
  return solveRising((q) => cdf(q, groups, rule), p, { low: 0, high: 4, tolerance: 1e-9 });
}
