import { PLAIN } from "../expression/index.ts";
import { type Claimable, WaitList } from "../kernel/claims.ts";
import { EventClass, type Step, SUSPEND } from "../kernel/kernel.ts";
import { JOINED, STRIDE_BITS } from "../kernel/pool.ts";
import { count as measureCount } from "../measures/spec.ts";
import type { Node } from "../model/model.ts";
import { count, points, settings } from "../settings/setting.ts";
import type { Counter } from "../lowering/counter.ts";
import { checkInitial, comeInAtStart, INITIAL, initialTypes } from "./initial.ts";
import { elementKind, type ElementWith } from "./kind.ts";
import {
  Line,
  LINE,
  LINE_EVENTS,
  LINE_MEASURES,
  orderWords,
  ranking,
  TURNED_AWAY_MEASURES,
  TurnedAway,
  turnedAwayWords,
  turnsAway,
  WHEN_FULL,
} from "./line.ts";
import { moveIn } from "../lowering/lines.ts";
import type { Lowering } from "../lowering/lowering.ts";
import { countWriter, SettableRoom } from "./setWhileRunning.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

export const QUEUE = settings({
  room: count("Room", "Most entities in line.", [1, 1e9], { initial: "no limit", words: ["no limit"], fixed: true }),
  ...WHEN_FULL,
  line: points(
    "The line's shape",
    "Bends of the line along which entities stand, from its head backwards, relative to the symbol.",
  ),
  ...LINE,
  ...INITIAL,
  ...WAY_OUT,
});
type Queue = ElementWith<"queue", typeof QUEUE>;

/** A line of entities. Only the one at its head looks for its next place, so those behind keep their order. */
export const queue = elementKind({
  kind: "queue",
  label: "Queue",
  plural: "Queues",
  summary: "A line where entities wait for room at the next place.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  isLine: true,
  hasLine: true,
  common: true,
  counts: "in line",
  settings: QUEUE,
  fresh: { line: [[-6, 0]] },
  sections: [
    { title: "Line", of: ["room", "whenFull"] },
    { title: "Order and patience of its line", of: ["order", "rank", "balk", "patience"], folded: true },
    { title: "At the start", of: ["initial"], folded: true },
  ],
  properties: { length: PLAIN, room: PLAIN },
  settable: ({ room }) => (room === "no limit" ? [] : ["room"]),
  events: LINE_EVENTS,
  measures: {
    ...LINE_MEASURES,
    left: measureCount("Left the line", "Entities that left the line.", { merge: "sum", better: "more" }),
    ...TURNED_AWAY_MEASURES,
  },
  aside: { "turned away": turnsAway },

  check: ({ element }, report, design) => checkInitial(element, report, design),

  bears: initialTypes,

  prepare(node, lowering, measured) {
    const { element, index } = node;
    const { kernel } = lowering;
    const line = new Line(lowering, node);
    const left = lowering.meters.counter();
    const turnedAway = new TurnedAway(lowering);
    const limit = node.settings.get("room")?.constant;
    const room = limit === undefined ? undefined : lowering.replication.claimable(limit, index);
    const places = new SettableRoom(room, limit ?? Infinity, lowering);
    const loses = room !== undefined && element.whenFull === "lose";
    if (room && !loses) lowering.network.admit(node, room);
    line.measures(measured);
    measured.add("left", () => left.n);
    turnedAway.measures(measured, node, loses, line.wait);
    lowering.shown.count(node, () => line.length.value);
    const parts: Parts = { line, left, turnedAway, room };
    const inOrder =
      element.order === "first come" &&
      !node.settings.has("balk") &&
      !node.settings.has("patience") &&
      !lowering.model.logic?.usesLines;
    const lower = inOrder ? lowerInOrder : lowerInFull;

    return {
      readers: { length: () => line.length.value, room: () => places.value },
      writers: { room: countWriter(node, lowering, "room", Infinity, (count) => places.set(count)) },
      lower() {
        comeInAtStart(node, lowering);
        const turnAway = lowering.network.turnAway(node);
        const enter = lower(node, lowering, parts, turnAway);
        lowering.network.entries[index] = kernel.emit(
          turnedAway.any(node, loses)
            ? (token) => {
                turnedAway.came.total += 1;
                if (!loses || room.tryClaim()) return enter(token);
                turnedAway.lost.total += 1;
                return turnAway(token);
              }
            : enter,
        );
      },
    };
  },

  readBack: (node, { nodes }) => [
    "Takes entities from ",
    ...fromWhere(node, nodes),
    ...orderWords(node.element),
    ", with ",
    ...(node.element.room === "no limit"
      ? ["room for any number"]
      : [
          "room for ",
          strong(node.element.room),
          node.element.whenFull === "lose"
            ? node.turnedAway
              ? "; who finds it full goes elsewhere"
              : "; who finds it full is lost"
            : "; who finds it full waits outside",
        ]),
    ".",
    ...turnedAwayWords(node, { nodes }),
    ...whereTo(node, nodes),
  ],

  takesTime: () => false,
});

interface Parts {
  readonly line: Line;
  readonly left: Counter;
  readonly turnedAway: TurnedAway;
  readonly room: Claimable | undefined;
}

type Lower = (node: Node<Queue>, lowering: Lowering, parts: Parts, turnAway: Step) => Step;

/**
 * First come, first served, and nobody gives up: the head of the line is a claimable of one unit. Returns what an
 * entity does that enters.
 */
const lowerInOrder: Lower = (node, lowering, { line, left, room }) => {
  const head = lowering.replication.claimable(1);
  const place = lowering.places.of(node, "waiting");
  const atHead = lowering.network.leave(node, {
    release(token) {
      line.leave(token);
      left.total += 1;
      head.release();
      room?.release();
    },
  });
  return (token) => {
    line.join(token, place, atHead);
    return head.claim(token) ? atHead : SUSPEND;
  };
};

/**
 * Any order, balking and patience. The head of the line is apart from the others, who wait in a list; who comes
 * to stand before it takes its place, and its claim of the next place is taken back. Where the order is not that of
 * coming, the head looks for its next place, and goes when it has been given it, at the end of the instant, when all
 * who come at it stand in line.
 */
// eslint-disable-next-line max-lines-per-function -- one machine: its steps share who is at the head
const lowerInFull: Lower = (node, lowering, { line, left, turnedAway, room }, turnAway) => {
  const { element } = node;
  const { kernel } = lowering;
  const { pool, calendar } = kernel;
  const behind = new WaitList();
  const rankOf = ranking(node, lowering);
  const inRank = element.order === "last come" ? undefined : rankOf;
  const decides = rankOf !== undefined || lowering.model.logic?.usesLines === true;
  if (decides) {
    lowering.shown.order(node, (visit) => {
      if (head >= 0) visit(head);
      behind.each(kernel, visit);
    });
  }
  const balks = lowering.expressions.optional(node, "balk");
  const patience = lowering.expressions.optional(node, "patience");
  const place = lowering.places.of(node, "waiting");
  /** Who looks for its next place; -1 for none. */
  let head = -1;
  let headRank = 0;
  /**
   * What the head has done about that place: nothing yet, claimed it, been given it (and goes at the end of the
   * instant).
   */
  let claim: "none" | "waits" | "given" = "none";
  /** Those who have been made to go on as the head, and have not done so yet. */
  const called = new Set<number>();
  lowering.replication.atStart(() => {
    behind.reset();
    head = -1;
    claim = "none";
    called.clear();
  });
  const callHead = (): void => {
    if (head < 0 || called.has(head)) return;
    called.add(head);
    kernel.resume(head);
  };
  const calledLater = decides ? lowering.replication.atEndOfInstant(EventClass.lines, callHead) : undefined;
  const callNext = () => (calledLater ? calledLater() : callHead());

  const leaveLine = (token: number): void => {
    line.leave(token);
    if (token !== head) {
      behind.remove(kernel, token);
      return;
    }
    claim = "none";
    head = behind.head;
    if (head < 0) return;
    headRank = pool.floats[(head << STRIDE_BITS) + JOINED];
    behind.shift(kernel);
    callNext();
  };
  const takeClaimBack = (token: number): void => {
    if (token === head && claim !== "none" && !(claim === "waits" && away.withdraw(token))) away.giveBack(token);
  };
  // With this step every entity in line goes on: given room, come to the head, or out of patience.
  const wake = kernel.emit((token) => {
    called.delete(token);
    if (patience && Number.isNaN(calendar.timeOf(token))) {
      takeClaimBack(token);
      leaveLine(token);
      line.giveUp(token);
      turnedAway.gaveUp.total += 1;
      room?.release();
      return turnAway(token);
    }
    // At this same instant another came to stand before it.
    if (token !== head) return SUSPEND;
    if (claim === "none") return pool.wayOf(token) >= 0 ? away.again : away.start;
    if (claim === "given" || !calledLater) return away.granted;
    // Called for room that was given back since.
    if (away.waits(token)) return SUSPEND;
    claim = "given";
    calledLater();
    return SUSPEND;
  });
  const away = lowering.network.departing(node, {
    waitAt: wake,
    onBlocked: () => void (claim = "waits"),
    release(token) {
      calendar.cancel(token);
      left.total += 1;
      leaveLine(token);
      room?.release();
    },
  });
  /** One comes to stand before the head, whose claim is taken back. */
  const standBefore = (token: number, rank: number): void => {
    if (head >= 0) {
      const given = claim === "given" || (claim === "waits" && !away.withdraw(head));
      claim = "none";
      // Where there is one way only, the room that was given is as good for who goes now.
      if (given && node.out.length === 1) {
        pool.setWay(token, pool.wayOf(head));
        claim = "given";
      } else if (given) away.giveBack(head);
      pool.setPc(head, wake);
      behind.prepend(kernel, head, headRank);
    }
    head = token;
    headRank = rank;
  };
  /** Whether the head goes at this instant, whatever is done. */
  const isGoing = (): boolean => head >= 0 && (called.has(head) || (claim === "waits" && !away.waits(head)));
  lowering.lines.add(node.index, {
    each(visit) {
      if (head >= 0 && !isGoing()) visit(head);
      behind.each(kernel, visit);
    },
    takeOut(token) {
      takeClaimBack(token);
      calendar.cancel(token);
      leaveLine(token);
      room?.release();
    },
    move(token, to) {
      if (to === "in order" && !inRank) return;
      const rank = to === "in order" ? inRank!(token) : headRank;
      if (token !== head) {
        if (isGoing() || (to !== "first" && !(to === "in order" && rank < headRank))) {
          moveIn(kernel, behind, token, to, inRank);
          return;
        }
        behind.remove(kernel, token);
        standBefore(token, rank);
      } else {
        const next = pool.floats[(behind.head << STRIDE_BITS) + JOINED];
        if (to === "in order") headRank = rank;
        if (to === "first" || behind.head < 0 || (to === "in order" && rank <= next)) return;
        takeClaimBack(token);
        claim = "none";
        pool.setPc(token, wake);
        head = behind.shift(kernel);
        headRank = next;
        behind.append(kernel, token);
        moveIn(kernel, behind, token, to, inRank, headRank);
      }
      callNext();
    },
  });
  return (token) => {
    if (balks && head >= 0 && balks(token) !== 0) {
      turnedAway.balked.total += 1;
      room?.release();
      return turnAway(token);
    }
    line.join(token, place, wake);
    pool.setWay(token, -1);
    if (patience) kernel.delay(token, patience(token), EventClass.activityEnd, element.id, "patience");
    const rank = rankOf ? rankOf(token) : 0;
    if (head >= 0 && !(rankOf && rank < headRank)) {
      if (rankOf) behind.insert(kernel, token, rank);
      else behind.append(kernel, token);
      return SUSPEND;
    }
    standBefore(token, rank);
    if (!calledLater) return away.start;
    calledLater();
    return SUSPEND;
  };
};
