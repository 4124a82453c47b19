import type { Checked, Read } from "../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../kernel/kernel.ts";
import type { Timetable } from "../timetable/index.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/** When something is closed: where its calendar gives 0, and while its condition holds. */
interface Closing {
  readonly timetable: Timetable | undefined;
  readonly condition: Checked | undefined;
  /** The condition, ready to be asked. */
  readonly holds: Read | undefined;
}

/** Tells at the start of a replication, and whenever it may have changed, whether something is closed. */
export function closedBy(
  { timetable, condition, holds }: Closing,
  set: (isClosed: boolean) => void,
  kernel: Kernel,
  expressions: Expressions,
  replication: Replication,
): void {
  let isOff = false;
  const look = () => set(isOff || (holds?.(-1) ?? 0) !== 0);
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
