import type { Claimable } from "../../kernel/claims.ts";
import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import type { Counter } from "../../lowering/counter.ts";
import { moveIn } from "../../lowering/lines.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import type { Measured } from "../../lowering/measured.ts";
import type { Node } from "../../model/model.ts";
import type { Level } from "../../statistics/level.ts";
import { comeInAtStart } from "../initial.ts";
import type { Prepared } from "../kind.ts";
import { Line, TurnedAway } from "../line.ts";
import { countWriter, isSet, SettableRoom } from "../setWhileRunning.ts";
import { costs } from "./costs.ts";
import { roomInLine } from "./room.ts";
import type { Station, STATION_MEASURES, StationProperty } from "./settings.ts";

interface PlainStation {
  readonly node: Node<Station>;
  readonly lowering: Lowering;
  readonly line: Line;
  readonly busy: Level;
  readonly blocked: Level;
  readonly done: Counter;
  readonly turnedAway: TurnedAway;
  readonly slots: Claimable;
  /** Who finds no room is turned away. */
  readonly loses: boolean;
  /** What a mover claims; without a line of its own, the slots themselves. */
  readonly room: Claimable | undefined;
  readonly lineRoom: SettableRoom;
}

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
  const station = makeStation(node, lowering);
  declareMeasures(station, measured);
  const { line, busy, blocked, slots, lineRoom } = station;
  lowering.shown.count(node, () => line.length.value);
  return {
    readers: {
      busy: () => busy.value,
      blocked: () => blocked.value,
      free: () => slots.free,
      capacity: () => slots.capacity,
      down: () => 0,
      offShift: () => 0,
      keepsHours: () => 1,
      "queue.length": () => line.length.value,
      "queue.room": () => lineRoom.value,
    },
    writers: {
      "queue.room": countWriter(node, lowering, "room", Infinity, (places) => lineRoom.set(places)),
    },
    lower() {
      comeInAtStart(node, lowering);
      lowerPlain(station);
    },
  };
}

function makeStation(node: Node<Station>, lowering: Lowering): PlainStation {
  const { element, index } = node;
  const { meters, network, replication } = lowering;
  const capacity = node.settings.get("capacity")?.constant ?? 1;
  const places = roomInLine(node, lowering.model);
  const line = new Line(lowering, node);
  const busy = meters.level();
  const blocked = meters.level();
  const done = meters.counter();
  const turnedAway = new TurnedAway(lowering);
  const slots = replication.claimable(capacity, index);
  const loses = element.whenFull === "lose" && places !== Infinity;
  const room =
    places === Infinity
      ? undefined
      : places === 0 && !isSet(lowering, "room")
        ? slots
        : replication.claimable(capacity + places, index);
  if (room && !loses) network.admit(node, room);
  const lineRoom = new SettableRoom(room, places, lowering);
  return { node, lowering, line, busy, blocked, done, turnedAway, slots, loses, room, lineRoom };
}

function declareMeasures(
  { node, lowering, line, busy, blocked, done, turnedAway, slots, loses }: PlainStation,
  measured: Measured<typeof STATION_MEASURES>,
): void {
  const { meters } = lowering;
  const { capacity } = slots;
  const share = (level: Level) => level.integral / (capacity * meters.time);
  measured.add("utilization", () => share(busy));
  measured.add("utilization.average", () => share(busy));
  const keeps = (part: string, read: () => number) =>
    measured.keeps("state", { levels: [busy, blocked], read: () => read() / capacity }, { part });
  keeps("busy", () => busy.value);
  keeps("blocked", () => blocked.value);
  keeps("idle", () => capacity - busy.value - blocked.value);
  measured.add("state", () => share(busy), { part: "busy" });
  measured.add("state", () => share(blocked), { part: "blocked" });
  measured.add("state", () => 1 - share(busy) - share(blocked), { part: "idle" });
  line.measures(measured);
  measured.add("done", () => done.n);
  meters.throughput(measured, done);
  turnedAway.measures(measured, node, loses, line.wait);
  costs(node, measured, { busy: () => busy.integral, open: () => capacity * meters.time, done });
}

/**
 * The steps of a plain station. They stand in one function, longer than others, as this is the shortest path of every
 * model: each step finds what it needs in one closure.
 */
// eslint-disable-next-line max-lines-per-function -- one closure, for speed
function lowerPlain({ node, lowering, line, busy, blocked, done, turnedAway, slots, loses, room }: PlainStation): void {
  const { element } = node;
  const { kernel, network, expressions, places, events } = lowering;
  const { pool, clock } = kernel;
  const { came, lost, balked, gaveUp } = turnedAway;
  const { entries, lastSteps } = network;
  const time = expressions.read(node, "time", 0);
  const balks = expressions.optional(node, "balk");
  const patience = expressions.optional(node, "patience");
  const waiting = places.of(node, "waiting");
  const working = places.of(node, "working");
  const blockedPlace = places.of(node, "blocked");
  const ownSlots = room === slots;
  const counts = turnedAway.any(node, loses);
  const turnAway = network.turnAway(node);
  const straightOn = network.straightOn(node, done);
  const tellEnd = events.teller(element.id, "work ends");

  const work = events.before(element.id, "work starts", (token) => {
    busy.add(1);
    pool.beginUntil(token, working, finish, clock);
    kernel.delay(token, time(token), EventClass.activityEnd, element.id, "time");
    return SUSPEND;
  });
  const begin = (token: number): number => {
    line.leave(token);
    return work(token);
  };
  const goOn = kernel.emit(begin);
  const leaveLine = () => {
    if (room && !ownSlots) room.release();
  };
  const giveUp = kernel.emit((token) => {
    slots.own.remove(kernel, token);
    line.giveUp(token);
    line.leave(token);
    gaveUp.total += 1;
    leaveLine();
    return turnAway(token);
  });
  if (patience)
    slots.onGrant = (token) => {
      kernel.calendar.cancel(token);
      pool.setPc(token, goOn);
    };
  lowering.lines.add(node.index, {
    each: (visit) => slots.own.each(kernel, visit),
    takeOut(token) {
      if (patience) kernel.calendar.cancel(token);
      slots.own.remove(kernel, token);
      line.leave(token);
      leaveLine();
    },
    move: (token, to) => moveIn(kernel, slots.own, token, to, undefined),
  });
  const enter = kernel.emit((token) => {
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
    line.join(token, waiting, goOn);
    slots.own.append(kernel, token);
    if (patience) {
      pool.setPc(token, giveUp);
      kernel.delay(token, patience(token), EventClass.activityEnd, element.id, "patience");
    }
    return SUSPEND;
  });
  network.enterBy(node, enter);
  const release = () => {
    slots.release();
    leaveLine();
  };
  const away = network.leave(node, {
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
  const finish = kernel.emit((token) => {
    busy.add(-1);
    pool.credit(token, PART.worked, clock);
    done.total += 1;
    if (tellEnd) tellEnd(token);
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
}
