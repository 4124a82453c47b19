import betainc from "@stdlib/math-base-special-betainc";
import betaQuantile from "@stdlib/stats-base-dists-beta-quantile";

/** The chance that |T| exceeds |t|, for Student's t with `df` degrees of freedom. */
export const tTwoSided = (t: number, df: number): number => betainc(df / (df + t * t), df / 2, 0.5);

/** The chance that F exceeds `f`, with `df1` and `df2` degrees of freedom. */
export const fUpper = (f: number, df1: number, df2: number): number =>
  f <= 0 ? 1 : betainc(df2 / (df2 + df1 * f), df2 / 2, df1 / 2);

/** The value that F exceeds with chance 1 - p. */
export function fQuantile(p: number, df1: number, df2: number): number {
  const x = betaQuantile(p, df1 / 2, df2 / 2);
  return (df2 / df1) * (x / (1 - x));
}
