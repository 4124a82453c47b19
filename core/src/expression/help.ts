import { distributions } from "../random/distributions.ts";
import { functions } from "./functions.ts";
import type { RowFunction } from "./tableTerms.ts";

/** What is said of a function or a distribution where one is written. */
export interface Help {
  readonly name: string;
  /** Its parameters in order; those in `optional` may be left out. */
  readonly parameters: readonly string[];
  readonly optional: number;
  readonly about: string;
  readonly kind: "function" | "distribution";
}

const ABOUT_DISTRIBUTIONS: Readonly<Record<string, string>> = {
  uniform: "Anything from the lowest to the highest, all as likely.",
  uniformInteger: "A whole number from the lowest to the highest, all as likely.",
  triangular: "Between two ends with one likeliest value: for want of data.",
  pert: "Between two ends with one likeliest value, ends rarer than in a triangle.",
  exponential: "Memoryless times: what comes by chance alone, such as arrivals.",
  erlang: "The sum of so many memoryless stages: steadier than one.",
  gamma: "Times above 0, skewed to the right; shape 1 is exponential.",
  weibull: "Times to a failure: shape below 1 fails early, above 1 by wear.",
  lognormal: "Times above 0 with a long tail, by mean and standard deviation: work by hand.",
  lognormalOfLog: "The same by the median and the standard deviation of its logarithm.",
  normal: "Spread evenly about the mean; give ends where values below 0 make no sense.",
  beta: "Between two ends, in any shape by two numbers.",
  johnsonSB: "Between two ends, as fitted by Johnson's bounded system.",
  johnsonSU: "Without ends, as fitted by Johnson's unbounded system.",
  logLogistic: "Times above 0 with a very long tail.",
  pearsonV: "Times above 0 with a long tail and few near 0.",
  pearsonVI: "Times above 0, by two shapes.",
  poisson: "How many, where each comes by chance alone.",
  binomial: "How many of so many trials succeed.",
  geometric: "Failures before the first success.",
  negativeBinomial: "Failures before so many successes.",
  bernoulli: "1 with the chance given, else 0.",
};

const ABOUT_FUNCTIONS: Readonly<
  Record<string, readonly [parameters: readonly string[], optional: number, about: string]>
> = {
  abs: [["value"], 0, "The value without its sign."],
  min: [["value", "others …"], 1, "The least of these."],
  max: [["value", "others …"], 1, "The largest of these."],
  round: [["value", "step"], 1, "Rounded to a whole number, or to a multiple of the step."],
  floor: [["value", "step"], 1, "Rounded down to a whole number, or to a multiple of the step."],
  ceiling: [["value", "step"], 1, "Rounded up to a whole number, or to a multiple of the step."],
  sqrt: [["value"], 0, "The square root."],
  exp: [["value"], 0, "e to the power of the value."],
  ln: [["value"], 0, "The natural logarithm."],
  log10: [["value"], 0, "The logarithm to base 10."],
  sin: [["angle in radians"], 0, "The sine."],
  cos: [["angle in radians"], 0, "The cosine."],
  tan: [["angle in radians"], 0, "The tangent."],
};

const ROW_HELP: readonly (readonly [name: RowFunction, parameters: readonly string[], about: string])[] = [
  ["sum", ["Table.column", "condition on row"], "The sum over the rows for which the condition holds."],
  ["mean", ["Table.column", "condition on row"], "The mean over the rows for which the condition holds."],
  ["least", ["Table.column", "condition on row"], "The least in the rows for which the condition holds."],
  ["most", ["Table.column", "condition on row"], "The largest in the rows for which the condition holds."],
  ["count", ["Table", "condition on row"], "How many rows meet the condition."],
  ["first", ["Table", "condition on row"], "The first row that meets the condition."],
  ["randomRow", ["Table.weight", "condition on row"], "A row at random, by the weights in a column."],
];

const SPECIAL: readonly Help[] = [
  {
    name: "if",
    parameters: ["condition", "then", "otherwise"],
    optional: 0,
    about: "One value where the condition holds, else the other.",
    kind: "function",
  },
  {
    name: "discrete",
    parameters: ["[values]", "[weights]"],
    optional: 0,
    about: "One of the values, by their weights.",
    kind: "distribution",
  },
  {
    name: "resample",
    parameters: ["[observations]"],
    optional: 0,
    about: "One of the observations, each as likely.",
    kind: "distribution",
  },
  ...ROW_HELP.map(([name, parameters, about]): Help => ({
    name,
    parameters,
    optional: 1,
    about,
    kind: name === "randomRow" ? "distribution" : "function",
  })),
  {
    name: "empirical",
    parameters: ["[observations]"],
    optional: 0,
    about: "As observed: between the observations by straight lines.",
    kind: "distribution",
  },
];

/** What there is to call, by name: distributions first. */
export const help: ReadonlyMap<string, Help> = new Map(
  [
    ...[...distributions.values()].map(({ name, parameters, optional = 0 }): Help => ({
      name,
      parameters: parameters.map((p) => p.name),
      optional,
      about: ABOUT_DISTRIBUTIONS[name] ?? "",
      kind: "distribution",
    })),
    ...[...functions.keys()].map((name): Help => {
      const [parameters, optional, about] = ABOUT_FUNCTIONS[name] ?? [[], 0, ""];
      return { name, parameters, optional, about, kind: "function" };
    }),
    ...SPECIAL,
  ].map((h) => [h.name, h]),
);

/** How a function is written, with its parameters by name. */
export const signatureOf = ({ name, parameters, optional }: Help): string => {
  const least = parameters.length - optional;
  return `${name}(${parameters.map((p, i) => (i < least ? p : `[${p}]`)).join(", ")})`;
};
