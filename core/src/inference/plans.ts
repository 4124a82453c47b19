/** A plan of scenarios: for each the level of each factor, by its number from 0. */
export type Plan = readonly (readonly number[])[];

/** All combinations of the levels of factors, of which there are so many each; the last factor changes fastest. */
export function fullFactorial(levels: readonly number[]): Plan {
  let plan: number[][] = [[]];
  for (const count of levels)
    plan = plan.flatMap((row) => Array.from({ length: count }, (_, level) => [...row, level]));
  return plan;
}

export interface Fraction {
  readonly plan: Plan;
  /** Shortest word of the defining relation: what a term of so few factors cannot be told from. */
  readonly resolution: number;
  /** How the further factors follow from the first, such as `E = ABCD`. */
  readonly generators: readonly string[];
}

/**
 * How further factors follow from the first ones, by the number of factors and of those that follow: fractions of
 * least aberration (Box, Hunter and Hunter 2005, table 6.22; Montgomery 2017, table 8.14).
 */
const GENERATORS: Readonly<Record<string, readonly string[]>> = {
  "3,1": ["AB"],
  "4,1": ["ABC"],
  "5,1": ["ABCD"],
  "5,2": ["AB", "AC"],
  "6,1": ["ABCDE"],
  "6,2": ["ABC", "BCD"],
  "6,3": ["AB", "AC", "BC"],
  "7,1": ["ABCDEF"],
  "7,2": ["ABCD", "ABDE"],
  "7,3": ["ABC", "BCD", "ACD"],
  "7,4": ["AB", "AC", "BC", "ABC"],
  "8,2": ["ABCD", "ABEF"],
  "8,3": ["ABC", "ABD", "BCDE"],
  "8,4": ["BCD", "ACD", "ABC", "ABD"],
};

/** By how many factors less than all a two-level design of so many can be run: 1 for a half, 2 for a quarter. */
export const fractionsOf = (factors: number): readonly number[] =>
  Object.keys(GENERATORS).flatMap((key) => {
    const [k, p] = key.split(",").map(Number);
    return k === factors ? [p] : [];
  });

/** A fraction 1/2^p of all combinations of two levels of `factors` factors; undefined where none is known. */
export function fractionalFactorial(factors: number, p: number): Fraction | undefined {
  const words = GENERATORS[`${factors},${p}`];
  if (!words) return undefined;
  const first = factors - p;
  const masks = words.map((word) => [...word].reduce((bits, c) => bits | (1 << (c.charCodeAt(0) - 65)), 0));
  const plan = fullFactorial(Array.from({ length: first }, () => 2)).map((row) => [
    ...row,
    ...masks.map((mask) => {
      // The product of levels coded -1 and 1, coded back.
      const minuses = row.filter((level, i) => (mask >> i) & 1 && level === 0).length;
      return minuses % 2 === 0 ? 1 : 0;
    }),
  ]);
  const relations = masks.map((mask, i) => mask | (1 << (first + i)));
  let resolution = Infinity;
  for (let bits = 1; bits < 1 << p; bits++) {
    const word = relations.reduce((sum, one, i) => ((bits >> i) & 1 ? sum ^ one : sum), 0);
    resolution = Math.min(resolution, word.toString(2).replaceAll("0", "").length);
  }
  return {
    plan,
    resolution,
    generators: words.map((word, i) => `${String.fromCharCode(65 + first + i)} = ${word}`),
  };
}

/**
 * Points of the unit cube of which each factor has one in every n-th of its range (McKay, Beckman and Conover 1979);
 * `uniform` gives numbers from 0 to 1.
 */
export function latinHypercube(n: number, factors: number, uniform: () => number): number[][] {
  const columns = Array.from({ length: factors }, () => {
    const order = Array.from({ length: n }, (_, i) => i);
    for (let i = n - 1; i > 0; i--) {
      const j = Math.floor(uniform() * (i + 1));
      [order[i], order[j]] = [order[j], order[i]];
    }
    return order.map((cell) => (cell + uniform()) / n);
  });
  return Array.from({ length: n }, (_, i) => columns.map((column) => column[i]));
}
