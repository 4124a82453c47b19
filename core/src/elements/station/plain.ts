import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import type { Node } from "../../model/model.ts";
import type { Level } from "../../statistics/level.ts";
import { Line, TurnedAway } from "../line.ts";
import type { Prepared } from "../kind.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Measured } from "../../lowering/measured.ts";
import { costs } from "./costs.ts";
import { comeInAtStart } from "../initial.ts";
import { roomInLine } from "./room.ts";
import type { Station, STATION_MEASURES, StationProperty } from "./settings.ts";

/**
 * A station without calendar, setups, resources, breakdowns or batches, whose line is in the order of coming: entities
 * claim a slot and their own pending event is the end of the work. Nothing is kept of slots but
 * how many are free, so that such stations cost no more than they must.
 */
export function preparePlain(
  node: Node<Station>,
  lowering: Lowering,
  measured: Measured<typeof STATION_MEASURES>,
): Prepared<StationProperty> {
  const { element, index } = node;
  const { kernel } = lowering;
  const { pool, clock } = kernel;
  const capacity = node.settings.get("capacity")?.constant ?? 1;
  const lineRoom = roomInLine(node, lowering.model);
  const line = new Line(lowering);
  const busy = lowering.meters.level();
  const blocked = lowering.meters.level();
  const done = lowering.meters.counter();
  const turnedAway = new TurnedAway(lowering);
  const { came, lost, balked, gaveUp } = turnedAway;
  const slots = lowering.replication.claimable(capacity, index);
  const loses = element.whenFull === "lose" && lineRoom !== Infinity;
  // Without a line of its own, the slots themselves are what a mover claims.
  const room =
    lineRoom === Infinity
      ? undefined
      : lineRoom === 0
        ? slots
        : lowering.replication.claimable(capacity + lineRoom, index);
  if (room && !loses) lowering.network.admit(node, room);

  const share = (level: Level) => level.integral / (capacity * lowering.meters.time);
  measured.add("utilization", () => share(busy));
  measured.add("utilization.average", () => share(busy));
  measured.add("state", () => share(busy), { part: "busy" });
  measured.add("state", () => share(blocked), { part: "blocked" });
  measured.add("state", () => 1 - share(busy) - share(blocked), { part: "idle" });
  line.measures(measured);
  measured.add("done", () => done.n);
  lowering.meters.throughput(measured, done);
  turnedAway.measures(measured, node, loses, line.wait);
  costs(node, measured, { busy: () => busy.integral, open: () => capacity * lowering.meters.time, done });
  lowering.shown.count(node, () => line.length.value);

  const readers = {
    busy: () => busy.value,
    blocked: () => blocked.value,
    free: () => slots.free,
    capacity: () => capacity,
    down: () => 0,
    offShift: () => 0,
    "queue.length": () => line.length.value,
  };

  const lower = (): void => {
    comeInAtStart(node, lowering);
    const time = lowering.expressions.read(node, "time", 0);
    const waiting = lowering.places.of(node, "waiting");
    const working = lowering.places.of(node, "working");
    const blockedPlace = lowering.places.of(node, "blocked");
    const ownSlots = room === slots;
    const counts = turnedAway.any(node, loses);

    const work = (token: number): number => {
      busy.add(1);
      pool.beginUntil(token, working, finish, clock);
      kernel.delay(token, time(token), EventClass.activityEnd, element.id, "time");
      return SUSPEND;
    };
    const { entries, lastSteps } = lowering.network;
    const turnAway = lowering.network.turnAway(node);
    const balks = node.settings.has("balk") ? lowering.expressions.read(node, "balk", 0) : undefined;
    const patience = node.settings.has("patience") ? lowering.expressions.read(node, "patience", 0) : undefined;
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
    const straightOn = lowering.network.straightOn(node, done);
    const start = kernel.here + 1;
    lowering.network.entries[index] = kernel.emit((token) => {
      if (counts) came.total += 1;
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
      slots.own.append(kernel, token);
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
    const away = lowering.network.leave(node, {
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
  return { readers, lower };
}
