import type { Read } from "../expression/index.ts";
import type { Kernel } from "../kernel/kernel.ts";
import { UNIT, type Units } from "./units.ts";

export interface WhoGoesSettings {
  /** Which of those that are free goes. */
  readonly chosen: "fixed order" | "nearest" | "longest idle" | "least used" | "least value";
  /** The value of which the least goes, of the unit whose row is at hand. */
  readonly worth: Read;
  /** Has the row of a unit be at hand, where each has one. */
  readonly setRow: ((unit: number) => void) | undefined;
}

/** Which of the units of a pool goes to who asked, where they are not all the same. */
export class WhoGoes {
  private readonly idleSince: Float64Array;
  private readonly uses: Int32Array;
  /** Metres from where a unit is to an element, where that counts. */
  metresTo: ((unit: number, place: number) => number) | undefined;

  constructor(
    private readonly settings: WhoGoesSettings,
    private readonly units: Units,
    private readonly kernel: Kernel,
  ) {
    this.idleSince = new Float64Array(units.count);
    this.uses = new Int32Array(units.count);
  }

  begin(): void {
    this.idleSince.fill(0);
    this.uses.fill(0);
  }

  /** The unit that goes to an element, of those that are free and will do; -1 where none will. Nowhere: -1. */
  choose(place: number, willDo?: (unit: number) => boolean): number {
    const { state } = this.units;
    let best = -1;
    let least = Infinity;
    for (let unit = 0; unit < state.length; unit++) {
      if (state[unit] !== UNIT.idle || (willDo && !willDo(unit))) continue;
      const worth = this.worthOf(unit, place);
      if (best >= 0 && !(worth < least)) continue;
      least = worth;
      best = unit;
    }
    return best;
  }

  private worthOf(unit: number, place: number): number {
    const { chosen, worth, setRow } = this.settings;
    switch (chosen) {
      case "nearest":
        return this.metresTo?.(unit, place) ?? 0;
      case "longest idle":
        return this.idleSince[unit];
      case "least used":
        return this.uses[unit];
      case "least value":
        setRow?.(unit);
        return worth(-1);
      default:
        return 0;
    }
  }

  /** A unit has been given to who asked. */
  given(unit: number): void {
    this.uses[unit] += 1;
  }

  /** A unit is free from now on. */
  freed(unit: number): void {
    this.idleSince[unit] = this.kernel.now;
  }
}
