import { exp, ln } from "../numeric/elementary.ts";
import gammaln from "@stdlib/math-base-special-gammaln";
import { type Rule, ruleOf, weighted } from "../numeric/quadrature.ts";
import { normalCdf } from "../random/normalCdf.ts";

/** A standard normal variable: points with what their density makes them count for, and the distribution there. */
export const NORMAL: Rule & { readonly below: Float64Array } = (() => {
  const rule = weighted(ruleOf(-8.5, 8.5, 6), (z) => exp((-z * z) / 2) / Math.sqrt(2 * Math.PI));
  return { ...rule, below: rule.points.map(normalCdf) };
})();

/**
 * The standard deviation of a sample over that of its population, with `df` degrees of freedom (the square root of
 * chi-squared over df): what turns a probability of normal variables into one of variables whose deviation is
 * estimated.
 */
export function deviations(df: number): Rule {
  const constant = ln(2) + (df / 2) * ln(df / 2) - gammaln(df / 2);
  const density = (s: number) => exp(constant + (df - 1) * ln(s) - (df * s * s) / 2);
  // Ten deviations below, and fifteen above.
  const spread = 1 / Math.sqrt(2 * df);
  return weighted(ruleOf(Math.max(0, 1 - 10 * spread), 1 + 15 * spread, 8), density);
}
