import type { LoadSetup } from "./carrying.ts";

/** What vehicles carried last, and the time that each needs for another load. */
export class LoadSetups {
  /** By vehicle: of what its last load was; NaN: of nothing that is known. */
  private readonly last: Float64Array;

  constructor(count: number) {
    this.last = new Float64Array(count);
  }

  begin(): void {
    this.last.fill(Number.NaN);
  }

  /** Seconds that a vehicle needs before these, where they are not of what it carried last; it carries them then. */
  before(v: number, { time, by }: LoadSetup, tokens: Iterable<{ readonly token: number }>): number {
    let seconds = 0;
    for (const { token } of tokens) {
      const of = by?.(token);
      if (of !== undefined && of === this.last[v]) continue;
      this.last[v] = of ?? Number.NaN;
      seconds += time(token);
    }
    return seconds;
  }
}
