import type { Read } from "../../expression/index.ts";
import { EventClass, type Kernel, SUSPEND } from "../../kernel/kernel.ts";
import { moveIn } from "../../lowering/lines.ts";
import { NEXT, NO_TYPE, STRIDE_BITS } from "../../kernel/pool.ts";
import { ranking } from "../line.ts";
import type { FullStation } from "./fullStation.ts";
import type { Slots } from "./slots.ts";

/**
 * The line before the slots: who comes in stands in it, unless a slot is free at once, and is served in its order, in
 * batches where there are such; `start` is the step with which the work on a batch starts.
 */
export function lowerBatchLine(station: FullStation, slots: Slots, start: number): void {
  const { node, lowering, units, line, inLine, turnedAway, least, most, loses, room, batched, decidesLater } = station;
  const { element } = node;
  const { kernel, network, expressions } = lowering;
  const { pool } = kernel;
  const { came, lost, balked, gaveUp } = turnedAway;
  const balks = expressions.optional(node, "balk");
  const patience = expressions.optional(node, "patience");
  const rankOf = ranking(node, lowering);
  const inRank = element.order === "last come" ? undefined : rankOf;
  if (rankOf) lowering.shown.order(node, (visit) => inLine.each(kernel, visit));
  const waiting = lowering.places.of(node, "waiting");
  const counts = turnedAway.any(node, loses);
  const turnAway = network.turnAway(node);
  const clock = waitClock(station, least > 1 ? expressions.optional(node, "batchWait") : undefined);

  const leaveLine = (token: number): void => {
    if (patience) kernel.calendar.cancel(token);
    line.leave(token);
  };
  station.serveNow = () => {
    while (units.free > 0 && inLine.head >= 0 && (inLine.length >= least || clock.isOverdue())) {
      const size = Math.min(most, inLine.length);
      const leader = takeBatch(kernel, station, size, leaveLine);
      slots.seize(leader, size);
      pool.setPc(leader, start);
      kernel.resume(leader);
      clock.set();
    }
  };
  const giveUp = kernel.emit((token) => {
    inLine.remove(kernel, token);
    line.giveUp(token);
    line.leave(token);
    gaveUp.total += 1;
    room?.release();
    clock.set();
    return turnAway(token);
  });
  const join = (token: number): void => {
    line.join(token, waiting, giveUp);
    if (rankOf) inLine.insert(kernel, token, rankOf(token));
    else inLine.append(kernel, token);
    if (patience) kernel.delay(token, patience(token), EventClass.activityEnd, element.id, "patience");
    if (batched && inLine.length === 1) clock.set();
    if (decidesLater) station.serve();
  };
  lowering.lines.add(node.index, {
    each: (visit) => inLine.each(kernel, visit),
    takeOut(token) {
      inLine.remove(kernel, token);
      leaveLine(token);
      room?.release();
      clock.set();
    },
    move: (token, to) => moveIn(kernel, inLine, token, to, inRank),
  });
  const enter = kernel.emit((token) => {
    if (counts) came.total += 1;
    if (loses && !room!.tryClaim()) {
      lost.total += 1;
      return turnAway(token);
    }
    if (!decidesLater && inLine.head < 0 && units.free > 0) {
      line.wait.addZero();
      pool.ints[(token << STRIDE_BITS) + NEXT] = -1;
      slots.seize(token, 1);
      return start;
    }
    // Those in line before it may have to be enough for a batch with it, and for no more than the free slots take.
    const mustWait = inLine.length >= units.free * most || inLine.length + 1 < least;
    if (balks && mustWait && balks(token) !== 0) {
      balked.total += 1;
      room?.release();
      return turnAway(token);
    }
    join(token);
    return SUSPEND;
  });
  network.enterBy(node, enter);
}

/** Takes the first `size` out of the line, each to be followed by the next; returns the first. */
function takeBatch(kernel: Kernel, { inLine }: FullStation, size: number, leaveLine: (token: number) => void): number {
  const { pool } = kernel;
  const leader = inLine.shift(kernel);
  leaveLine(leader);
  let last = leader;
  for (let i = 1; i < size; i++) {
    const token = inLine.shift(kernel);
    leaveLine(token);
    pool.ints[(last << STRIDE_BITS) + NEXT] = token;
    last = token;
  }
  pool.ints[(last << STRIDE_BITS) + NEXT] = -1;
  return leader;
}

/** The clock that lets a small batch start when the first in line have waited long enough. */
function waitClock(station: FullStation, batchWait: Read | undefined) {
  const { node, lowering, inLine } = station;
  const { kernel } = lowering;
  const { pool, clock } = kernel;
  if (!batchWait) return { isOverdue: () => false, set: () => undefined };
  let overdue = false;
  let timer = -1;
  const late = kernel.emit(() => {
    overdue = true;
    station.serve();
    return SUSPEND;
  });
  lowering.replication.atStart(() => {
    overdue = false;
    timer = pool.take(NO_TYPE, late, clock);
  });
  /** By who has waited longest. */
  const set = (): void => {
    overdue = false;
    kernel.calendar.cancel(timer);
    if (inLine.head < 0) return;
    let oldest = inLine.head;
    for (let token = inLine.head; token >= 0; token = pool.ints[(token << STRIDE_BITS) + NEXT])
      if (pool.sinceOf(token) < pool.sinceOf(oldest)) oldest = token;
    const limit = batchWait(oldest);
    if (!(limit >= 0)) kernel.failDuration(limit, node.element.id, "batchWait");
    else if (limit < Infinity)
      kernel.schedule(timer, Math.max(0, pool.sinceOf(oldest) + limit - clock[0]), EventClass.activityEnd);
  };
  return { isOverdue: () => overdue, set };
}
