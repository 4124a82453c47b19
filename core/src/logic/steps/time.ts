import { nameKey, PLAIN, type Read } from "../../expression/index.ts";

import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import { choice, condition, expression, settings } from "../../settings/setting.ts";
import { anyNumber, name, stepTime } from "../fields.ts";
import type { Emitting } from "../emitting.ts";
import { stepKind } from "../kind.ts";
import type { StepModel } from "../../model/logic.ts";

const COUNTS_AS = {
  work: { phase: "working", part: PART.worked },
  waiting: { phase: "waiting", part: PART.waiting },
  stay: { phase: "dwelling", part: PART.dwelling },
} as const;

/**
 * Has a token let time pass, which counts as one thing or another, and go on as `then` says. Work stands still while
 * something that is held for it is down or off shift.
 */
export function timed(
  step: StepModel,
  { lowering, id, standingAt, stops }: Emitting,
  as: keyof typeof COUNTS_AS,
  time: Read,
  then: Read,
): Read {
  const { kernel } = lowering;
  const { pool, clock } = kernel;
  const { phase, part } = COUNTS_AS[as];
  const field = `${step.step.id}.time`;
  const stand = standingAt(phase);
  if (as === "work" && stops) {
    const { work, standing } = lowering.resources;
    const done = kernel.emit((token) => {
      work.end(token);
      const stood = standing.sinceTold(token);
      if (pool.typeOf(token) >= 0) {
        pool.credit(token, part, clock);
        standing.move(token, stood);
      }
      return then(token);
    });
    return (token) => {
      stand(token);
      pool.setPc(token, done);
      work.begin(token, time(token), id, field);
      return SUSPEND;
    };
  }
  const over = kernel.emit((token) => {
    if (pool.typeOf(token) >= 0) pool.credit(token, part, clock);
    return then(token);
  });
  return (token) => {
    stand(token);
    pool.setPc(token, over);
    kernel.delay(token, time(token), EventClass.activityEnd, id, field);
    return SUSPEND;
  };
}

/** Lets time pass. */
export const wait = stepKind({
  kind: "wait",
  label: "Wait for a time",
  group: "time",
  help: "Lets time pass before the next step. It counts as work on the entity, as waiting or as a stay; work stands still while something that is held is down or off shift.",
  example: "Wait 5 min",
  sentence: "Wait {time}( as {as})",
  settings: settings({
    time: stepTime("Time", "How long.", { initial: "1 min", draws: 310 }),
    as: choice("Counts as", "What the time counts as, of an entity's time in the system.", [
      ["work", "work"],
      ["waiting", "waiting"],
      ["stay", "a stay"],
    ]),
  }),
  takesTime: () => true,
  lower(step, at) {
    const { as } = step.step as unknown as { as: keyof typeof COUNTS_AS };
    return at.lowering.kernel.emit(timed(step, at, as, at.read(step, "time"), () => at.next));
  },
});

const PATIENCE = stepTime("For at most", "How long it waits. Empty: for ever.", { optional: true, draws: 311 });

/** Emits what a token does that waits for something, perhaps for a time at most; `join` has it wait. */
export function waiting(
  step: StepModel,
  { lowering, next, otherwise, optional, id, standingAt, waits }: Emitting,
  join: (token: number) => void,
  leave: (token: number) => void,
): (token: number) => number {
  const { kernel } = lowering;
  const { pool, clock } = kernel;
  const patience = optional(step, "patience");
  const stand = standingAt("waiting");
  const limited = patience && waits.limited(patience, id, `${step.step.id}.patience`, leave);
  const decided = kernel.emit((token) => {
    if (pool.typeOf(token) >= 0) pool.credit(token, PART.waiting, clock);
    return limited?.isOver(token) ? otherwise : next;
  });
  return (token) => {
    stand(token);
    pool.setPc(token, decided);
    join(token);
    if (limited && !kernel.failure) limited.begin(token);
    return SUSPEND;
  };
}

/** Waits until a condition holds. */
export const waitUntil = stepKind({
  kind: "wait until",
  label: "Wait until something is so",
  group: "time",
  help: "Goes on when the condition holds: at once, or when what it reads has changed so. Where it waits for a time at most, the steps under an Otherwise behind it are done when that is over.",
  example: "Wait until Dock.queue.length < 3, for at most 10 min",
  sentence: "Wait until {condition}(, for at most {patience})",
  settings: settings({
    condition: condition("Condition", "What must hold, such as Dock.queue.length < 3.", { entity: true, steady: true }),
    patience: PATIENCE,
  }),
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, read, waits } = at;
    const { kernel } = lowering;
    const holds = read(step, "condition");
    const { waiting: list, join, leave } = waits.until(step.fields.get("condition")!, holds);
    waits.measure(at.id, step, () => list.length);
    const stand = waiting(step, at, join, leave);
    return kernel.emit((token) => (holds(token) !== 0 ? next : stand(token)));
  },
});

const SIGNAL = expression("Signal", "Its name.", PLAIN, { names: "new" });

/** Waits for a signal. */
export const waitFor = stepKind({
  kind: "wait for",
  label: "Wait for a signal",
  group: "time",
  help: "Goes on when the signal is given the next time, whoever gives it. The value that comes with it can be given a name.",
  example: "Wait for the signal tide, and call its value depth",
  sentence: "Wait for the signal {signal}(, for at most {patience})(, and call its value {into})",
  settings: settings({
    signal: SIGNAL,
    patience: PATIENCE,
    into: name("Call its value", "A name for the value that comes with the signal. Empty: none.", { optional: true }),
  }),
  declares: [{ field: "into", type: PLAIN }],
  takesTime: () => true,
  lower(step, at) {
    const { lowering, signals, next, locals } = at;
    const { kernel } = lowering;
    const text = String((step.step as unknown as { signal: string }).signal);
    const signal = signals.of(nameKey(text), text);
    // Of all who wait for it, those at this step.
    let here = 0;
    lowering.replication.atStart(() => (here = 0));
    at.waits.measure(at.id, step, () => here);
    const slot = step.slots.get("into");
    const gone = kernel.emit((token) => {
      here -= 1;
      if (slot !== undefined) locals.write(token, slot, signal.value);
      return next;
    });
    const stand = waiting(
      step,
      { ...at, next: gone },
      (token) => {
        here += 1;
        signal.waiting.append(kernel, token);
      },
      (token) => {
        here -= 1;
        signal.waiting.remove(kernel, token);
      },
    );
    return kernel.emit(stand);
  },
});

/** Gives a signal. */
export const giveSignal = stepKind({
  kind: "signal",
  label: "Give a signal",
  group: "time",
  help: "All who wait for the signal go on. A value may come with it.",
  example: "Give the signal tide with 4",
  sentence: "Give the signal {signal}( with {value})",
  settings: settings({
    signal: SIGNAL,
    value: anyNumber("Value", "A number that comes with it. Empty: 0.", { optional: true, draws: 312 }),
  }),
  lower(step, { lowering: { kernel }, signals, next, read }) {
    const text = String((step.step as unknown as { signal: string }).signal);
    const signal = signals.of(nameKey(text), text);
    const value = read(step, "value");
    return kernel.emit((token) => {
      signals.give(signal, value(token));
      return next;
    });
  },
});
