import { Claimable } from "../kernel/claims.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";

/** What begins and ends a replication: states that are set back, what is done at the end of an instant, and its end. */
export class Replication {
  private readonly starters: (() => void)[] = [];
  private readonly fillers: (() => void)[] = [];
  /** Departures so far, of all elements. */
  private departures = 0;
  /** Ends the replication when all else at this instant is done. */
  readonly end: () => void;

  constructor(
    private readonly kernel: Kernel,
    /** Departures that end it, where a count does. */
    private readonly mostDepartures: number | undefined,
  ) {
    this.end = this.atEndOfInstant(EventClass.end, () => kernel.end(kernel.now));
  }

  /**
   * Does `start` whenever a replication begins, in the order of these calls.
   * Whatever keeps a state of its own besides meters and claims must set it back so.
   */
  atStart(start: () => void): void {
    this.starters.push(start);
  }

  /** Does `fill` when everything has been set back: what is there at the start comes in. */
  fill(fill: () => void): void {
    this.fillers.push(fill);
  }

  /** Has `act` done when all of earlier classes at the instant is done at which what it returns is called, once. */
  atEndOfInstant(eventClass: number, act: () => void): () => void {
    const { kernel } = this;
    const step = kernel.emit(() => {
      act();
      return SUSPEND;
    });
    let process = -1;
    this.atStart(() => {
      process = kernel.pool.take(NO_TYPE, step, kernel.clock);
    });
    return () => {
      if (Number.isNaN(kernel.calendar.timeOf(process))) kernel.schedule(process, 0, eventClass);
    };
  }

  claimable(capacity: number, index?: number): Claimable {
    const claimable = new Claimable(this.kernel, capacity, index);
    this.atStart(() => claimable.reset());
    return claimable;
  }

  /** Counts a departure; the last that the run waits for ends it. */
  countDeparture(): void {
    if (++this.departures === this.mostDepartures) this.end();
  }

  /** Sets everything back, as if no replication had run before. */
  begin(): void {
    this.departures = 0;
    for (const start of this.starters) start();
  }

  fillUp(): void {
    for (const fill of this.fillers) fill();
  }
}
