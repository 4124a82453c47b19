import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Timetable } from "../timetable/index.ts";

/** Rings whenever one of some calendars gives another value than before. */
export class Bells {
  private calendars: readonly Timetable[] = [];
  private readonly bell: number;

  constructor(
    private readonly kernel: Kernel,
    ring: () => void,
  ) {
    this.bell = kernel.emit((token) => {
      ring();
      this.await(token);
      return SUSPEND;
    });
  }

  /** Begins a replication; calendars that are the same ring once. */
  begin(calendars: Iterable<Timetable | undefined>): void {
    const { pool, clock } = this.kernel;
    this.calendars = [...new Set(calendars)].filter((calendar) => calendar !== undefined);
    for (let i = 0; i < this.calendars.length; i++) {
      const token = pool.take(NO_TYPE, this.bell, clock);
      pool.setWay(token, i);
      this.await(token);
    }
  }

  private await(token: number): void {
    const { kernel, calendars } = this;
    const next = calendars[kernel.pool.wayOf(token)].nextChange(kernel.now);
    if (next < Infinity) kernel.scheduleAt(token, next, EventClass.capacityChange);
  }
}
