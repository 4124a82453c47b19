import type { ElementOf } from "../document/schema.ts";
import { PLAIN } from "../expression/index.ts";
import { NUMBER } from "../quantity/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART, PHASE, placeCode } from "../kernel/pool.ts";
import type { Node } from "../model/model.ts";
import type { Level } from "../statistics/level.ts";
import { countField, timeField } from "./fields.ts";
import type { ElementKind } from "./kind.ts";
import type { Counter, Lowering } from "./lowering.ts";
import { strong, whereTo } from "./words.ts";

/** Most entities in one group. */
const MOST_IN_GROUP = 10_000;

export const arrivals: ElementKind<"arrivals"> = {
  kind: "arrivals",
  label: "Arrivals",
  plural: "Arrivals",
  summary: "Where entities enter the system.",
  group: "flow",
  hasWayIn: false,
  hasWayOut: true,
  fields: [
    timeField("between", "Time between", "Time from one arrival to the next.", { entity: false }),
    timeField("first", "First arrival", "Empty: after one time between arrivals.", { entity: false, optional: true }),
    countField("group", "Group size", "Entities that arrive together.", [0, MOST_IN_GROUP]),
    countField("limit", "Limit", "Most arrivals (groups); empty: no limit.", [1, 1e12], { optional: true, fixed: true }),
  ],
  properties: { created: PLAIN },

  prepare(node, lowering) {
    const { element } = node;
    const created = lowering.counter();
    const outside = lowering.level();
    const add = lowering.measuresOf(element, "arrivals");
    add("created", "Created", NUMBER, () => created.n);
    lowering.throughput(add, created);
    lowering.levelMeasures(add, "outside", "Waiting to enter", outside);
    lowering.property(node, "created", () => created.total);
    lowering.showCount(node, () => created.total);
    const type = lowering.model.types.findIndex((t) => t.type.id === element.entityType);

    return () => lower(node, lowering, type, { created, outside });
  },

  readBack(node, { nodes, types }) {
    const { element } = node;
    const type = types.find((t) => t.type.id === element.entityType)?.type.name ?? "no entity type yet";
    const many = element.group !== "1" ? [strong(element.group), " at a time, "] : [];
    return [
      "Brings in ", strong(type), ", ", ...many, "one arrival every ", strong(element.between),
      ...(element.first ? [", the first at ", strong(element.first)] : []),
      ...(element.limit ? [", at most ", strong(element.limit), " in all"] : []),
      ".",
      ...whereTo(node, nodes),
    ];
  },

  takesTime: () => true,
};

interface Meters {
  readonly created: Counter;
  readonly outside: Level;
}

/** A process that makes a group, waits the time between arrivals, and makes the next. */
function lower(node: Node<ElementOf<"arrivals">>, lowering: Lowering, type: number, { created, outside }: Meters): void {
  const { kernel } = lowering;
  const { pool } = kernel;
  const { element, index } = node;
  const between = lowering.read(node, "between", 0);
  const first = node.settings.has("first") ? lowering.read(node, "first", 0) : between;
  const group = lowering.read(node, "group", 1);
  const fixedGroup = node.settings.get("group")?.constant ?? -1;
  const limit = node.settings.get("limit")?.constant ?? Infinity;
  const tracked = lowering.tracksPresence;
  const bear = lowering.birth(type);
  let arrived = 0;

  const { entries } = lowering;
  const straightOn = lowering.straightOn(node, created);
  const born = lowering.leave(node, {
    onBlocked: (token) => {
      outside.add(1);
      pool.begin(token, placeCode(index, PHASE.waiting), kernel.clock);
    },
    onUnblocked: (token) => {
      outside.add(-1);
      pool.credit(token, PART.waiting, kernel.clock);
    },
  });
  const drawGroup = (token: number): number => {
    const size = group(token);
    if (Number.isInteger(size) && size >= 0 && size <= MOST_IN_GROUP) return size;
    kernel.fail({
      code: "invalid-count",
      message: `gave ${size} entities, and a group is a whole number from 0 to ${MOST_IN_GROUP}.`,
      hint: "Use round(…) or a distribution of whole numbers.",
      id: element.id,
      field: "group",
      value: size,
    });
    return 0;
  };
  const arrive = kernel.here + 1;
  lowering.entries[index] = kernel.emit((token) => {
    pool.setPc(token, arrive);
    kernel.delay(token, first(token), EventClass.arrival, element.id, node.settings.has("first") ? "first" : "between");
    return SUSPEND;
  });
  kernel.emit((token) => {
    const size = fixedGroup >= 0 ? fixedGroup : drawGroup(token);
    for (let i = 0; i < size; i++) {
      created.total += 1;
      if (tracked) lowering.come(index);
      bear(straightOn < 0 ? born : entries[straightOn]);
    }
    if (++arrived >= limit) {
      pool.release(token);
      return SUSPEND;
    }
    kernel.delay(token, between(token), EventClass.arrival, element.id, "between");
    return SUSPEND;
  });
  lowering.atStart(() => {
    arrived = 0;
    kernel.startProcess(lowering.entries[index], 0, EventClass.arrival);
  });
}
