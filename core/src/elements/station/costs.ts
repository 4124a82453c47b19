import type { ElementOf } from "../../document/schema.ts";
import type { Node } from "../../model/model.ts";
import { MONEY } from "../../quantity/index.ts";
import type { Counter } from "../counter.ts";
import type { Lowering } from "../lowering.ts";

/**
 * Declares the cost of a station, where it has cost rates: of its time at work, its time on shift, and each entity
 * finished.
 */
export function costs(
  { settings }: Node<ElementOf<"station">>,
  add: ReturnType<Lowering["measuresOf"]>,
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
  add("cost", "Cost", MONEY, () => perBusy * busy() + perOpen * open() + perEach * done.n);
  add(
    "cost.each",
    "Cost for each entity finished",
    MONEY,
    () => (perBusy * busy() + perOpen * open() + perEach * done.n) / done.n,
  );
}
