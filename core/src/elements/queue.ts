import { PLAIN } from "../expression/index.ts";
import { SUSPEND } from "../kernel/kernel.ts";
import { PHASE, placeCode } from "../kernel/pool.ts";
import { NUMBER } from "../quantity/index.ts";
import { countField } from "./fields.ts";
import type { ElementKind } from "./kind.ts";
import { Line } from "./line.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/**
 * A line of entities, first come first served. Its head is a claimable of one
 * unit: only the entity at the head looks for its next place, so those behind
 * keep their order.
 */
export const queue: ElementKind<"queue"> = {
  kind: "queue",
  label: "Queue",
  plural: "Queues",
  summary: "A line where entities wait for room at the next place.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  fields: [countField("room", "Room", "Most entities in line.", [1, 1e9], { words: ["no limit"], fixed: true })],
  properties: { length: PLAIN },

  prepare(node, lowering) {
    const { element, index } = node;
    const { kernel } = lowering;
    const line = new Line(lowering);
    const left = lowering.counter();
    const lost = lowering.counter();
    const limit = node.settings.get("room")?.constant;
    const room = limit === undefined ? undefined : lowering.claimable(limit, index);
    const head = lowering.claimable(1);
    if (room && element.whenFull === "wait") lowering.admit(node, room);
    const add = lowering.measuresOf(element, "queue");
    line.measures(add);
    add("left", "Left the line", NUMBER, () => left.n);
    if (room && element.whenFull === "lose") add("lost", "Turned away for want of room", NUMBER, () => lost.n);
    lowering.property(node, "length", () => line.length.value);
    lowering.showCount(node, () => line.length.value);

    return () => {
      const place = placeCode(index, PHASE.waiting);
      const turnAway = lowering.turnAway(node);
      const enter = (token: number): number => {
        line.join(token, place, atHead);
        return head.claim(token) ? atHead : SUSPEND;
      };
      lowering.entries[index] = kernel.emit(
        room && element.whenFull === "lose"
          ? (token) => {
              if (room.tryClaim()) return enter(token);
              lost.total += 1;
              return turnAway(token);
            }
          : enter,
      );
      const atHead = lowering.leave(node, {
        release(token) {
          line.leave(token);
          left.total += 1;
          head.release();
          room?.release();
        },
      });
    };
  },

  readBack: (node, { nodes }) => [
    "Takes entities from ", ...fromWhere(node, nodes), ", first come first served, with ",
    ...(node.element.room === "no limit" ? ["room for any number"] : ["room for ", strong(node.element.room), node.element.whenFull === "lose" ? (node.turnedAway ? "; who finds it full goes elsewhere" : "; who finds it full is lost") : "; who finds it full waits outside"]),
    ".",
    ...whereTo(node, nodes),
  ],

  takesTime: () => false,
};
