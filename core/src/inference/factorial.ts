import { fUpper } from "./tails.ts";

/** A scenario of a factorial design: the level of each factor, by its number from 0, and the observations there. */
export interface FactorialRow {
  readonly levels: readonly number[];
  readonly values: readonly number[];
}

/** What one factor, or several together, do to a response. */
export interface FactorialTerm {
  /** Positions of its factors. */
  readonly factors: readonly number[];
  readonly df: number;
  readonly sumOfSquares: number;
  /** F and the chance of one as large where the term does nothing; NaN where nothing is left to compare with. */
  readonly f: number;
  readonly p: number;
  /**
   * Where all its factors have two levels: how much more the response is where the product of the levels, coded -1 and
   * 1, is 1, than where it is -1.
   */
  readonly effect: number | undefined;
}

export interface Factorial {
  readonly terms: readonly FactorialTerm[];
  readonly residual: { readonly df: number; readonly sumOfSquares: number };
}

/**
 * Main effects and interactions of a balanced design, in which all combinations of the levels of the factors of each
 * term come equally often, and their analysis of variance (Montgomery 2017, sections 5.3 and 6.3). Terms are of at most
 * `order` factors; the rest is the residual. With `blocks` the n-th observations of all rows are one block, such as
 * replications under common random numbers: what blocks differ by is taken out of the residual (section 5.6).
 * Undefined where the design is not balanced.
 */
export function factorial(rows: readonly FactorialRow[], order: number, blocks = false): Factorial | undefined {
  const factors = rows[0]?.levels.length ?? 0;
  const counts = Array.from({ length: factors }, (_, f) => new Set(rows.map((r) => r.levels[f])).size);
  const values = rows.flatMap((row) => row.values.map((value) => ({ levels: row.levels, value })));
  const n = values.length;
  const subsets = subsetsOf(factors).filter((s) => s.length <= order && s.every((f) => counts[f] > 1));
  // Means by the levels of each subset, the empty one for that of all.
  const means = new Map<string, Map<string, number>>();
  for (const subset of [[], ...subsets]) {
    const sums = new Map<string, { sum: number; n: number }>();
    for (const { levels, value } of values) {
      const at = keyOf(levels, subset);
      const cell = sums.get(at) ?? { sum: 0, n: 0 };
      sums.set(at, { sum: cell.sum + value, n: cell.n + 1 });
    }
    const sizes = new Set([...sums.values()].map((cell) => cell.n));
    if (sums.size !== subset.reduce((product, f) => product * counts[f], 1) || sizes.size > 1) return undefined;
    means.set(subset.join(), new Map([...sums].map(([at, cell]) => [at, cell.sum / cell.n])));
  }
  const grand = means.get("")!.get("")!;
  const effectAt = (levels: readonly number[], term: readonly number[]): number =>
    subsetsOf(term.length).reduce(
      (sum, inner) => {
        const subset = inner.map((i) => term[i]);
        const sign = (term.length - subset.length) % 2 === 0 ? 1 : -1;
        return sum + sign * means.get(subset.join())!.get(keyOf(levels, subset))!;
      },
      (term.length % 2 === 0 ? 1 : -1) * grand,
    );
  const found = subsets.map((term) => ({
    term,
    df: term.reduce((product, f) => product * (counts[f] - 1), 1),
    sumOfSquares: values.reduce((sum, { levels }) => sum + effectAt(levels, term) ** 2, 0),
  }));
  const total = values.reduce((sum, { value }) => sum + (value - grand) ** 2, 0);
  const block = blocks ? blockSum(rows, grand) : { df: 0, sumOfSquares: 0 };
  const residual = {
    df: n - 1 - block.df - found.reduce((sum, { df }) => sum + df, 0),
    sumOfSquares: Math.max(0, total - block.sumOfSquares - found.reduce((sum, one) => sum + one.sumOfSquares, 0)),
  };
  const high = counts.map((_, f) => Math.max(...rows.map((r) => r.levels[f])));
  return {
    residual,
    terms: found.map(({ term, df, sumOfSquares }) => {
      const f = residual.df > 0 ? sumOfSquares / df / (residual.sumOfSquares / residual.df) : Number.NaN;
      return {
        factors: term,
        df,
        sumOfSquares,
        f,
        p: Number.isNaN(f) ? f : fUpper(f, df, residual.df),
        effect: term.every((one) => counts[one] === 2) ? 2 * effectAt(high, term) : undefined,
      };
    }),
  };
}

/** What observations of one number have in common over all rows. */
function blockSum(
  rows: readonly FactorialRow[],
  grand: number,
): { readonly df: number; readonly sumOfSquares: number } {
  const count = Math.min(...rows.map(({ values }) => values.length));
  let sumOfSquares = 0;
  for (let r = 0; r < count; r++) {
    const mean = rows.reduce((sum, { values }) => sum + values[r], 0) / rows.length;
    sumOfSquares += rows.length * (mean - grand) ** 2;
  }
  return { df: count - 1, sumOfSquares };
}

const keyOf = (levels: readonly number[], subset: readonly number[]): string => subset.map((f) => levels[f]).join();

/** All subsets of 0 … n - 1 but the empty one, the smaller first. */
function subsetsOf(n: number): number[][] {
  const all: number[][] = [];
  for (let bits = 1; bits < 1 << n; bits++)
    all.push(Array.from({ length: n }, (_, i) => i).filter((i) => (bits >> i) & 1));
  return all.sort((a, b) => a.length - b.length || compare(a, b));
}

function compare(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i] - b[i];
  return 0;
}
