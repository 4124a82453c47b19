/** A level over time, as a step function: each value holds from its time until the next. */
export interface Steps {
  /** Seconds, rising. */
  readonly times: readonly number[];
  readonly values: readonly number[];
}

/**
 * The curve of a level, recorded as it changes. It is exact until it has changed often; then it is thinned to what a
 * drawing of so many columns would show of it: in each column the first, the least, the greatest and the last value
 * (the M4 aggregation of Jugel et al., 2014). When it is thinned depends on the changes alone, not on who looks when.
 */
export class Curve {
  private times: number[] = [];
  private values: number[] = [];
  private greatest = -Infinity;
  private readonly most: number;

  /**
   * @param columns columns of the finest drawing wanted of the time kept
   * @param span seconds of the past that are kept
   */
  constructor(
    private readonly columns: number,
    private readonly span = Infinity,
  ) {
    // Room for as many again before it is thinned anew.
    this.most = 8 * columns;
  }

  /** The greatest value that has lasted or is held now, of all the time. */
  get max(): number {
    return Math.max(this.greatest, this.values.at(-1) ?? -Infinity);
  }

  get steps(): Steps {
    return { times: this.times, values: this.values };
  }

  /** Tells its value at a time, none before that told last. What it passes through within an instant is not kept. */
  record(time: number, value: number): void {
    const { times, values } = this;
    const last = times.length - 1;
    if (last >= 0 && Object.is(values[last], value)) return;
    if (last >= 0 && times[last] === time) {
      if (last > 0 && Object.is(values[last - 1], value)) {
        times.pop();
        values.pop();
      } else values[last] = value;
      return;
    }
    if (last >= 0 && values[last] > this.greatest) this.greatest = values[last];
    times.push(time);
    values.push(value);
    if (times.length > this.most) this.thin(time);
  }

  reset(): void {
    this.times = [];
    this.values = [];
    this.greatest = -Infinity;
  }

  private thin(now: number): void {
    const { times, values } = this;
    const from = Math.max(times[0], now - this.span);
    const width = (now - from) / this.columns;
    const kept: number[] = [];
    let i = 0;
    // The value that the time kept begins with.
    while (i + 1 < times.length && times[i + 1] <= from) i++;
    while (i < times.length) {
      const column = Math.floor((times[i] - from) / width);
      const first = i;
      let [least, greatest] = [i, i];
      for (; i < times.length && Math.floor((times[i] - from) / width) === column; i++) {
        if (values[i] < values[least]) least = i;
        if (values[i] > values[greatest]) greatest = i;
      }
      kept.push(...[...new Set([first, least, greatest, i - 1])].sort((a, b) => a - b));
    }
    this.times = kept.map((k) => times[k]);
    this.values = kept.map((k) => values[k]);
  }
}
