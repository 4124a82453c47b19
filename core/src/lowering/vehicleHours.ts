import type { Kernel } from "../kernel/kernel.ts";
import type { Timetable } from "../timetable/index.ts";
import { Bells } from "./bells.ts";

export interface VehicleHoursSettings {
  readonly count: number;
  /** How many are there; undefined where all always are. */
  readonly timetable: Timetable | undefined;
  /** When each is there by hours of its own, in place of that; asked for when a replication begins. */
  readonly timetableOf: ((v: number) => Timetable | undefined) | undefined;
}

/** Which vehicles of a fleet are off shift: those behind as many as a calendar has there, or each by one of its own. */
export class VehicleHours {
  private readonly off: Uint8Array;
  private readonly bells: Bells;
  private own: readonly (Timetable | undefined)[] | undefined;

  constructor(
    private readonly settings: VehicleHoursSettings,
    private readonly kernel: Kernel,
    changed: () => void,
  ) {
    this.off = new Uint8Array(settings.count);
    this.bells = new Bells(kernel, () => {
      this.look();
      changed();
    });
  }

  begin(): void {
    const { count, timetable, timetableOf } = this.settings;
    this.own = timetableOf && Array.from({ length: count }, (_, v) => timetableOf(v));
    this.look();
    this.bells.begin(this.own ?? [timetable]);
  }

  isOff(v: number): boolean {
    return this.off[v] !== 0;
  }

  private look(): void {
    const { now } = this.kernel;
    const { own, off, settings } = this;
    const most = own ? Infinity : (settings.timetable?.at(now) ?? Infinity);
    for (let v = 0; v < off.length; v++) off[v] = v < most && (own?.[v]?.at(now) ?? 1) > 0 ? 0 : 1;
  }
}
