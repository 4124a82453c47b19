import { PLAIN } from "../expression/index.ts";
import { SUSPEND } from "../kernel/kernel.ts";
import { NUMBER, TIME } from "../quantity/index.ts";
import { mergeTallies } from "../statistics/tally.ts";
import { elementKind } from "./kind.ts";
import { fromWhere } from "./words.ts";

/** Where entities leave the system; times in the system are taken here, by exit and by type. */
export const departures = elementKind({
  kind: "departures",
  label: "Departures",
  plural: "Departures",
  summary: "Where entities leave the system.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: false,
  fields: [],
  properties: { departed: PLAIN },

  prepare(node, lowering) {
    const { element, index } = node;
    const { kernel, typeMeters, model } = lowering;
    const { pool, clock } = kernel;
    const tracked = lowering.tracksPresence;
    const only = typeMeters.length === 1;
    const counts = model.stop.count !== undefined;
    const departed = lowering.counter();
    const times = typeMeters.map((meter) => meter.exit());
    const add = lowering.measuresOf(element, "departures");
    add("departed", "Departed here", NUMBER, () => departed.n);
    lowering.tallyMeasures(add, "timeInSystem", "Time in system by this exit", () => mergeTallies(times));
    if (times.length > 1) {
      times.forEach((tally, i) => {
        const { id, name } = model.types[i].type;
        add(`departed.${id}`, `${name}: departed here`, NUMBER, () => tally.count);
        add(`timeInSystem.mean.${id}`, `${name}: time in system by this exit, mean`, TIME, () => tally.mean);
      });
    }
    lowering.shown.count(node, () => departed.total);

    return {
      readers: { departed: () => departed.total },
      lower() {
        const contents = lowering.keepsContents ? lowering.contents : undefined;
        const leave = (token: number): number => {
          // What an entity still carries leaves with it.
          if (contents) {
            contents.takeOut(token, (member) => {
              lowering.come(index);
              leave(member);
            });
          }
          const type = only ? 0 : pool.typeOf(token);
          typeMeters[type].depart(token, contents);
          times[type].add(clock[0] - pool.bornAt(token));
          departed.total += 1;
          if (tracked) lowering.gone(index);
          pool.release(token);
          if (counts) lowering.countDeparture();
          return SUSPEND;
        };
        lowering.endHere(node, leave);
      },
    };
  },

  readBack: (node, { nodes }) => ["Entities from ", ...fromWhere(node, nodes), " leave the system here."],

  takesTime: () => true,
});
