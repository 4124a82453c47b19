import type { ElementBase } from "../document/element.ts";
import type { Read } from "../expression/index.ts";
import { PART, type TokenPool } from "../kernel/pool.ts";
import { count, level, meanTime, type MeasureSpecs, ratio, tally } from "../measures/spec.ts";
import type { Model, Node } from "../model/model.ts";
import { choice, condition, number, time, type ValuesOf } from "../settings/setting.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import type { Phrase } from "./kind.ts";
import type { EventSpecs } from "../lowering/events.ts";
import type { Counter } from "../lowering/counter.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Measured } from "../lowering/measured.ts";
import { strong } from "./words.ts";

/** How a line is kept, whether a queue or a station's own. */
export const LINE = {
  order: choice(
    "Next is",
    "Who of those in line is next; ties go by who came first.",
    [
      ["first come", "who came first"],
      ["last come", "who came last"],
      ["smallest first", "the smallest"],
      ["largest first", "the largest"],
    ],
    { told: "order of the line", width: 120 },
  ),
  rank: number("Compared by", "What smallest and largest first compare, such as entity.urgency.", {
    any: "number",
    entity: true,
    used: ({ order }) => order === "smallest first" || order === "largest first",
    draws: 50,
  }),
  balk: condition(
    "Do not join if",
    "Condition under which who would have to wait does not join the line. Empty: never.",
    {
      optional: true,
      entity: true,
      draws: 51,
    },
  ),
  patience: time("Patience", "Longest wait in the line before giving up. Empty: for ever.", {
    optional: true,
    draws: 52,
  }),
};

/** What an entity does that finds no room. */
export const WHEN_FULL = {
  whenFull: choice(
    "When full",
    "What an entity does that finds no room: waits where it is, or leaves the system and is counted as lost.",
    [
      ["wait", "wait at the place before"],
      ["lose", "be turned away"],
    ],
    { cells: "words", width: 180 },
  ),
};

type Kept = ElementBase & ValuesOf<typeof LINE>;
type Ordered = ElementBase & ValuesOf<Pick<typeof LINE, "order" | "rank">>;

/** Whether somebody may be turned away: for want of room, by not joining, or by giving up. */
export const turnsAway = ({ whenFull, balk, patience }: Kept & ValuesOf<typeof WHEN_FULL>): boolean =>
  whenFull === "lose" || balk.trim() !== "" || patience.trim() !== "";

/** What is measured of a line and of the waits in it. */
export const LINE_MEASURES = {
  line: level("In line", "Entities in line", { merge: "sum", better: "less" }),
  wait: tally(
    "Wait",
    "Wait in line, over all entities that left the line, those who gave up and zero waits included.",
    { merge: "pooled", better: "less" },
  ),
  waited: meanTime("Wait of those who waited", "Wait over those alone who waited at all.", {
    parts: { mean: ", mean", p95: ", 95 % quantile" },
    merge: "pooled",
    better: "less",
  }),
} as const satisfies MeasureSpecs;

/** What is measured of those who did not get into the line, or out of it. */
export const TURNED_AWAY_MEASURES = {
  came: count("Came, whether they joined or not", "Entities that came, whether they were let in and joined or not."),
  lost: count("Turned away for want of room", "Entities that left unserved for want of room.", {
    merge: "sum",
    better: "less",
  }),
  "lost.share": ratio("Turned away, share of those who came", "Lost, divided by all that came.", "lost / came", {
    better: "less",
  }),
  balked: count("Did not join the line", "Entities that would have had to wait and did not join the line.", {
    better: "less",
  }),
  "balked.share": ratio(
    "Did not join, share of those who came",
    "Those who did not join, divided by all that came.",
    "balked / came",
    { better: "less" },
  ),
  gaveUp: count("Gave up waiting", "Entities that left the line when their patience ended.", { better: "less" }),
  "gaveUp.share": ratio(
    "Gave up, share of those whose wait has ended",
    "Those who gave up, divided by those whose wait has ended, zero waits included.",
    "gave up / waits ended",
    { better: "less" },
  ),
} as const satisfies MeasureSpecs;

/**
 * What orders the line by rank, the lowest first; undefined for first come, first served. Fails the replication when
 * a rank is no number.
 */
export function ranking(node: Node<Ordered>, lowering: Lowering): Read | undefined {
  const { element } = node;
  const { kernel } = lowering;
  if (element.order === "first come") return undefined;
  if (element.order === "last come") return () => -kernel.nextJoin();
  const rank = lowering.expressions.readLater(node, "rank", 0);
  const sign = element.order === "smallest first" ? 1 : -1;
  return (token) => {
    const value = rank(token);
    if (!Number.isNaN(value)) return sign * value;
    kernel.fail({
      code: "bad-rank",
      message: "gave no number to put the line in order by.",
      hint: "Look for a division of 0 by 0.",
      id: element.id,
      field: "rank",
      value,
    });
    return 0;
  };
}

export function orderWords({ order, rank }: Ordered): Phrase[] {
  switch (order) {
    case "first come":
      return [", first come first served"];
    case "last come":
      return [", ", strong("last come first served")];
    default:
      return [", ", strong(order), " by ", strong(rank.trim() || "nothing yet")];
  }
}

/** Who does not join or gives up, and what becomes of those turned away. */
export function turnedAwayWords({ element, turnedAway }: Node<Kept>, { nodes }: Pick<Model, "nodes">): Phrase[] {
  const [balk, patience] = [element.balk.trim(), element.patience.trim()];
  return [
    ...(balk ? [" Who would have to wait does not join if ", strong(balk), "."] : []),
    ...(patience ? [" Who has waited ", strong(patience), " gives up."] : []),
    ...(turnedAway
      ? [" Those turned away go to ", strong(nodes[turnedAway.to].element.name), "."]
      : balk || patience
        ? [" Those turned away leave the system."]
        : []),
  ];
}

/** Counts of those who did not get into the line, or out of it. */
export class TurnedAway {
  /** All who came, whatever became of them; counted only where somebody may be turned away. */
  readonly came: Counter;
  readonly lost: Counter;
  readonly balked: Counter;
  readonly gaveUp: Counter;

  constructor(lowering: Lowering) {
    this.came = lowering.meters.counter();
    this.lost = lowering.meters.counter();
    this.balked = lowering.meters.counter();
    this.gaveUp = lowering.meters.counter();
  }

  /** Whether anybody may be turned away; `loses`: who finds no room is. */
  any({ settings }: Node<Kept>, loses: boolean): boolean {
    return loses || settings.has("balk");
  }

  /** Declares what is measured of them; `wait`: of those whose wait has ended. */
  measures(measured: Measured<typeof TURNED_AWAY_MEASURES>, node: Node<Kept>, loses: boolean, wait: Tally): void {
    const { came, lost, balked, gaveUp } = this;
    if (this.any(node, loses)) measured.add("came", () => came.n);
    if (loses) {
      measured.add("lost", () => lost.n);
      measured.add("lost.share", () => lost.n / came.n);
    }
    if (node.settings.has("balk")) {
      measured.add("balked", () => balked.n);
      measured.add("balked.share", () => balked.n / came.n);
    }
    if (node.settings.has("patience")) {
      measured.add("gaveUp", () => gaveUp.n);
      measured.add("gaveUp.share", () => gaveUp.n / wait.count);
    }
  }
}

/** Events of a line. */
export const JOINS = {
  "joins the line": { label: "An entity joins the line", of: "entity" },
} as const satisfies EventSpecs;
export const LINE_EVENTS = {
  ...JOINS,
  "gives up": { label: "An entity gives up waiting", of: "entity" },
} as const satisfies EventSpecs;

/** What is measured of entities in line, whether the line is a queue or a station's own. */
export class Line {
  readonly length: Level;
  readonly wait: Tally;

  private readonly pool: TokenPool;
  private readonly clock: Float64Array;
  private readonly tellJoins: ((token: number) => void) | undefined;
  private readonly tellGivesUp: ((token: number) => void) | undefined;

  constructor(lowering: Lowering, { element }: Pick<Node, "element">) {
    this.tellJoins = lowering.events.teller(element.id, "joins the line");
    this.tellGivesUp = lowering.events.teller(element.id, "gives up");
    this.pool = lowering.kernel.pool;
    this.clock = lowering.kernel.clock;
    this.length = lowering.meters.level();
    this.wait = lowering.meters.tally();
    lowering.meters.showWaits(this.wait);
  }

  /** The token joins the line, and goes on with step `pc` when it is let in. */
  join(token: number, place: number, pc: number): void {
    if (this.tellJoins) this.tellJoins(token);
    this.length.add(1);
    this.pool.beginUntil(token, place, pc, this.clock);
  }

  /** It gives up waiting: to be said before it leaves. */
  giveUp(token: number): void {
    if (this.tellGivesUp) this.tellGivesUp(token);
  }

  leave(token: number): void {
    this.length.add(-1);
    this.pool.credit(token, PART.waiting, this.clock);
    this.wait.add(this.pool.credited[0]);
  }

  measures(measured: Measured<typeof LINE_MEASURES>): void {
    const { wait } = this;
    measured.level("line", this.length);
    measured.tally("wait", [wait]);
    measured.add("waited", () => wait.sum / wait.positive, { part: "mean" });
    measured.add("waited", () => wait.quantile(0.95, true).value, {
      part: "p95",
      error: () => wait.quantile(0.95, true).error,
    });
  }
}
