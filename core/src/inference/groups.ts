/** Observations of several systems, a list each, of numbers. */
export type Groups = readonly (readonly number[])[];

/** Number, mean, and sum of squares about the mean of some numbers. */
export interface Moments3 {
  readonly n: number;
  readonly mean: number;
  readonly squares: number;
}

export function momentsOf(values: readonly number[]): Moments3 {
  const n = values.length;
  if (n === 0) return { n, mean: Number.NaN, squares: Number.NaN };
  const shift = values[0];
  const mean = shift + values.reduce((sum, v) => sum + (v - shift), 0) / n;
  return { n, mean, squares: values.reduce((sum, v) => sum + (v - mean) ** 2, 0) };
}

/** Their sample variance; NaN of fewer than two. */
export const varianceOf = ({ n, squares }: Moments3): number => (n < 2 ? Number.NaN : squares / (n - 1));
