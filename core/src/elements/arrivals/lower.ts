import type { Read } from "../../expression/index.ts";
import { EventClass, type Step, SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import type { Counter } from "../../lowering/counter.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Node } from "../../model/model.ts";
import type { Level } from "../../statistics/level.ts";
import { birth } from "./births.ts";
import { nextArrival } from "./nextArrival.ts";
import { type Arrivals, MOST_IN_GROUP } from "./settings.ts";

export interface Meters {
  readonly created: Counter;
  readonly outside: Level;
}

/** A process that makes a group, waits until the next arrival, and makes the next. */
export function lower(
  node: Node<Arrivals>,
  lowering: Lowering,
  { created, outside }: Meters,
  groups: { arrived: number },
): void {
  const { kernel, network, presence, replication } = lowering;
  const { pool } = kernel;
  const { index, settings } = node;
  const { first, next, field, absolute, rowNow } = nextArrival(node, lowering);
  const drawGroup = groupSize(node, lowering);
  const fixedGroup = settings.get("group")?.constant ?? -1;
  const limit = settings.get("limit")?.constant ?? Infinity;
  const tracked = presence.isKept;
  const bear = birth(node, lowering);
  const goOn = waitForNext(node, lowering, absolute ?? false);

  const { entries } = network;
  const straightOn = network.straightOn(node, created);
  const outsidePlace = lowering.places.of(node, "waiting");
  const born = network.leave(node, {
    onBlocked: (token) => {
      outside.add(1);
      pool.begin(token, outsidePlace, kernel.clock);
    },
    onUnblocked: (token) => {
      outside.add(-1);
      pool.credit(token, PART.waiting, kernel.clock);
    },
  });
  const isPlain = !node.rows && fixedGroup === 1 && limit === Infinity && !tracked && straightOn >= 0;
  const arriveAlone: Step = (token) => {
    created.total += 1;
    const entity = bear(entries[straightOn]);
    goOn(token, next(token), field);
    kernel.goOnAtOnce(entity);
    return SUSPEND;
  };
  const arriveTogether: Step = (token) => {
    if (rowNow) rowNow();
    groups.arrived += 1;
    const size = fixedGroup >= 0 ? fixedGroup : drawGroup(token);
    let entity = -1;
    for (let i = 0; i < size; i++) {
      created.total += 1;
      if (tracked) presence.come(index);
      entity = bear(straightOn < 0 ? born : entries[straightOn]);
    }
    if (groups.arrived >= limit) {
      pool.release(token);
      return SUSPEND;
    }
    goOn(token, next(token), field);
    if (size === 1) kernel.goOnAtOnce(entity);
    return SUSPEND;
  };
  const arrive = kernel.emit(isPlain ? arriveAlone : arriveTogether);
  const begin = kernel.emit((token) => {
    pool.setPc(token, arrive);
    return goOn(token, first(token), settings.has("first") ? "first" : field);
  });
  network.enterBy(node, begin);
  replication.atStart(() => {
    groups.arrived = 0;
    kernel.startProcess(begin, 0, EventClass.arrival);
  });
}

/** How many arrive together, as drawn. */
function groupSize(node: Node<Arrivals>, { kernel, expressions }: Lowering): Read {
  const group = expressions.read(node, "group", 1);
  return (token) => {
    const size = group(token);
    if (Number.isInteger(size) && size >= 0 && size <= MOST_IN_GROUP) return size;
    kernel.fail({
      code: "invalid-count",
      message: `gave ${size} entities, and a group is a whole number from 0 to ${MOST_IN_GROUP}.`,
      hint: "Use round(…) or a distribution of whole numbers.",
      id: node.element.id,
      field: "group",
      value: size,
    });
    return 0;
  };
}

/** Has the process wait until the next arrival, or end when there is none. */
function waitForNext(
  { element, settings }: Node<Arrivals>,
  { kernel }: Lowering,
  absolute: boolean,
): (token: number, duration: number, of: string) => number {
  const { pool } = kernel;
  const until = settings.get("until")?.constant ?? Infinity;
  // An infinite time between arrivals is a mistake, an infinite wait for a profile or list is its end.
  if (element.by === "time between" && until === Infinity)
    return (token, duration, of) => {
      kernel.delay(token, duration, EventClass.arrival, element.id, of);
      return SUSPEND;
    };
  return (token, duration, of) => {
    if (duration === Infinity || (absolute ? duration : kernel.now + duration) > until) pool.release(token);
    else if (absolute) kernel.scheduleAt(token, duration, EventClass.arrival);
    else kernel.delay(token, duration, EventClass.arrival, element.id, of);
    return SUSPEND;
  };
}
