import { PLAIN } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART, PHASE, placeCode } from "../kernel/pool.ts";
import type { ElementOf } from "../document/schema.ts";
import type { Model, Node } from "../model/model.ts";
import { NUMBER } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import { countField, timeField } from "./fields.ts";
import type { ElementKind, Phrase } from "./kind.ts";
import { Line } from "./line.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** Works on entities in its slots; those that find no free slot stand in its own line, as far as there is room. */
export const station: ElementKind<"station"> = {
  kind: "station",
  label: "Station",
  plural: "Stations",
  summary: "Works on entities, a few at once.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  fields: [
    countField("capacity", "Capacity", "Entities worked on at once.", [1, 1e6], { fixed: true }),
    timeField("time", "Time", "Time of work on one entity."),
    countField("room", "Room in line", "Most entities in the station's own line. Auto: none when a queue leads here, else no limit.", [0, 1e9], { words: ["auto", "no limit"], fixed: true }),
  ],
  properties: { busy: PLAIN, free: PLAIN, capacity: PLAIN, blocked: PLAIN, "queue.length": PLAIN },

  prepare(node, lowering) {
    const { element, index } = node;
    const { kernel } = lowering;
    const { pool, clock } = kernel;
    const capacity = node.settings.get("capacity")?.constant ?? 1;
    const lineRoom = roomInLine(node, lowering.model);
    const line = new Line(lowering);
    const busy = lowering.level();
    const blocked = lowering.level();
    const done = lowering.counter();
    const lost = lowering.counter();
    const slots = lowering.claimable(capacity, index);
    const loses = element.whenFull === "lose" && lineRoom !== Infinity;
    // Without a line of its own, the slots themselves are what a mover claims.
    const room = lineRoom === Infinity ? undefined : lineRoom === 0 ? slots : lowering.claimable(capacity + lineRoom, index);
    if (room && !loses) lowering.admit(node, room);

    const add = lowering.measuresOf(element, "station");
    const share = (level: Level) => level.integral / (capacity * lowering.measuredTime);
    add("utilization", "Utilization, busy over scheduled time", NUMBER, () => share(busy));
    add("utilization.average", "Utilization, average of busy over available", NUMBER, () => share(busy));
    add("state.busy", "Share of time busy", NUMBER, () => share(busy));
    add("state.blocked", "Share of time blocked", NUMBER, () => share(blocked));
    add("state.idle", "Share of time idle", NUMBER, () => 1 - share(busy) - share(blocked));
    line.measures(add);
    add("done", "Finished", NUMBER, () => done.n);
    lowering.throughput(add, done);
    if (loses) {
      add("lost", "Turned away for want of room", NUMBER, () => lost.n);
      add("lost.share", "Turned away, share of those who came", NUMBER, () => lost.n / (lost.n + line.wait.count));
    }
    lowering.property(node, "busy", () => busy.value);
    lowering.property(node, "blocked", () => blocked.value);
    lowering.property(node, "free", () => slots.free);
    lowering.property(node, "capacity", () => capacity);
    lowering.property(node, "queue.length", () => line.length.value);
    lowering.showCount(node, () => line.length.value);

    return () => {
      const time = lowering.read(node, "time", 0);
      const waiting = placeCode(index, PHASE.waiting);
      const working = placeCode(index, PHASE.working);
      const blockedPlace = placeCode(index, PHASE.blocked);
      const ownSlots = room === slots;

      const work = (token: number): number => {
        busy.add(1);
        pool.beginUntil(token, working, finish, clock);
        kernel.delay(token, time(token), EventClass.activityEnd, element.id, "time");
        return SUSPEND;
      };
      const { entries, lastSteps } = lowering;
      const straightOn = lowering.straightOn(node, done);
      const start = kernel.here + 1;
      lowering.entries[index] = kernel.emit((token) => {
        if (loses && !room!.tryClaim()) {
          lost.total += 1;
          return lowering.lose(token, node);
        }
        if (ownSlots || slots.tryClaim()) {
          line.wait.addZero();
          return work(token);
        }
        line.join(token, waiting, start);
        slots.claim(token);
        return SUSPEND;
      });
      const begin = (token: number): number => {
        line.leave(token);
        return work(token);
      };
      kernel.emit(begin);
      const release = () => {
        slots.release();
        if (room && !ownSlots) room.release();
      };
      const finish = kernel.emit((token) => {
        busy.add(-1);
        pool.credit(token, PART.worked, clock);
        done.total += 1;
        if (straightOn < 0) return away;
        const last = lastSteps[straightOn];
        if (!last || room) {
          release();
          return last ? last(token) : entries[straightOn];
        }
        const next = slots.handOver();
        last(token);
        if (next < 0) return SUSPEND;
        if (kernel.nothingReady) return begin(next);
        kernel.resume(next);
        return SUSPEND;
      });
      const away = lowering.leave(node, {
        release,
        onBlocked(token) {
          blocked.add(1);
          pool.begin(token, blockedPlace, clock);
        },
        onUnblocked(token) {
          blocked.add(-1);
          pool.credit(token, PART.blocked, clock);
        },
      });
    };
  },

  readBack: (node, model) => [
    "Takes entities from ", ...fromWhere(node, model.nodes), ", first come first served. ",
    strong(node.element.capacity), " at once, ", strong(node.element.time), " each.",
    ...lineWords(node, model),
    ...whereTo(node, model.nodes),
  ],

  takesTime: ({ settings }) => settings.get("time")?.constant !== 0,
};

/** Room in the station's own line; Infinity without a limit. */
export function roomInLine({ element, settings, in: ways }: Node<ElementOf<"station">>, { nodes }: Pick<Model, "nodes">): number {
  if (element.room === "no limit") return Infinity;
  if (element.room === "auto") return ways.some((way) => nodes[way.from].element.kind === "queue") ? 0 : Infinity;
  return settings.get("room")?.constant ?? Infinity;
}

function lineWords(node: Node<ElementOf<"station">>, model: Pick<Model, "nodes">): Phrase[] {
  const room = roomInLine(node, model);
  if (room === Infinity) return [" Its own line has room for any number."];
  const full = node.element.whenFull === "lose" ? "; who finds it full is lost" : "; who finds it full waits at the place before";
  return room === 0 ? [` It has no line of its own${full}.`] : [" Its own line has room for ", strong(String(room)), `${full}.`];
}
