import type { Read } from "../../expression/index.ts";
import type { Lowering } from "../../lowering/lowering.ts";
import { type Node, streamOf } from "../../model/model.ts";
import type { Arrivals } from "./settings.ts";
import { readTimes } from "../readTimes.ts";

/** When the next arrival comes, in seconds from now, or, where `absolute`, from the start; Infinity when none does. */
export interface NextArrival {
  readonly first: Read;
  readonly next: Read;
  /** The setting that says so. */
  readonly field: string;
  readonly absolute?: boolean;
  /** Has the row of who arrives now at hand. */
  readonly rowNow?: () => void;
}

/**
 * When entities arrive. A
 * demand profile is followed exactly: an arrival comes when the integral of the rate has grown by an
 * exponential amount of mean 1 (Çinlar 1975, inversion of the cumulative rate), or by 1 where they come evenly.
 */
export function nextArrival(node: Node<Arrivals>, lowering: Lowering): NextArrival {
  const { kernel } = lowering;
  const { element } = node;
  if (element.by === "time between") {
    const next = lowering.expressions.read(node, "between", 0);
    return {
      first: node.settings.has("first") ? lowering.expressions.read(node, "first", 0) : next,
      next,
      field: "between",
    };
  }
  if (element.by === "profile") {
    const profile = lowering.model.timetables.get(element.profile);
    if (element.spacing === "even" && profile) {
      const { next, reset } = profile.countingUp();
      lowering.replication.atStart(reset);
      return { first: next, next, field: "profile", absolute: true };
    }
    const amount = lowering.expressions.exponential(streamOf(element, "profile"));
    const next = () => (profile ? profile.whenIntegral(kernel.now, amount()) - kernel.now : Infinity);
    return { first: next, next, field: "profile" };
  }
  if (element.by === "table") return arrivalsOfRows(node, lowering);
  const { times } = readTimes(element.listed);
  let sum = 0;
  const at = element.listedAs === "times" ? [...times].sort((a, b) => a - b) : times.map((gap) => (sum += gap));
  let position = 0;
  lowering.replication.atStart(() => (position = 0));
  const next = () => (position < at.length ? Math.max(0, at[position++] - kernel.now) : Infinity);
  return { first: next, next, field: "listed" };
}

/** Rows come at their times, those of one time in their order; who arrives has its row at hand. */
function arrivalsOfRows(node: Node<Arrivals>, lowering: Lowering): NextArrival {
  const { kernel, expressions, replication } = lowering;
  const { rows } = node;
  const at = expressions.read(node, "arrivesAt", 0);
  const field = "arrivesAt";
  if (!rows) return { first: () => Infinity, next: () => Infinity, field };
  let [order, times]: [Int32Array, Float64Array] = [new Int32Array(0), new Float64Array(0)];
  let position = 0;
  replication.atStart(() => {
    times = Float64Array.from({ length: rows.table.rows }, (_, row) => {
      rows.at = row;
      return at(-1);
    });
    order = Int32Array.from(times.keys()).sort((a, b) => times[a] - times[b] || a - b);
    position = 0;
  });
  const next = () => {
    if (position === order.length) return Infinity;
    const time = times[order[position++]];
    return Number.isNaN(time) ? Number.NaN : Math.max(0, time - kernel.now);
  };
  return { first: next, next, field, rowNow: () => (rows.at = order[position - 1]) };
}

/** Takes the row of each entity, at random or in turn; undefined where no table is asked. */
export function rowTaker(
  node: Node<Arrivals>,
  { kernel, expressions, replication }: Lowering,
): (() => boolean) | undefined {
  const { rows, element } = node;
  if (!rows || element.by === "table") return undefined;
  const count = rows.table.rows;
  if (element.takes === "in turn") {
    let last = -1;
    replication.atStart(() => (last = -1));
    return () => {
      rows.at = last = (last + 1) % count;
      return true;
    };
  }
  const weight = expressions.read(node, "weight", 1);
  const uniform = expressions.uniform(streamOf(element, "mix"));
  const weights = new Float64Array(count);
  return () => {
    let sum = 0;
    for (rows.at = 0; rows.at < count; rows.at++) sum += weights[rows.at] = Math.max(0, weight(-1));
    if (!(sum > 0 && sum < Infinity)) {
      kernel.fail({
        code: "bad-share",
        message: `The weights of the rows of ${rows.table.name} at ${element.name} came to ${sum}.`,
        hint: "Give at least one row a weight above 0.",
        id: element.id,
        field: "weight",
        value: sum,
      });
      return false;
    }
    let left = uniform() * sum;
    let row = 0;
    for (let i = 0; i < count; i++) {
      if (weights[i] === 0) continue;
      row = i;
      left -= weights[i];
      if (left < 0) break;
    }
    rows.at = row;
    return true;
  };
}
