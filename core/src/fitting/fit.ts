import { distributions, drawer } from "../random/distributions.ts";
import { openStreams } from "../random/streams.ts";
import { type Candidate, CANDIDATES } from "./candidates.ts";
import { binsOf, type Goodness, goodnessOf } from "./goodness.ts";
import { Sample } from "./sample.ts";

/** A distribution fitted to observations. */
export interface Fit {
  readonly name: string;
  readonly label: string;
  /** In the order of the distribution's parameters, in the unit of the observations. */
  readonly parameters: readonly number[];
  readonly logLikelihood: number;
  /** Akaike's (1974) criterion: the smaller, the better. */
  readonly aic: number;
  readonly goodness: Goodness;
  readonly bins: number;
  /** Chances of being as far from the fitted distribution by luck alone; undefined until they are worked out. */
  readonly p?: Goodness;
  /** Share of what it yields that is below 0, where that may be. */
  readonly belowZero: number;
}

/** Samples drawn to work out one p-value. */
export const DRAWN = 400;
/** Values of a drawn sample; of more observations the statistics are taken as they are of so many. */
const MOST_DRAWN = 400;
const MANY_DRAWS = 20_000;

/** All distributions that may have yielded the observations, the best by Akaike's criterion first. */
export function fitAll(sample: Sample): Fit[] {
  if (sample.n < 5) return [];
  const fits = CANDIDATES.flatMap((candidate) => fitOf(candidate, sample) ?? []);
  return fits.sort((a, b) => a.aic - b.aic);
}

/** One distribution fitted; undefined where it cannot have yielded the observations. */
function fitOf(candidate: Candidate, sample: Sample): Fit | undefined {
  if (candidate.aboveZero && !(sample.least > 0)) return undefined;
  const parameters = candidate.estimate(sample);
  if (!parameters?.every(Number.isFinite)) return undefined;
  if (distributions.get(candidate.name)!.check(parameters) !== undefined) return undefined;
  const logLikelihood = candidate.logLikelihood(sample, parameters);
  const bins = binsOf(sample.n);
  return {
    name: candidate.name,
    label: candidate.label,
    parameters,
    logLikelihood,
    aic: 2 * candidate.estimated - 2 * logLikelihood,
    goodness: goodnessOf(sample, candidate, parameters, bins),
    bins,
    belowZero: candidate.aboveZero ? 0 : candidate.below(0, parameters),
  };
}

/** The distribution of a name fitted to observations, by itself. */
export const fitNamed = (name: string, sample: Sample): Fit | undefined =>
  sample.n < 5 ? undefined : fitOf(candidateOf(name), sample);

const candidateOf = (name: string): Candidate => CANDIDATES.find((c) => c.name === name)!;

/**
 * The p-values of a fit by the parametric bootstrap (Stute, González Manteiga and Presedo Quindimil 1993): samples are
 * drawn from the fitted distribution, the parameters estimated from each anew, and counted how many are at least as far
 * from theirs. So they are right although the parameters come from the data, as those of the usual tables are not. Of
 * more than 400 observations samples of 400 are drawn, and the Kolmogorov-Smirnov statistics compared as Stephens
 * (1974) makes them free of the number.
 */
export function pValues(
  fit: Fit,
  n: number,
  { seed = 1, drawn = DRAWN }: { readonly seed?: number; readonly drawn?: number } = {},
): Goodness {
  const candidate = candidateOf(fit.name);
  const size = Math.min(n, MOST_DRAWN);
  const distribution = distributions.get(fit.name)!;
  const [a, b, c, d] = [...fit.parameters, Number.NaN, Number.NaN, Number.NaN];
  // A table pays only for many draws.
  const draw =
    size * drawn > MANY_DRAWS
      ? drawer(distribution, fit.parameters)
      : (u: number) => distribution.quantile(u, a, b, c, d);
  const uniform = openStreams(seed, 1).stream(1).uniform();
  const values = new Float64Array(size);
  const farther = { ks: 0, andersonDarling: 0, chiSquare: 0 };
  const ks = freeOf(fit.goodness.ks, n);
  const { bins } = fit;
  for (let i = 0; i < drawn; i++) {
    for (let j = 0; j < size; j++) values[j] = draw(uniform());
    const sample = new Sample(values.slice());
    const parameters = candidate.estimate(sample);
    if (!parameters) continue;
    const found = goodnessOf(sample, candidate, parameters, bins);
    if (freeOf(found.ks, size) >= ks) farther.ks += 1;
    if (found.andersonDarling >= fit.goodness.andersonDarling) farther.andersonDarling += 1;
    if (found.chiSquare >= fit.goodness.chiSquare) farther.chiSquare += 1;
  }
  const share = (count: number) => (count + 1) / (drawn + 1);
  return {
    ks: share(farther.ks),
    andersonDarling: share(farther.andersonDarling),
    chiSquare: share(farther.chiSquare),
  };
}

/** The statistic of Kolmogorov and Smirnov times what makes it nearly free of the number of values (Stephens 1974). */
const freeOf = (ks: number, n: number): number => ks * (Math.sqrt(n) + 0.12 + 0.11 / Math.sqrt(n));

/** Density of a fit, for drawing it over a histogram. */
export const densityOf = ({ name, parameters }: Pick<Fit, "name" | "parameters">, x: number): number =>
  candidateOf(name).density(x, parameters);

/** Share at or below a value. */
export const shareBelow = ({ name, parameters }: Pick<Fit, "name" | "parameters">, x: number): number =>
  candidateOf(name).below(x, parameters);

/** The value below which a share of draws lies. */
export function quantileOf({ name, parameters }: Pick<Fit, "name" | "parameters">, u: number): number {
  return drawer(distributions.get(name)!, parameters)(u);
}

/** The expression of a fit, its quantities in a unit (none for plain numbers). */
export function writeFit({ name, parameters }: Pick<Fit, "name" | "parameters">, unit: string): string {
  const kinds = distributions.get(name)!.parameters;
  const args = parameters.map((value, i) => {
    const number = String(Number(value.toPrecision(6)));
    return kinds[i].kind === "quantity" && unit !== "" ? `${number} ${unit}` : number;
  });
  return `${name}(${args.join(", ")})`;
}
