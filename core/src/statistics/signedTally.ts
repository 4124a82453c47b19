import { type Quantile, Tally } from "./tally.ts";

/** Observations of any sign, one by one: their number, mean, standard deviation, least, largest and quantiles. */
export class SignedTally {
  /** Sizes of those below 0, and of all others. */
  private readonly below = new Tally();
  private readonly above = new Tally();
  /** Mean so far, and the sum of squares about it (Welford 1962). */
  private readonly cells = new Float64Array(2);

  get count(): number {
    return this.below.count + this.above.count;
  }

  add(value: number): void {
    if (value < 0) this.below.add(-value);
    else this.above.add(value);
    const { cells } = this;
    const off = value - cells[0];
    cells[0] += off / this.count;
    cells[1] += off * (value - cells[0]);
  }

  get mean(): number {
    return this.count > 0 ? this.cells[0] : Number.NaN;
  }

  /** Standard deviation, by n - 1; NaN of fewer than two. */
  get deviation(): number {
    return this.count > 1 ? Math.sqrt(this.cells[1] / (this.count - 1)) : Number.NaN;
  }

  get sum(): number {
    return this.count > 0 ? this.cells[0] * this.count : 0;
  }

  get least(): number {
    return this.below.count > 0 ? -this.below.max : this.quantile(0).value;
  }

  get max(): number {
    return this.above.count > 0 ? this.above.max : this.count > 0 ? -this.below.quantile(0).value : Number.NaN;
  }

  /** The ⌈pn⌉-th smallest, as of a `Tally`. */
  quantile(p: number): Quantile {
    const { count } = this;
    const below = this.below.count;
    if (count === 0) return { value: Number.NaN, error: 0 };
    const rank = Math.min(count, Math.max(1, Math.ceil(p * count)));
    // The middle of the rank's share, so that rounding cannot lead to its neighbour.
    if (rank > below) return this.above.quantile((rank - below - 0.5) / (count - below));
    const { value, error } = this.below.quantile((below - rank + 0.5) / below);
    return { value: -value, error };
  }

  restart(): void {
    this.below.restart();
    this.above.restart();
    this.cells.fill(0);
  }
}
