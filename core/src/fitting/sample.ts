import { ln } from "../numeric/elementary.ts";

/** Observations in the order in which they were made, with what of them is asked for again and again. */
export class Sample {
  readonly n: number;
  readonly mean: number;
  private rising: Float64Array | undefined;
  private logarithms: Float64Array | undefined;
  private logMean: number | undefined;

  /** `values` are finite. */
  constructor(readonly values: Float64Array) {
    this.n = values.length;
    let sum = 0;
    for (const v of values) sum += v;
    this.mean = sum / this.n;
  }

  get sorted(): Float64Array {
    return (this.rising ??= this.values.slice().sort());
  }

  get least(): number {
    return this.sorted[0];
  }

  get most(): number {
    return this.sorted[this.n - 1];
  }

  /** Sum of squared deviations from the mean. */
  get squares(): number {
    let sum = 0;
    for (const v of this.values) sum += (v - this.mean) ** 2;
    return sum;
  }

  /** Natural logarithms; of values above 0 alone. */
  get logs(): Float64Array {
    return (this.logarithms ??= this.values.map(ln));
  }

  get meanLog(): number {
    if (this.logMean === undefined) {
      let sum = 0;
      for (const y of this.logs) sum += y;
      this.logMean = sum / this.n;
    }
    return this.logMean;
  }

  /** Sum of squared deviations of the logarithms from their mean. */
  get logSquares(): number {
    let sum = 0;
    for (const y of this.logs) sum += (y - this.meanLog) ** 2;
    return sum;
  }

  /** The value at or below which a share `p` of the values lies, interpolated (Hyndman and Fan 1996, type 7). */
  quantile(p: number): number {
    const at = p * (this.n - 1);
    const below = Math.floor(at);
    const { sorted } = this;
    return sorted[below] + (at - below) * ((sorted[below + 1] ?? sorted[below]) - sorted[below]);
  }
}
