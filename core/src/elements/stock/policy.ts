import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import { NO_TYPE } from "../../kernel/pool.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Shelf } from "../../lowering/shelf.ts";
import type { Node } from "../../model/model.ts";
import { isReviewed, type Stock } from "./settings.ts";

/** Orders new units by the policy: at each demand, or at reviews. */
export function followPolicy(node: Node<Stock>, lowering: Lowering, shelf: Shelf): void {
  const { element } = node;
  const value = (name: string) => node.settings.get(name)?.constant ?? 0;
  const [point, quantity, top] = [value("reorder"), value("quantity"), value("level")];
  const { position } = shelf;
  const look = {
    none: undefined,
    "point, quantity": () => {
      // A large demand may ask for several at once.
      while (position.value <= point) shelf.order(quantity);
    },
    "point, level": () => {
      if (position.value <= point) shelf.order(top - position.value);
    },
    "base stock": () => {
      if (position.value < top) shelf.order(top - position.value);
    },
    "review, quantity": () => {
      if (position.value <= point) shelf.order(quantity);
    },
    "review, level": () => {
      if (position.value < top) shelf.order(top - position.value);
    },
    "review, point, level": () => {
      if (position.value <= point) shelf.order(top - position.value);
    },
  }[element.policy];
  if (!look) return;
  if (isReviewed(element)) reviewTimeAndAgain(node, lowering, look);
  else {
    shelf.reviewed = look;
    // What is there at the start may call for an order at once.
    lowering.replication.fill(look);
  }
}

/** Has `look` done at a first time, and again and again after a time. */
function reviewTimeAndAgain(node: Node<Stock>, { kernel, replication, expressions }: Lowering, look: () => void): void {
  const { id } = node.element;
  const every = expressions.read(node, "every", 0);
  const first = expressions.optional(node, "first");
  const fixed = node.settings.get("every")?.constant;
  // Counted from the first, as sums of many periods are not exact.
  let begun = 0;
  let count = 0;
  let review = -1;
  review = kernel.emit((token) => {
    look();
    count += 1;
    kernel.pool.setPc(token, review);
    if (fixed !== undefined) kernel.scheduleAt(token, begun + count * fixed, EventClass.activityEnd);
    else kernel.delay(token, every(-1), EventClass.activityEnd, id, "every");
    return SUSPEND;
  });
  replication.fill(() => {
    count = 0;
    begun = (first ?? every)(-1);
    const token = kernel.pool.take(NO_TYPE, review, kernel.clock);
    kernel.delay(token, begun, EventClass.activityEnd, id, first ? "first" : "every");
  });
}
