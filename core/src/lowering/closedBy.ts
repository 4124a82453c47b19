import type { Checked, Read } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import type { Timetable } from "../timetable/index.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/** When something is closed: where its calendar gives 0, while its condition holds, and while it is broken down. */
interface Closing {
  readonly timetable: Timetable | undefined;
  readonly condition: Checked | undefined;
  /** The condition, ready to be asked. */
  readonly holds: Read | undefined;
  readonly breaks?: Breaks | undefined;
}

/** Breakdowns by the clock: seconds to the next and of a repair, and the settings that say so. */
export interface Breaks {
  readonly every: Read;
  readonly repair: Read;
  readonly id: string;
  /** One more. */
  readonly count: () => void;
}

/** Tells at the start of a replication, and whenever it may have changed, whether something is closed. */
export function closedBy(
  { timetable, condition, holds, breaks }: Closing,
  set: (isClosed: boolean) => void,
  kernel: Kernel,
  expressions: Expressions,
  replication: Replication,
): void {
  let isOff = false;
  let isDown = false;
  const look = () => set(isOff || isDown || (holds?.(-1) ?? 0) !== 0);
  if (breaks) {
    const { every, repair, id, count } = breaks;
    const turn = kernel.emit((token) => {
      isDown = !isDown;
      if (isDown) count();
      look();
      const field = isDown ? "repair" : "every";
      kernel.delay(token, (isDown ? repair : every)(-1), EventClass.capacityChange, id, field);
      return SUSPEND;
    });
    const begin = kernel.emit((token) => {
      kernel.pool.setPc(token, turn);
      kernel.delay(token, every(-1), EventClass.capacityChange, id, "every");
      return SUSPEND;
    });
    replication.atStart(() => {
      isDown = false;
      kernel.startProcess(begin, 0, EventClass.capacityChange);
    });
  }
  if (condition) expressions.onChangeOf(condition, look);
  if (!timetable) return;
  const change = kernel.emit((token) => {
    const { now } = kernel;
    isOff = timetable.at(now) <= 0;
    look();
    const next = timetable.nextChange(now);
    if (next < Infinity) kernel.scheduleAt(token, next, EventClass.capacityChange);
    return SUSPEND;
  });
  replication.atStart(() => {
    isOff = timetable.at(0) <= 0;
    set(isOff);
    const next = timetable.nextChange(0);
    if (next < Infinity) kernel.startProcess(change, next, EventClass.capacityChange);
  });
}
