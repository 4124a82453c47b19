import { PLAIN } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { count, level, tally } from "../measures/spec.ts";
import { settings, time } from "../settings/setting.ts";
import { elementKind } from "./kind.ts";
import { WAY_OUT } from "./wayOut.ts";
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
  common: true,
  counts: "inside",
  settings: settings({
    time: time("Time", "Length of stay.", { initial: "uniform(10 min, 20 min)", draws: 10, width: 230 }),
    ...WAY_OUT,
  }),
  sections: [{ title: "Stay", of: ["time"] }],
  properties: { count: PLAIN },
  measures: {
    inside: level("Inside", "Entities staying", { merge: "sum" }),
    stay: tally("Stay", "Length of stay."),
    left: count("Left", "Entities that left.", { merge: "sum", better: "more" }),
  },

  prepare(node, lowering, measured) {
    const { element } = node;
    const { kernel } = lowering;
    const { pool } = kernel;
    const inside = lowering.meters.level();
    const stayed = lowering.meters.tally();
    measured.level("inside", inside);
    measured.tally("stay", [stayed]);
    measured.add("left", () => stayed.count);
    lowering.shown.count(node, () => inside.value);

    return {
      readers: { count: () => inside.value },
      lower() {
        const duration = lowering.expressions.read(node, "time", 0);
        const dwelling = lowering.places.of(node, "dwelling");
        const away = lowering.network.leave(node, {
          release: () => inside.add(-1),
          ...lowering.network.blocking(node),
        });
        const over = kernel.emit((token) => {
          pool.credit(token, PART.dwelling, kernel.clock);
          stayed.add(pool.credited[0]);
          return away;
        });
        const enter = kernel.emit((token) => {
          inside.add(1);
          pool.beginUntil(token, dwelling, over, kernel.clock);
          kernel.delay(token, duration(token), EventClass.activityEnd, element.id, "time");
          return SUSPEND;
        });
        lowering.network.enterBy(node, enter);
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
