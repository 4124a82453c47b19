import { PLAIN } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART, PHASE, placeCode } from "../kernel/pool.ts";
import { NUMBER } from "../quantity/index.ts";
import { DESTINATION_FIELD, timeField } from "./fields.ts";
import { elementKind } from "./kind.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** A stay with no limit of places. */
export const dwell = elementKind({
  kind: "dwell",
  label: "Dwell",
  plural: "Dwells",
  summary: "A stay of some time, for any number at once.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  fields: [timeField("time", "Time", "Length of stay."), DESTINATION_FIELD],
  properties: { count: PLAIN },

  prepare(node, lowering) {
    const { element, index } = node;
    const { kernel } = lowering;
    const { pool } = kernel;
    const inside = lowering.level();
    const stayed = lowering.tally();
    const add = lowering.measuresOf(element, "dwell");
    lowering.levelMeasures(add, "inside", "Inside", inside);
    lowering.tallyMeasures(add, "stay", "Stay", () => stayed);
    add("left", "Left", NUMBER, () => stayed.count);
    lowering.shown.count(node, () => inside.value);

    return {
      readers: { count: () => inside.value },
      lower() {
        const time = lowering.read(node, "time", 0);
        const dwelling = placeCode(index, PHASE.dwelling);
        const entry = kernel.here;
        lowering.entries[index] = kernel.emit((token) => {
          inside.add(1);
          pool.beginUntil(token, dwelling, entry + 1, kernel.clock);
          kernel.delay(token, time(token), EventClass.activityEnd, element.id, "time");
          return SUSPEND;
        });
        kernel.emit((token) => {
          pool.credit(token, PART.dwelling, kernel.clock);
          stayed.add(pool.credited[0]);
          return away;
        });
        const away = lowering.leave(node, {
          release: () => inside.add(-1),
          ...lowering.blocking(node),
        });
      },
    };
  },

  readBack: (node, { nodes }) => [
    "Takes entities from ",
    ...fromWhere(node, nodes),
    ". Each stays ",
    strong(node.element.time),
    ", any number at once.",
    ...whereTo(node, nodes),
  ],

  takesTime: ({ settings }) => settings.get("time")?.constant !== 0,
});
