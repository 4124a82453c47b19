import type { ElementOf } from "../document/schema.ts";
import { PLAIN, type Read, YES_NO } from "../expression/index.ts";
import { PART, type TokenPool } from "../kernel/pool.ts";
import type { Model, Node } from "../model/model.ts";
import { NUMBER, TIME } from "../quantity/index.ts";
import type { Level } from "../statistics/level.ts";
import type { Tally } from "../statistics/tally.ts";
import { type FieldSpec, timeField } from "./fields.ts";
import type { Phrase } from "./kind.ts";
import type { Counter } from "./counter.ts";
import type { Lowering } from "./lowering.ts";
import { strong } from "./words.ts";

type Kept = ElementOf<"queue"> | ElementOf<"station">;

/** How a line is kept, whether a queue or a station's own. */
export const LINE_FIELDS: readonly FieldSpec[] = [
  {
    name: "rank",
    label: "Compared by",
    help: "What smallest and largest first compare, such as entity.urgency.",
    type: PLAIN,
    any: "number",
    entity: true,
    used: ({ order }) => order === "smallest first" || order === "largest first",
  },
  {
    name: "balk",
    label: "Do not join if",
    help: "Condition under which who would have to wait does not join the line.",
    type: YES_NO,
    optional: true,
    entity: true,
  },
  timeField("patience", "Patience", "Longest wait in the line before giving up. Empty: for ever.", { optional: true }),
];

/**
 * What orders the line by rank, the lowest first; undefined for first come, first served. Fails the replication when
 * a rank is no number.
 */
export function ranking(node: Node<Kept>, lowering: Lowering): Read | undefined {
  const { element } = node;
  const { kernel } = lowering;
  if (element.order === "first come") return undefined;
  if (element.order === "last come") return () => -kernel.nextJoin();
  const rank = lowering.read(node, "rank", 0);
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

export function orderWords({ order, rank }: Kept): Phrase[] {
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
    this.came = lowering.counter();
    this.lost = lowering.counter();
    this.balked = lowering.counter();
    this.gaveUp = lowering.counter();
  }

  /** Whether anybody may be turned away; `loses`: who finds no room is. */
  any({ settings }: Node<Kept>, loses: boolean): boolean {
    return loses || settings.has("balk");
  }

  /** Declares what is measured of them; `wait`: of those whose wait has ended. */
  measures(add: ReturnType<Lowering["measuresOf"]>, node: Node<Kept>, loses: boolean, wait: Tally): void {
    const { came, lost, balked, gaveUp } = this;
    if (this.any(node, loses)) add("came", "Came, whether they joined or not", NUMBER, () => came.n);
    if (loses) {
      add("lost", "Turned away for want of room", NUMBER, () => lost.n);
      add("lost.share", "Turned away, share of those who came", NUMBER, () => lost.n / came.n);
    }
    if (node.settings.has("balk")) {
      add("balked", "Did not join the line", NUMBER, () => balked.n);
      add("balked.share", "Did not join, share of those who came", NUMBER, () => balked.n / came.n);
    }
    if (node.settings.has("patience")) {
      add("gaveUp", "Gave up waiting", NUMBER, () => gaveUp.n);
      add("gaveUp.share", "Gave up, share of those whose wait has ended", NUMBER, () => gaveUp.n / wait.count);
    }
  }
}

/** What is measured of entities in line, whether the line is a queue or a station's own. */
export class Line {
  readonly length: Level;
  readonly wait: Tally;

  private readonly pool: TokenPool;
  private readonly clock: Float64Array;

  constructor(private readonly lowering: Lowering) {
    this.pool = lowering.kernel.pool;
    this.clock = lowering.kernel.clock;
    this.length = lowering.level();
    this.wait = lowering.tally();
    lowering.showWaits(this.wait);
  }

  /** The token joins the line, and goes on with step `pc` when it is let in. */
  join(token: number, place: number, pc: number): void {
    this.length.add(1);
    this.pool.beginUntil(token, place, pc, this.clock);
  }

  leave(token: number): void {
    this.length.add(-1);
    this.pool.credit(token, PART.waiting, this.clock);
    this.wait.add(this.pool.credited[0]);
  }

  measures(add: ReturnType<Lowering["measuresOf"]>): void {
    this.lowering.levelMeasures(add, "line", "In line", this.length);
    this.lowering.tallyMeasures(add, "wait", "Wait", () => this.wait);
    const { wait } = this;
    add("waited.mean", "Wait of those who waited, mean", TIME, () => wait.sum / wait.positive);
    add(
      "waited.p95",
      "Wait of those who waited, 95 % quantile",
      TIME,
      () => wait.quantile(0.95, true).value,
      () => wait.quantile(0.95, true).error,
    );
  }
}
