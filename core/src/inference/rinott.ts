import { exp, ln } from "../numeric/elementary.ts";
import gammaln from "@stdlib/math-base-special-gammaln";
import { integrate, ruleOf, weighted } from "../numeric/quadrature.ts";
import { solveRising } from "../numeric/solve.ts";
import { normalCdf } from "../random/normalCdf.ts";

/**
 * Rinott's constant for `systems` of which `firstStage` replications each are made first: with
 * max(first stage, ⌈(h S / δ)²⌉) replications of each, the one with the best mean is the best with chance `p` at
 * least, where it is better than all others by δ (Rinott 1978; Goldsman and Nelson 1998).
 */
export function rinottConstant(p: number, systems: number, firstStage: number): number {
  if (systems < 2) return 0;
  const key = `${p} ${systems} ${firstStage}`;
  let constant = constants.get(key);
  if (constant === undefined) constants.set(key, (constant = worked(p, systems, firstStage)));
  return constant;
}

/** It takes a while to work out, and a selection asks for it at each of its steps. */
const constants = new Map<string, number>();

function worked(p: number, systems: number, firstStage: number): number {
  const df = firstStage - 1;
  const constant = -(df / 2) * Math.LN2 - gammaln(df / 2);
  // Chi-squared by its square root: smooth down to nothing.
  const density = (u: number) => 2 * u * exp(constant + (df / 2 - 1) * ln(u * u) - (u * u) / 2);
  const chi = weighted(ruleOf(Math.max(0, Math.sqrt(df) - 8), Math.sqrt(df) + 9, 4), density);
  const chance = (h: number): number =>
    integrate(
      chi,
      (y) => integrate(chi, (x) => normalCdf(h / Math.sqrt(df * (1 / (x * x) + 1 / (y * y))))) ** (systems - 1),
    );
  return solveRising(chance, p, { low: 0, high: 4, tolerance: 1e-9 });
}

/** Replications of a system that Rinott's procedure asks for, by the standard deviation of its first stage. */
export const rinottReplications = (h: number, sd: number, indifference: number, firstStage: number): number =>
  Math.max(firstStage, Math.ceil(((h * sd) / indifference) ** 2));
