import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { NO_TYPE } from "../kernel/pool.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { RuleModel } from "../model/logic.ts";
import { DAY, secondsOfMoment, type Timetable } from "../timetable/index.ts";

/** Has a rule of the system act when its time comes, or when what it follows has changed. */
export function fireSystemRule(rule: RuleModel, lowering: Lowering, act: () => void): void {
  const { replication, expressions, kernel, model } = lowering;
  const { id, streams, event, calendar } = rule.rule;
  switch (event) {
    case "start":
      return at(
        lowering,
        () => 0,
        act,
        () => Infinity,
      );
    case "end":
      kernel.onEnd.push(act);
      return;
    case "once": {
      const first = rule.first?.compile(expressions.environment(streams.first ?? 0, id, "first"));
      return at(
        lowering,
        () => duration(lowering, first?.(-1) ?? 0, id, "first"),
        act,
        () => Infinity,
      );
    }
    case "every":
      return every(rule, lowering, act);
    case "at times": {
      const next = (after: number) => nextTimeOfDay(rule.times, after, model.days);
      return at(
        lowering,
        () => next(-1),
        act,
        () => next(kernel.now),
      );
    }
    case "at dates": {
      const next = (after: number) => nextDate(rule.times, after, model);
      return at(
        lowering,
        () => next(-1),
        act,
        () => next(kernel.now),
      );
    }
    case "shift begins":
    case "shift ends": {
      const timetable = model.timetables.get(calendar);
      if (!timetable) return;
      const open = event === "shift begins";
      const next = (after: number) => nextShift(timetable, after, open);
      return at(
        lowering,
        () => (open && timetable.at(0) > 0 ? 0 : next(0)),
        act,
        () => next(kernel.now),
      );
    }
    case "changes": {
      if (!rule.value) return;
      const value = rule.value.compile(expressions.environment(0, id, "value"));
      let last = Number.NaN;
      let known = false;
      replication.atStart(() => (known = false));
      expressions.onChangeOf(rule.value, () => {
        const now = value(-1);
        const changed = known && now !== last;
        known = true;
        last = now;
        if (changed) act();
      });
    }
  }
}

/** Has `act` done at a first time, and again and again after a time. */
function every(rule: RuleModel, lowering: Lowering, act: () => void): void {
  const { expressions, kernel } = lowering;
  const { id, streams } = rule.rule;
  const read = (name: "every" | "first") => rule[name]?.compile(expressions.environment(streams[name] ?? 0, id, name));
  const [first, period] = [read("first"), read("every")];
  const fixed = rule.every?.constant;
  // Counted from the first, as sums of many periods are not exact.
  let begun = 0;
  let count = 0;
  at(
    lowering,
    () => {
      count = 0;
      begun = duration(lowering, (first ?? period)?.(-1) ?? 0, id, first ? "first" : "every");
      return begun;
    },
    act,
    () => {
      count += 1;
      return fixed === undefined
        ? kernel.now + duration(lowering, period?.(-1) ?? 0, id, "every")
        : begun + count * fixed;
    },
  );
}

/** A time that must not be negative. */
function duration({ kernel }: Lowering, seconds: number, id: string, field: string): number {
  if (seconds >= 0 && seconds < Infinity) return seconds;
  kernel.failDuration(seconds, id, field);
  return 0;
}

/** Has `act` done at a first time and then at those that `next` gives, until that is Infinity. */
function at({ kernel, replication }: Lowering, first: () => number, act: () => void, next: () => number): void {
  let tick = -1;
  const schedule = (token: number, time: number): void => {
    if (time === Infinity) return;
    kernel.pool.setPc(token, tick);
    kernel.scheduleAt(token, time, EventClass.activityEnd);
  };
  tick = kernel.emit((token) => {
    act();
    if (!kernel.ended) schedule(token, next());
    return SUSPEND;
  });
  replication.fill(() => schedule(kernel.pool.take(NO_TYPE, tick, kernel.clock), first()));
}

/** Seconds by which a moment counts as past before its time: sums need not be exact. */
const EARLY = 1e-6;

/** Days looked through for a time of day. */
const MOST_DAYS = 400;

/** The first of some times of day after a running time; Infinity when none comes. */
function nextTimeOfDay(times: readonly number[], after: number, days: Lowering["model"]["days"]): number {
  const start = days.wall(0);
  const wall = days.wall(Math.max(after, 0));
  for (let day = Math.floor(wall / DAY), last = day + MOST_DAYS; day < last; day++)
    for (const time of times) {
      const moment = day * DAY + time;
      if (moment < start) continue;
      const running = days.runningTime(moment - start);
      // A night that is skipped has no such time.
      if (running > after + EARLY && Math.abs(days.wall(running) - moment) < 1e-3) return running;
      if (after < 0 && moment === start) return 0;
    }
  return Infinity;
}

/** The first of some dates after a running time; Infinity when none comes. */
function nextDate(dates: readonly number[], after: number, { days, settings }: Lowering["model"]): number {
  const start = secondsOfMoment(settings.start);
  for (const date of dates) {
    if (date < start) continue;
    const running = days.runningTime(date - start);
    // What falls into a night that is skipped does not come.
    const comes = Math.abs(days.wall(running) - days.wall(0) - (date - start)) < 1e-3;
    if (comes && (running > after + EARLY || (after < 0 && running === 0))) return running;
  }
  return Infinity;
}

/** When the next shift begins, or ends. */
function nextShift(timetable: Timetable, after: number, open: boolean): number {
  let time = after;
  while (time < Infinity) {
    const before = timetable.at(time) > 0;
    time = timetable.nextWhere(time, (value) => value > 0 !== before);
    if (time < Infinity && !before === open) return time;
  }
  return Infinity;
}
