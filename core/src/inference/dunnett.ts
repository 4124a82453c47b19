import { integrate } from "../numeric/quadrature.ts";
import { solveRising } from "../numeric/solve.ts";
import { normalCdf } from "../random/normalCdf.ts";
import { deviations, NORMAL } from "./scaled.ts";

/**
 * The one-sided value of Dunnett (1955) for `groups` groups, that of comparison included, at joint level `p`: that
 * which all of `groups` - 1 studentized differences to one group, each two of which correlate by 1/2, stay below with
 * chance `p`.
 */
export function dunnettOneSided(p: number, groups: number, df: number): number {
  if (groups < 2) return 0;
  const rule = deviations(df);
  const allBelow = (d: number) =>
    integrate(rule, (s) => integrate(NORMAL, (z) => normalCdf(z + Math.SQRT2 * d * s) ** (groups - 1)));
  return solveRising(allBelow, p, { low: -2, high: 4, tolerance: 1e-9 });
}
