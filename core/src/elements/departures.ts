import { PLAIN } from "../expression/index.ts";
import { SUSPEND } from "../kernel/kernel.ts";
import { count, tally } from "../measures/spec.ts";
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
  common: true,
  counts: "so far",
  settings: {},
  sections: [],
  properties: { departed: PLAIN },
  measures: {
    departed: count("Departed here", "Entities that left by this departure after the warm-up.", {
      each: "entity type",
      better: "more",
    }),
    timeInSystem: tally(
      "Time in system by this exit",
      "From arrival to departure, over entities that departed here after the warm-up.",
      { each: "entity type", better: "less" },
    ),
  },

  prepare(node, lowering, measured) {
    const { index } = node;
    const { kernel, model } = lowering;
    const { typeMeters } = lowering.population;
    const { pool, clock } = kernel;
    const tracked = lowering.presence.isKept;
    const only = typeMeters.length === 1;
    const counts = model.stop.count !== undefined;
    const departed = lowering.meters.counter();
    const exits = typeMeters.map((meter) => meter.exitBy(node.element));
    const times = exits.map((exit) => exit.times);
    const { by } = exits[0] ?? { by: -1 };
    measured.add("departed", () => departed.n);
    measured.tally("timeInSystem", times);
    if (times.length > 1) {
      times.forEach((tally, i) => {
        const each = model.types[i].type;
        measured.add("departed", () => tally.count, { each });
        measured.keeps("timeInSystem", { tallies: () => [tally] }, { each });
        measured.add("timeInSystem", () => tally.mean, { each, part: "mean" });
      });
    }
    lowering.shown.count(node, () => departed.total);

    return {
      readers: { departed: () => departed.total },
      lower() {
        const { population } = lowering;
        let departing = population.departing;
        lowering.replication.atStart(() => (departing = population.departing));
        const contents = lowering.model.carries ? lowering.population.contents : undefined;
        const leave = (token: number): number => {
          // What an entity still carries leaves with it.
          if (contents) {
            contents.takeOut(token, (member) => {
              lowering.presence.come(index);
              leave(member);
            });
          }
          if (departing) departing(token, index);
          const type = only ? 0 : pool.typeOf(token);
          typeMeters[type].depart(token, contents, by);
          times[type].add(clock[0] - pool.bornAt(token));
          departed.total += 1;
          if (tracked) lowering.presence.gone(index);
          pool.release(token);
          if (counts) lowering.replication.countDeparture();
          return SUSPEND;
        };
        lowering.network.endHere(node, leave);
      },
    };
  },

  readBack: (node, { nodes }) => ["Entities from ", ...fromWhere(node, nodes), " leave the system here."],

  takesTime: () => true,
});
