import { PLAIN, type Read, YES_NO } from "../expression/index.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART, PHASE, placeCode } from "../kernel/pool.ts";
import type { ElementOf } from "../document/schema.ts";
import type { Model, Node } from "../model/model.ts";
import { NUMBER } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import { countField, timeField } from "./fields.ts";
import type { ElementKind, Phrase } from "./kind.ts";
import { Line } from "./line.ts";
import type { Lowering } from "./lowering.ts";
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
    { name: "rank", label: "Compared by", help: "What smallest and largest first compare, such as entity.urgency.", type: PLAIN, anyNumber: true, optional: true, entity: true, rare: true },
    { name: "balk", label: "Do not join if", help: "Condition under which who would have to wait does not join the line.", type: YES_NO, optional: true, entity: true, rare: true },
    timeField("patience", "Patience", "Longest wait in the line before giving up. Empty: for ever.", { optional: true, rare: true }),
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
    const balked = lowering.counter();
    const gaveUp = lowering.counter();
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
    if (node.settings.has("balk")) {
      add("balked", "Did not join the line", NUMBER, () => balked.n);
      add("balked.share", "Did not join, share of those who came", NUMBER, () => balked.n / (balked.n + line.wait.count));
    }
    if (node.settings.has("patience")) {
      add("gaveUp", "Gave up waiting", NUMBER, () => gaveUp.n);
      add("gaveUp.share", "Gave up, share of those who joined", NUMBER, () => gaveUp.n / line.wait.count);
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
      const turnAway = lowering.turnAway(node);
      const rankOf = ranking(node, lowering);
      const balks = node.settings.has("balk") ? lowering.read(node, "balk", 0) : undefined;
      const patience = node.settings.has("patience") ? lowering.read(node, "patience", 0) : undefined;
      const leaveLine = () => {
        if (room && !ownSlots) room.release();
      };
      const giveUp = kernel.here;
      if (patience) {
        kernel.emit((token) => {
          slots.own.remove(kernel, token);
          line.leave(token);
          gaveUp.total += 1;
          leaveLine();
          return turnAway(token);
        });
        slots.onGrant = (token) => {
          kernel.calendar.cancel(token);
          pool.setPc(token, start);
        };
      }
      const straightOn = lowering.straightOn(node, done);
      const start = kernel.here + 1;
      lowering.entries[index] = kernel.emit((token) => {
        if (loses && !room!.tryClaim()) {
          lost.total += 1;
          return turnAway(token);
        }
        if (ownSlots || slots.tryClaim()) {
          line.wait.addZero();
          return work(token);
        }
        if (balks && balks(token) !== 0) {
          balked.total += 1;
          leaveLine();
          return turnAway(token);
        }
        line.join(token, waiting, start);
        if (rankOf) slots.own.insert(kernel, token, rankOf(token));
        else slots.own.append(kernel, token);
        if (patience) {
          pool.setPc(token, giveUp);
          kernel.delay(token, patience(token), EventClass.activityEnd, element.id, "patience");
        }
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
    "Takes entities from ", ...fromWhere(node, model.nodes), ...orderWords(node.element),
    strong(node.element.capacity), " at once, ", strong(node.element.time), " each.",
    ...lineWords(node, model),
    ...turnedAwayWords(node, model),
    ...whereTo(node, model.nodes),
  ],

  takesTime: ({ settings }) => settings.get("time")?.constant !== 0,
};

/** What orders the line by rank, the lowest first; undefined for first come, first served. Fails the replication when a rank is no number. */
function ranking(node: Node<ElementOf<"station">>, lowering: Lowering): Read | undefined {
  const { element } = node;
  const { kernel } = lowering;
  if (element.order === "first come") return undefined;
  if (element.order === "last come") return () => -kernel.nextJoin();
  const rank = lowering.read(node, "rank", 0);
  const sign = element.order === "smallest first" ? 1 : -1;
  return (token) => {
    const value = rank(token);
    if (!Number.isNaN(value)) return sign * value;
    kernel.fail({ code: "bad-rank", message: "gave no number to put the line in order by.", hint: "Look for a division of 0 by 0.", id: element.id, field: "rank", value });
    return 0;
  };
}

function orderWords({ order, rank }: ElementOf<"station">): Phrase[] {
  switch (order) {
    case "first come": return [", first come first served. "];
    case "last come": return [", ", strong("last come first served"), ". "];
    default: return [", ", strong(order), " by ", strong(rank.trim() || "nothing yet"), ". "];
  }
}

/** Who does not join or gives up, and what becomes of those turned away. */
function turnedAwayWords({ element, turnedAway }: Node<ElementOf<"station">>, { nodes }: Pick<Model, "nodes">): Phrase[] {
  const [balk, patience] = [element.balk.trim(), element.patience.trim()];
  return [
    ...(balk ? [" Who would have to wait does not join if ", strong(balk), "."] : []),
    ...(patience ? [" Who has waited ", strong(patience), " gives up."] : []),
    ...(turnedAway ? [" Those turned away go to ", strong(nodes[turnedAway.to].element.name), "."] : balk || patience ? [" Those turned away leave the system."] : []),
  ];
}

/** Room in the station's own line; Infinity without a limit. */
export function roomInLine({ element, settings, in: ways }: Node<ElementOf<"station">>, { nodes }: Pick<Model, "nodes">): number {
  if (element.room === "no limit") return Infinity;
  if (element.room === "auto") return ways.some((way) => nodes[way.from].element.kind === "queue") ? 0 : Infinity;
  return settings.get("room")?.constant ?? Infinity;
}

function lineWords(node: Node<ElementOf<"station">>, model: Pick<Model, "nodes">): Phrase[] {
  const { turnedAway } = node;
  const room = roomInLine(node, model);
  if (room === Infinity) return [" Its own line has room for any number."];
  const full = node.element.whenFull === "lose" ? (turnedAway ? "; who finds it full is turned away" : "; who finds it full is lost") : "; who finds it full waits at the place before";
  return room === 0 ? [` It has no line of its own${full}.`] : [" Its own line has room for ", strong(String(room)), `${full}.`];
}
