import type { Shelf } from "../../lowering/shelf.ts";
import type { StepModel } from "../../model/logic.ts";
import { number, reference, settings } from "../../settings/setting.ts";
import type { Emitting } from "../emitting.ts";
import { stepTime } from "../fields.ts";
import { stepKind } from "../kind.ts";
import { waiting } from "./time.ts";

const STOCK = reference("element", "Stock point", "Which.", { of: "stocked" });

const amount = (help: string, draws: number) =>
  number("How many", help, { initial: "1", least: 0, entity: true, draws });

const shelfOf = (step: StepModel, { lowering }: Emitting): Shelf =>
  lowering.shelves.of((step.step as unknown as { stock: string }).stock)!;

/** Whether a number of units is one; fails where it is not. */
function isAmount(units: number, step: StepModel, { fail }: Emitting): boolean {
  if (units >= 0 && units < Infinity) return true;
  fail(
    step,
    "amount",
    "invalid-count",
    `gave ${units} units, which is no number of 0 or more.`,
    "Use max(0, …).",
    units,
  );
  return false;
}

export const takeFromStock = stepKind({
  kind: "take from stock",
  label: "Take from a stock point",
  group: "stock",
  help: "Takes units of an item: those that it has reserved, else at once where they are there and nobody waits before, else when they are. Where it waits for a time at most, an Otherwise behind it is for when that is over.",
  example: "Take 3 from Rope, for at most 1 d",
  sentence: "Take {amount} from {stock}(, for at most {patience})",
  settings: settings({
    stock: STOCK,
    amount: amount("Units, such as entity.pieces.", 370),
    patience: stepTime("For at most", "How long it waits; 0 s: not at all. Empty: for ever.", {
      optional: true,
      draws: 371,
    }),
  }),
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, otherwise, read, fail } = at;
    const { kernel } = lowering;
    const shelf = shelfOf(step, at);
    const units = read(step, "amount", 1);
    const waitsNot = step.fields.get("patience")?.constant === 0;
    let wanted = 0;
    const stand = waiting(
      step,
      at,
      (token) => shelf.owe(token, wanted),
      (token) => shelf.withdraw(token),
    );
    return kernel.emit((token) => {
      wanted = units(token);
      if (!isAmount(wanted, step, { ...at, fail })) return next;
      // What is set aside for it comes first.
      const aside = Math.min(wanted, shelf.asideFor(token));
      if (aside > 0) {
        shelf.giveAside(token, aside);
        wanted -= aside;
        if (wanted === 0) return next;
      }
      if (shelf.has(wanted)) {
        shelf.give(wanted);
        return next;
      }
      if (waitsNot) {
        shelf.lose(wanted);
        return otherwise;
      }
      return stand(token);
    });
  },
});

export const reserveStock = stepKind({
  kind: "reserve",
  label: "Reserve at a stock point",
  group: "stock",
  help: "Sets units of an item aside, which nobody else is given: who has reserved them takes them later. They are on hand as long. An Otherwise behind it is for when there are too few, or others wait before; then none are set aside. What is not taken can be had by others again when the entity or process ends.",
  example: "Reserve 3 at Rope",
  sentence: "Reserve {amount} at {stock}",
  settings: settings({ stock: STOCK, amount: amount("Units.", 374) }),
  lower(step, at) {
    const shelf = shelfOf(step, at);
    const units = at.read(step, "amount", 1);
    return at.lowering.kernel.emit((token) => {
      const wanted = units(token);
      if (!isAmount(wanted, step, at)) return at.next;
      if (!shelf.has(wanted)) return at.otherwise;
      shelf.reserve(token, wanted);
      return at.next;
    });
  },
});

export const releaseStock = stepKind({
  kind: "release",
  label: "Release what is reserved",
  group: "stock",
  help: "Units that were reserved can be had by others again: those who wait are served.",
  example: "Release what is reserved at Rope",
  sentence: "Release what is reserved at {stock}",
  settings: settings({ stock: STOCK }),
  lower(step, at) {
    const shelf = shelfOf(step, at);
    return at.lowering.kernel.emit((token) => {
      shelf.unreserve(token);
      return at.next;
    });
  },
});

export const putToStock = stepKind({
  kind: "put to stock",
  label: "Put to a stock point",
  group: "stock",
  help: "Adds units of an item, which nobody has ordered: those who wait are served.",
  example: "Put 10 to Rope",
  sentence: "Put {amount} to {stock}",
  settings: settings({ stock: STOCK, amount: amount("Units.", 372) }),
  lower(step, at) {
    const shelf = shelfOf(step, at);
    const units = at.read(step, "amount", 1);
    return at.lowering.kernel.emit((token) => {
      const put = units(token);
      if (isAmount(put, step, at)) shelf.put(put);
      return at.next;
    });
  },
});

export const orderForStock = stepKind({
  kind: "order",
  label: "Order for a stock point",
  group: "stock",
  help: "Places an order: its units are on order at once, and on hand after the lead time of the stock point, or when its supplier has brought them.",
  example: "Order 40 - Rope.position for Rope",
  sentence: "Order {amount} for {stock}",
  settings: settings({ stock: STOCK, amount: amount("Units; 0: no order.", 373) }),
  lower(step, at) {
    const shelf = shelfOf(step, at);
    const units = at.read(step, "amount", 1);
    return at.lowering.kernel.emit((token) => {
      const ordered = units(token);
      if (isAmount(ordered, step, at)) shelf.order(ordered);
      return at.next;
    });
  },
});
