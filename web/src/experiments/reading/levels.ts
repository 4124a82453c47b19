import type { Study } from "@busy-harbor/core";
import { constantOf, valueIn, wordsOfValue } from "@busy-harbor/core/experiments";
import type { ToldFactor } from "../columns.tsx";
import type { ScenarioRow } from "../rows.ts";

/** The levels of a factor over rows: the number of each, and its words, rising where they are numbers. */
export interface FactorLevels {
  readonly told: ToldFactor;
  readonly words: readonly string[];
  /** In SI units; undefined where one of them is no number. */
  readonly numbers: readonly number[] | undefined;
  /** By row, the position of its level. */
  readonly of: readonly number[];
}

/** The factors that have several levels over some rows; the design counts as one, where there are several. */
export function factorLevels(
  study: Study,
  factors: readonly ToldFactor[],
  rows: readonly ScenarioRow[],
): readonly FactorLevels[] {
  return factors
    .map((told) => {
      const values = rows.map(({ scenario }) => valueIn(study, told.factor, scenario));
      return levelsOf(told, values, (value) => constantOf(value)?.value);
    })
    .filter(({ words }) => words.length > 1);
}

function levelsOf(
  told: ToldFactor,
  values: readonly string[],
  numberOf: (value: string) => number | undefined,
): FactorLevels {
  // 60 s and 1 min are one level.
  const keyOf = (value: string) => String(numberOf(value) ?? value);
  const levels = [...new Map(values.map((value) => [keyOf(value), value])).entries()];
  const numbers = levels.map(([, value]) => numberOf(value));
  const isNumeric = numbers.every((n) => n !== undefined);
  if (isNumeric) levels.sort(([, a], [, b]) => numberOf(a)! - numberOf(b)!);
  const places = new Map(levels.map(([key], i) => [key, i]));
  return {
    told,
    words: levels.map(([, value]) => wordsOfValue(told, value)),
    numbers: isNumeric ? levels.map(([, value]) => numberOf(value)!) : undefined,
    of: values.map((value) => places.get(keyOf(value))!),
  };
}
