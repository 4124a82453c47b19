import { ln } from "../numeric/elementary.ts";
import { type Distribution, distributions, drawer } from "../random/distributions.ts";
import { openStreams } from "../random/streams.ts";
import { checkExpression } from "./check.ts";
import { makeScope } from "./scope.ts";
import { PLAIN, sameType, type ValueType } from "./types.ts";

/** A number that is asked for. */
export interface Asked {
  readonly name: string;
  /** One to begin with, in whatever unit; the same for the same question everywhere. */
  readonly typical: string;
  /** A plain number, whatever the dimension of what is drawn. */
  readonly plain?: boolean;
}

/** A way to choose a distribution by what one knows. */
export interface Knowing {
  readonly id: string;
  /** What one knows, in a few words. */
  readonly knows: string;
  /** When to choose it. */
  readonly about: string;
  readonly asks: readonly Asked[];
  /** Only where a plain number is wanted. */
  readonly counts?: boolean;
  readonly distribution: string;
  /** The distribution's parameters from what was asked, in SI; what was asked itself, unless given. */
  readonly parameters?: (asked: readonly number[]) => number[];
  /** What is wrong with what was asked, beyond what the distribution says. */
  readonly check?: (asked: readonly number[]) => string | undefined;
  /** The expression, from what was typed and the parameters in SI; what was typed itself as arguments, unless given. */
  readonly write?: (typed: readonly string[], parameters: readonly number[]) => string;
}

/** The 90 % point of the standard normal distribution. */
const NINE_IN_TEN = 1.2815515655446004;
const TYPICAL = {
  least: "2",
  mostly: "3",
  most: "5",
  mean: "4",
  "standard deviation": "1",
  "half are below": "3",
  "nine in ten are below": "8",
  steps: "3",
  of: "20",
  chance: "10 %",
};
const quantity = (name: keyof typeof TYPICAL): Asked => ({ name, typical: TYPICAL[name] });
const plain = (name: keyof typeof TYPICAL): Asked => ({ ...quantity(name), plain: true });

/** All ways, those for want of data first. */
export const WAYS_OF_KNOWING: readonly Knowing[] = [
  {
    id: "between",
    knows: "It lies between two values",
    about: "Nothing more is known: all between them are as likely.",
    asks: [quantity("least"), quantity("most")],
    distribution: "uniform",
  },
  {
    id: "mostly",
    knows: "It lies between two values, mostly near one",
    about: "For want of data: the ends and the likeliest value, as people at the work say.",
    asks: [quantity("least"), quantity("mostly"), quantity("most")],
    distribution: "triangular",
  },
  {
    id: "mostly, ends rare",
    knows: "The same, and the ends are rare",
    about: "As before, with less weight far from the likeliest value.",
    asks: [quantity("least"), quantity("mostly"), quantity("most")],
    distribution: "pert",
  },
  {
    id: "memoryless",
    knows: "Its mean, and that it comes by chance alone",
    about: "Memoryless: times between arrivals that know nothing of one another, times to a failure by accident.",
    asks: [quantity("mean")],
    distribution: "exponential",
  },
  {
    id: "skewed",
    knows: "Mean and standard deviation, with a long tail",
    about: "Never below 0, mostly short and sometimes very long: work by hand, repairs.",
    asks: [quantity("mean"), quantity("standard deviation")],
    distribution: "lognormal",
  },
  {
    id: "even",
    knows: "Mean and standard deviation, as often above as below",
    about: "Many small causes that add up: a machine's cycle, a measured size. Mind values below 0.",
    asks: [quantity("mean"), quantity("standard deviation")],
    distribution: "normal",
  },
  {
    id: "quantiles",
    knows: "What half stay below, and nine in ten",
    about: "A long tail, told by what people remember: usually so much, seldom more than so much.",
    asks: [quantity("half are below"), quantity("nine in ten are below")],
    distribution: "lognormalOfLog",
    check: ([half, nine]) =>
      nine > half && half > 0 ? undefined : "Nine in ten lie below more than half do, and both above 0.",
    parameters: ([half, nine]) => [half, ln(nine / half) / NINE_IN_TEN],
    write: ([half], [, spread]) => `lognormalOfLog(${half}, ${Number(spread.toPrecision(4))})`,
  },
  {
    id: "stages",
    knows: "Its mean, and that it is done in so many steps",
    about: "The sum of steps each of which comes by chance: the more steps, the steadier.",
    asks: [plain("steps"), quantity("mean")],
    distribution: "erlang",
  },
  {
    id: "whole between",
    knows: "A whole number between two",
    about: "All as likely, as of dice.",
    asks: [plain("least"), plain("most")],
    counts: true,
    distribution: "uniformInteger",
  },
  {
    id: "how many",
    knows: "How many come, on average",
    about: "A count of what comes by chance alone in a given time.",
    asks: [plain("mean")],
    counts: true,
    distribution: "poisson",
  },
  {
    id: "of so many",
    knows: "How many of so many, each with the same chance",
    about: "Faulty pieces in a batch, passengers with a bicycle in a boat.",
    asks: [plain("of"), plain("chance")],
    counts: true,
    distribution: "binomial",
  },
];

const NO_NAMES = makeScope(new Map(), () => 0);
/** Points of the curve drawn of a distribution. */
const POINTS = 120;
/** Shares of draws left out of the drawing at either end, where tails are endless. */
const TAIL = 0.005;

/** A distribution as it was picked, ready to be looked at. Numbers are in SI. */
export interface Picked {
  readonly text: string;
  readonly mean: number;
  readonly sd: number;
  /** What five in a hundred stay below, and above. */
  readonly low: number;
  readonly high: number;
  /** Where its draws lie: how dense they are there, the densest 1; of counts, how likely each is. */
  readonly shape: readonly (readonly [value: number, density: number])[];
  readonly isCount: boolean;
  /** So many draws of a seed. */
  draws(seed: number, count: number): number[];
}

export type PickResult =
  | { readonly ok: true; readonly picked: Picked }
  /** What is wrong, by the place of what was asked; -1 for all together. */
  | { readonly ok: false; readonly at: number; readonly message: string };

/** The distribution for what one knows and typed; `wanted` is the type of the place it is for. */
export function pick(knowing: Knowing, typed: readonly string[], wanted: ValueType): PickResult {
  const asked: number[] = [];
  for (const [at, { name, plain: isPlain }] of knowing.asks.entries()) {
    const result = checkExpression(typed[at] ?? "", NO_NAMES, isPlain ? PLAIN : wanted);
    if (!result.ok) {
      const message = (typed[at] ?? "").trim() === "" ? `Write what it is: ${name}.` : result.problems[0].message;
      return { ok: false, at, message };
    }
    const { constant } = result.checked;
    if (constant === undefined) return { ok: false, at, message: "A number is wanted here." };
    asked.push(constant);
  }
  const distribution = distributions.get(knowing.distribution)!;
  const parameters = knowing.parameters?.(asked) ?? asked;
  const wrong = knowing.check?.(asked) ?? distribution.check(parameters);
  if (wrong !== undefined) return { ok: false, at: -1, message: capital(wrong) };
  const arguments_ = typed.slice(0, knowing.asks.length).map((t) => t.trim());
  const text = knowing.write?.(arguments_, parameters) ?? `${knowing.distribution}(${arguments_.join(", ")})`;
  return { ok: true, picked: pictureOf(distribution, parameters, text) };
}

function pictureOf(distribution: Distribution, parameters: readonly number[], text: string): Picked {
  const quantile = drawer(distribution, parameters);
  const isCount = distribution.result === "number" && distribution.support.includes("whole");
  return {
    text,
    mean: distribution.mean(parameters),
    sd: Math.sqrt(distribution.variance(parameters)),
    low: quantile(0.05),
    high: quantile(0.95),
    shape: isCount ? chances(quantile) : densities(quantile),
    isCount,
    draws(seed, count) {
      const next = openStreams(seed, 1).stream(1).uniform();
      return Array.from({ length: count }, () => quantile(next()));
    },
  };
}

/** The slope of the distribution function, from its inverse: how many of even steps of `u` fall in each bin. */
function densities(quantile: (u: number) => number): [number, number][] {
  const [low, high] = [quantile(TAIL), quantile(1 - TAIL)];
  if (!(high > low)) return [[low, 1]];
  const bins = new Float64Array(POINTS);
  const steps = 200 * POINTS;
  for (let i = 0; i < steps; i++) {
    const value = quantile(TAIL + ((1 - 2 * TAIL) * (i + 0.5)) / steps);
    bins[Math.min(POINTS - 1, Math.floor(((value - low) / (high - low)) * POINTS))] += 1;
  }
  const most = Math.max(...bins);
  return Array.from(bins, (count, i) => [low + ((high - low) * (i + 0.5)) / POINTS, count / most]);
}

/** How often each whole number comes, the likeliest 1. */
function chances(quantile: (u: number) => number): [number, number][] {
  const counts = new Map<number, number>();
  const steps = 20_000;
  for (let i = 0; i < steps; i++) {
    const value = quantile((i + 0.5) / steps);
    counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  const most = Math.max(...counts.values());
  return [...counts].sort((a, b) => a[0] - b[0]).map(([value, count]) => [value, count / most]);
}

const capital = (sentence: string): string => sentence[0].toUpperCase() + sentence.slice(1);

/** The ways there are of knowing what is wanted at a place. */
export const waysFor = (wanted: ValueType): readonly Knowing[] =>
  WAYS_OF_KNOWING.filter(({ counts }) => !counts || sameType(wanted, PLAIN));

/** How an expression could have been picked: the way and what was asked, as it is written; undefined for others. */
export function pickedAs(text: string): { readonly way: Knowing; readonly typed: readonly string[] } | undefined {
  const [, name, inside] = /^\s*(\w+)\(([^()]*)\)\s*$/.exec(text) ?? [];
  const typed = inside?.split(",").map((t) => t.trim());
  const way = WAYS_OF_KNOWING.find((w) => w.distribution === name && !w.write && w.asks.length === typed?.length);
  return way && typed && { way, typed };
}
