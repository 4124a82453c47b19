import tQuantile from "@stdlib/stats-base-dists-t-quantile";

/** A polynomial fitted to observations by least squares. */
export interface Fitted {
  /** By powers of (x - centre) / scale, the lowest first. */
  readonly coefficients: readonly number[];
  readonly centre: number;
  readonly scale: number;
  readonly df: number;
  /** Standard deviation of an observation about the curve. */
  readonly sd: number;
  /** Share of the variance of the observations that the curve tells. */
  readonly rSquared: number;
  /** The curve at x. */
  at(x: number): number;
  /** Half-width of the interval of the mean at x, at a level (Draper and Smith 1998, section 3.1). */
  halfWidth(x: number, level: number): number;
}

/**
 * The polynomial of a degree that is nearest to observations in squares. Undefined where there are too few different
 * places, or no observation is left to tell the variance by.
 */
export function polynomialFit(xs: readonly number[], ys: readonly number[], degree: number): Fitted | undefined {
  const n = xs.length;
  const terms = degree + 1;
  if (new Set(xs).size < terms || n <= terms) return undefined;
  const [low, high] = [Math.min(...xs), Math.max(...xs)];
  const [centre, scale] = [(low + high) / 2, (high - low) / 2 || 1];
  const powers = (x: number): number[] => {
    const z = (x - centre) / scale;
    const row = [1];
    for (let k = 1; k < terms; k++) row.push(row[k - 1] * z);
    return row;
  };
  const rows = xs.map(powers);
  const sums = Array.from({ length: terms }, (_, i) =>
    Array.from({ length: terms }, (_, j) => rows.reduce((sum, row) => sum + row[i] * row[j], 0)),
  );
  const inverse = inverseOf(sums);
  const projected = Array.from({ length: terms }, (_, i) => rows.reduce((sum, row, r) => sum + row[i] * ys[r], 0));
  const coefficients = inverse.map((row) => row.reduce((sum, v, j) => sum + v * projected[j], 0));
  const valueAt = (row: readonly number[]) => row.reduce((sum, v, k) => sum + v * coefficients[k], 0);
  const mean = ys.reduce((sum, y) => sum + y, 0) / n;
  const residual = ys.reduce((sum, y, r) => sum + (y - valueAt(rows[r])) ** 2, 0);
  const total = ys.reduce((sum, y) => sum + (y - mean) ** 2, 0);
  const df = n - terms;
  const sd = Math.sqrt(residual / df);
  return {
    coefficients,
    centre,
    scale,
    df,
    sd,
    rSquared: total > 0 ? 1 - residual / total : 1,
    at: (x) => valueAt(powers(x)),
    halfWidth(x, level) {
      const row = powers(x);
      const leverage = row.reduce((sum, v, i) => sum + v * inverse[i].reduce((s, w, j) => s + w * row[j], 0), 0);
      return tQuantile((1 + level) / 2, df) * sd * Math.sqrt(leverage);
    },
  };
}

/** The inverse of a symmetric positive matrix, by elimination with the largest pivot. */
function inverseOf(matrix: readonly (readonly number[])[]): number[][] {
  const n = matrix.length;
  const rows = matrix.map((row, i) => [...row, ...row.map((_, j) => (i === j ? 1 : 0))]);
  for (let c = 0; c < n; c++) {
    let pivot = c;
    for (let r = c + 1; r < n; r++) if (Math.abs(rows[r][c]) > Math.abs(rows[pivot][c])) pivot = r;
    [rows[c], rows[pivot]] = [rows[pivot], rows[c]];
    const top = rows[c][c];
    rows[c] = rows[c].map((v) => v / top);
    for (let r = 0; r < n; r++) {
      const factor = rows[r][c];
      if (r !== c && factor !== 0) rows[r] = rows[r].map((v, j) => v - factor * rows[c][j]);
    }
  }
  return rows.map((row) => row.slice(n));
}
