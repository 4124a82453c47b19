import { type Dimension, MONEY, NUMBER, RATE, TIME } from "../quantity/index.ts";

/** How a measure comes about. */
export type Statistic = "level" | "tally" | "count" | "share" | "ratio" | "derived";

/** How measures of several elements are merged: counts and averages of levels add up, observations are pooled. */
export type Merge = "sum" | "pooled" | "by units";

/** What is measured of a kind of thing: one figure, or several of one level or tally. */
export interface MeasureSpec {
  readonly label: string;
  readonly statistic: Statistic;
  readonly dimension: Dimension;
  /** In words, for a tooltip. */
  readonly definition: string;
  /** As it is worked out, in the notation of docs/measures.md. */
  readonly formula: string;
  readonly better?: "more" | "less";
  readonly merge?: Merge;
  /** Figures of which it consists, with what is put behind its label; one of its own unless told. */
  readonly parts?: Readonly<Record<string, string>>;
  /** What single parts mean, where that is more than the measure's own definition says. */
  readonly definitions?: Readonly<Record<string, string>>;
  /** Whether every observation, or every change, can be kept; so it is of tallies and levels. */
  readonly keeps?: boolean;
  /** It is also there for each of several things by name, such as entity types. */
  readonly each?: string;
}

export type MeasureSpecs = Readonly<Record<string, MeasureSpec>>;

export const LEVEL_PARTS = { mean: ", average", max: ", most", end: ", at the end" } as const;
export const QUANTILES = [50, 90, 95, 99] as const;
export const TALLY_PARTS = {
  mean: ", mean",
  max: ", longest",
  ...(Object.fromEntries(QUANTILES.map((p) => [`p${p}`, `, ${p} % quantile`])) as Record<
    `p${(typeof QUANTILES)[number]}`,
    string
  >),
} as const;

type More = Partial<MeasureSpec>;

/** A whole number of things now: average, most and final value. */
export const level = (label: string, definition: string, more: More = {}): MeasureSpec => ({
  label,
  definition: `${definition}: integral over time divided by the measured time.`,
  statistic: "level",
  dimension: NUMBER,
  formula: "(1/T) ∫ x(t) dt",
  parts: LEVEL_PARTS,
  ...more,
});

/** Times observed one by one: mean, longest and quantiles. */
export const tally = (label: string, definition: string, more: More = {}): MeasureSpec => ({
  label,
  definition,
  statistic: "tally",
  dimension: TIME,
  formula: "Σ x / n",
  parts: TALLY_PARTS,
  ...more,
});

export const count = (label: string, definition: string, more: More = {}): MeasureSpec => ({
  label,
  definition,
  statistic: "count",
  dimension: NUMBER,
  formula: "n",
  ...more,
});

export const ratio = (label: string, definition: string, formula: string, more: More = {}): MeasureSpec => ({
  label,
  definition,
  statistic: "ratio",
  dimension: NUMBER,
  formula,
  ...more,
});

export const throughput: MeasureSpec = {
  label: "Throughput",
  definition: "Number per measured time.",
  statistic: "ratio",
  dimension: RATE,
  formula: "n / T",
  better: "more",
};

export const cost = (label: string, definition: string, formula: string, more: More = {}): MeasureSpec => ({
  label,
  definition,
  statistic: "derived",
  dimension: MONEY,
  formula,
  better: "less",
  ...more,
});

/** A mean of times that were observed, without their quantiles. */
export const meanTime = (label: string, definition: string, more: More = {}): MeasureSpec => ({
  label,
  definition,
  statistic: "derived",
  dimension: TIME,
  formula: "Σ x / n",
  parts: { mean: ", mean" },
  ...more,
});
