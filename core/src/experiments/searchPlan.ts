import type { ExperimentPlan, SearchPlan } from "../document/experiment.ts";
import { type SearchFactor, type SearchSettings, searchValue, type Tried } from "../inference/search.ts";
import { displayUnit } from "../quantity/index.ts";
import type { MeasureInfo } from "../measures/info.ts";
import type { Study } from "../study/schema.ts";
import { constantOf } from "./constant.ts";
import { factorWords, type FactorWords, valueOfWords } from "./describe.ts";
import { readLevels, writeNumber, writtenNumber } from "./levels.ts";

/** A search as it is carried out. */
export interface SearchRead {
  readonly settings: SearchSettings;
  /** Ids of the factors that it sets, in their order. */
  readonly factors: readonly string[];
  /** By factor, what is written for each of its steps. */
  readonly texts: readonly (readonly string[])[];
  /** Keys of further measures, and what one SI unit of each counts in those of the first; on a front nothing. */
  readonly also?: readonly { readonly measure: string; readonly counts: number }[];
}

/** Keys of all measures that a search reads, in the order that `triedOf` takes their columns in. */
export const searchKeys = (measure: string, bounded: string | null, { also = [] }: SearchRead): string[] => [
  measure,
  ...(bounded === null ? [] : [bounded]),
  ...also.map((one) => one.measure),
];

/** What came out of a place, from the columns of its replications in the order of `searchKeys`. */
export function triedOf(columns: readonly (readonly number[])[], isBounded: boolean, search: SearchRead): Tried {
  const { also = [], settings } = search;
  const [first = [], ...rest] = columns;
  const bounded = isBounded ? rest[0] : undefined;
  const others = isBounded ? rest.slice(1) : rest;
  if (settings.front) return { values: first, ...(bounded ? { bounded } : {}), others };
  const values = first.map((v, r) => also.reduce((sum, { counts }, k) => sum + counts * others[k][r], v));
  return { values, ...(bounded ? { bounded } : {}) };
}

export type SearchOrNot =
  | { readonly ok: true; readonly search: SearchRead }
  /** What is wrong, by the id of a factor, or `measure`, `matters`, `bound`, `also`, `constraints`, `budget`. */
  | { readonly ok: false; readonly problems: Readonly<Record<string, string>> };

/** The most steps of a range. */
const MOST_STEPS = 10_000;

/** Reads what a search goes through, against what is measured of its design. */
export function readSearch(study: Study, experiment: ExperimentPlan, measures: readonly MeasureInfo[]): SearchOrNot {
  const { search: plan } = experiment;
  const problems: Record<string, string> = {};
  if (!plan) return { ok: false, problems: { factors: "Say first what is to be searched." } };
  const told = factorWords(study, experiment).filter(({ factor }) => plan.ranges[factor.id] !== undefined);
  if (told.length === 0) problems.factors = "Give a range or choices for one factor at least.";
  const ranges = told.map((words) => {
    const range = rangeOf(words, plan.ranges[words.factor.id]);
    if (typeof range === "string") problems[words.factor.id] = range;
    return range;
  });
  const info = measures.find(({ key }) => key === plan.measure);
  if (!info) problems.measure = "Choose the measure that is to be the best.";
  const matters = amount(plan.matters, info);
  if (info && !(matters !== undefined && matters > 0))
    problems.matters = "The smallest difference that matters is wanted, in the unit of the measure.";
  const bound = boundOf(plan, measures, problems);
  const also = alsoOf(study, plan, info, measures, problems);
  const isFront = plan.as === "front" && also.length > 0;
  if (plan.constraints.some(({ coefficients }) => Object.values(coefficients).every((c) => c === 0)))
    problems.constraints = "A limit on the factors names one of them at least.";
  if (Object.keys(problems).length > 0) return { ok: false, problems };
  const found = ranges as Range[];
  const ids = told.map(({ factor }) => factor.id);
  return {
    ok: true,
    search: {
      factors: ids,
      texts: found.map(({ texts }) => texts),
      ...(also.length > 0 ? { also } : {}),
      settings: {
        factors: found.map(({ factor }) => factor),
        constraints: plan.constraints.map(({ coefficients, most }) => ({
          coefficients: ids.map((id) => coefficients[id] ?? 0),
          most,
        })),
        better: plan.better,
        ...(bound ? { bound } : {}),
        ...(isFront ? { front: plan.also!.map(({ better }) => better) } : {}),
        budget: plan.budget,
        indifference: matters!,
        p: plan.chance,
        seed: study.run.seed,
      },
    },
  };
}

interface Range {
  readonly factor: SearchFactor;
  readonly texts: readonly string[];
}

/** The steps of a range, as they are written; or what is wrong with it. */
function rangeOf(words: FactorWords, { from, to, steps, choices }: SearchPlan["ranges"][string]): Range | string {
  if (choices.trim() !== "") {
    const read = readLevels(choices);
    if (!read.ok) return read.message;
    if (read.levels.length < 2) return "Two choices at least are wanted.";
    return {
      factor: { kind: "choice", count: read.levels.length },
      texts: read.levels.map((text) => valueOfWords(words, text)),
    };
  }
  const [low, high] = [writtenNumber(from), writtenNumber(to)];
  if (!low || !high) return "Write a number from and one to, or choices.";
  const end = (high.number * high.factor) / low.factor;
  if (constantOf(from)?.dimension.join() !== constantOf(to)?.dimension.join()) return "Both ends must be of one kind.";
  if (!(end > low.number)) return "The end must be above the start.";
  const isWhole = low.unit === "" && Number.isInteger(low.number) && Number.isInteger(end);
  if (isWhole && end - low.number > MOST_STEPS) return `At most ${MOST_STEPS} steps are taken.`;
  const factor: SearchFactor = isWhole
    ? { kind: "whole", low: low.number, high: end }
    : { kind: "real", low: low.number, high: end, steps };
  const count = isWhole ? end - low.number : steps;
  return {
    factor,
    texts: Array.from({ length: count + 1 }, (_, step) => writeNumber(searchValue(factor, step), low.unit)),
  };
}

/** A fixed amount of a measure's kind, in SI units. */
function amount(text: string, info: MeasureInfo | undefined): number | undefined {
  const found = constantOf(text);
  return info && found?.dimension.join() === info.dimension.join() ? found.value : undefined;
}

/** Further measures, with what a unit of each, as it is shown, counts in shown units of the first. */
function alsoOf(
  { units }: Study,
  { also = [] }: SearchPlan,
  first: MeasureInfo | undefined,
  measures: readonly MeasureInfo[],
  problems: Record<string, string>,
): NonNullable<SearchRead["also"]> {
  const unitOf = (info: MeasureInfo) => displayUnit(info.dimension, units).factor;
  return also.map(({ measure, weight }) => {
    const info = measures.find(({ key }) => key === measure);
    if (!info) problems.also = "Choose each of the further measures.";
    return { measure, counts: info && first ? (weight * unitOf(first)) / unitOf(info) : 0 };
  });
}

function boundOf(
  { bound }: SearchPlan,
  measures: readonly MeasureInfo[],
  problems: Record<string, string>,
): SearchSettings["bound"] {
  if (!bound) return undefined;
  const info = measures.find(({ key }) => key === bound.measure);
  const value = amount(bound.value, info);
  if (value !== undefined) return { value, better: bound.is === "at most" ? "less" : "more" };
  problems.bound = info
    ? "The bound is wanted as an amount in the unit of its measure."
    : "Choose the measure that is bounded.";
  return undefined;
}
