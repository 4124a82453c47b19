import type { Node } from "../../model/model.ts";
import type { Counter } from "../../lowering/counter.ts";
import type { Measured } from "../../lowering/measured.ts";
import type { STATION_MEASURES } from "./settings.ts";

/**
 * Declares the cost of a station, where it has cost rates: of its time at work, its time on shift, and each entity
 * finished.
 */
export function costs(
  { settings }: Pick<Node, "settings">,
  measured: Measured<typeof STATION_MEASURES>,
  {
    busy,
    open,
    done,
  }: {
    /** Slot-seconds at work. */ readonly busy: () => number;
    /** Slot-seconds on shift. */ readonly open: () => number;
    readonly done: Counter;
  },
): void {
  const [perBusy, perOpen, perEach] = ["costBusy", "costOpen", "costEach"].map(
    (field) => settings.get(field)?.constant ?? 0,
  );
  if (perBusy + perOpen + perEach === 0) return;
  const cost = () => perBusy * busy() + perOpen * open() + perEach * done.n;
  measured.add("cost", cost);
  measured.add("cost.each", () => cost() / done.n);
}
