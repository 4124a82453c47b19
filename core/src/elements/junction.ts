import { PLAIN } from "../expression/index.ts";
import { PART } from "../kernel/pool.ts";
import { count, level } from "../measures/spec.ts";
import { settings } from "../settings/setting.ts";
import { elementKind } from "./kind.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, whereTo } from "./words.ts";

/** A point where ways meet or part. It takes no time; who finds no room ahead waits on it, and hinders nobody. */
export const junction = elementKind({
  kind: "junction",
  label: "Junction",
  plural: "Junctions",
  summary: "A point where ways meet or part.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  passes: true,
  counts: "so far",
  settings: settings(WAY_OUT),
  sections: [],
  properties: { passed: PLAIN, waiting: PLAIN },
  measures: {
    passed: count("Passed", "Entities that passed."),
    waiting: level("Waiting for room ahead", "Entities on it that wait for room ahead", { better: "less" }),
  },

  prepare(node, lowering, measured) {
    const { index } = node;
    const { kernel } = lowering;
    const { pool, clock } = kernel;
    const passed = lowering.meters.counter();
    const waiting = lowering.meters.level();
    measured.add("passed", () => passed.n);
    measured.level("waiting", waiting);
    lowering.shown.count(node, () => passed.total);
    return {
      readers: { passed: () => passed.total, waiting: () => waiting.value },
      lower() {
        const blocked = lowering.places.of(node, "blocked");
        const { conveyors } = lowering.network;
        const mayGoElsewhere =
          node.element.wayOut === "first free" || node.out.some(({ link }) => link.among === "first free");
        lowering.network.entries[index] = lowering.network.leave(node, {
          release(token) {
            passed.total += 1;
            // Who came on a conveyor stands at its end until then.
            if (!conveyors.isEmpty) conveyors.letOff(token);
          },
          onBlocked(token) {
            waiting.add(1);
            pool.begin(token, blocked, clock);
            if (!conveyors.isEmpty && !mayGoElsewhere) conveyors.waits(token, node.out[pool.wayOf(token)]);
          },
          onUnblocked(token) {
            waiting.add(-1);
            pool.credit(token, PART.blocked, clock);
          },
        });
      },
    };
  },

  readBack: (node, { nodes }) => [
    "Entities from ",
    ...fromWhere(node, nodes),
    " pass here in no time.",
    ...whereTo(node, nodes),
  ],

  takesTime: () => false,
});
