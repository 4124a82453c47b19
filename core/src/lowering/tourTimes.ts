import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Tour } from "./carrying.ts";

/** When tours begin: one after another at times between them, or at listed ones. */
export class TourTimes {
  /** Tours that are to begin, and for which no vehicle has been there yet. */
  due = 0;
  /** Listed tours that have begun. */
  private begun = 0;
  private readonly beginTour: number;

  constructor(
    private readonly tour: Tour,
    private readonly kernel: Kernel,
    /** Id of the fleet, for a time that is none. */
    private readonly id: string,
    /** Told whenever one more is due. */
    isDue: () => void,
  ) {
    this.beginTour = kernel.emit((token) => {
      this.due += 1;
      isDue();
      this.await(token);
      return SUSPEND;
    });
  }

  begin(): void {
    const { kernel, tour, id } = this;
    this.due = this.begun = 0;
    const token = kernel.pool.take(NO_TYPE, this.beginTour, kernel.clock);
    if (tour.listed) this.await(token);
    else kernel.delay(token, tour.first(-1), EventClass.activityEnd, id, "tourFirst");
  }

  private await(token: number): void {
    const { kernel, id } = this;
    const { between, listed } = this.tour;
    if (!listed) return kernel.delay(token, between(-1), EventClass.activityEnd, id, "tourEvery");
    if (this.begun === listed.length) return kernel.pool.release(token);
    kernel.scheduleAt(token, listed[this.begun++], EventClass.activityEnd);
  }
}
