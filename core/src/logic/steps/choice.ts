import { PLAIN, type Read } from "../../expression/index.ts";
import type { StepModel } from "../../model/logic.ts";
import { condition, number, settings } from "../../settings/setting.ts";
import type { Emitting } from "../emitting.ts";
import { name } from "../fields.ts";
import { collection, isLine, valuesOf } from "../collections.ts";
import { handleOf } from "../../model/sources.ts";
import { stepKind } from "../kind.ts";
import { linesBy } from "./line.ts";

/** Steps that are waited for: behind them, an Otherwise is for when that did not come about. */
const MAY_FAIL = [
  "wait until",
  "wait for",
  "claim",
  "take a spot",
  "take from stock",
  "keep",
  "take",
  "call for",
  "meet",
  "use",
  "find",
  "reserve",
];

const CONDITION = condition("Condition", "What must hold, such as entity.rush or Dock.queue.length > 3.", {
  entity: true,
  draws: 320,
});

const branch = (step: StepModel, { lowering: { kernel }, next, otherwise, under, read }: Emitting): number => {
  const holds = read(step, "condition");
  const body = under(step.steps, next);
  return kernel.emit((token) => (holds(token) !== 0 ? body : otherwise));
};

export const when = stepKind({
  kind: "if",
  label: "If",
  group: "choice",
  help: "Does the steps under it only where the condition holds.",
  example: "If entity.firstTime",
  sentence: "If {condition}",
  settings: settings({ condition: CONDITION }),
  holdsSteps: true,
  lower: branch,
});

export const otherwiseIf = stepKind({
  kind: "else if",
  label: "Otherwise, if",
  group: "choice",
  help: "Where no condition before it held, does the steps under it if this one does.",
  example: "Otherwise, if entity.rush",
  sentence: "Otherwise, if {condition}",
  settings: settings({ condition: CONDITION }),
  holdsSteps: true,
  after: ["if", "else if"],
  lower: branch,
});

export const otherwise = stepKind({
  kind: "else",
  label: "Otherwise",
  group: "choice",
  help: "Does the steps under it where nothing before it held; behind a step that waits for a time at most, where that was over; behind one that looks for something, where nothing was found.",
  example: "Otherwise",
  sentence: "Otherwise",
  settings: settings({}),
  holdsSteps: true,
  after: ["if", "else if", ...MAY_FAIL],
  lower: (step, { next, under }) => under(step.steps, next),
});

/** One of several, by weights. */
export const chance = stepKind({
  kind: "chance",
  label: "Choose by chance",
  group: "choice",
  help: "Does the steps under one of the cases under it, each as likely as its weight says.",
  example: "Choose by chance",
  sentence: "Choose by chance",
  settings: settings({}),
  holdsSteps: true,
  drawsAs: "chance",
  lower(step, { lowering, next, under, readOf, fail }) {
    const { kernel, expressions } = lowering;
    const cases = step.steps.map((one) => ({
      body: under(one.steps, next),
      weight: one.fields.has("weight") ? readOf(one, "weight", one.fields.get("weight")!) : () => 0,
    }));
    const uniform = expressions.uniform(step.step.streams.chance ?? 0);
    return kernel.emit((token) => {
      let sum = 0;
      for (let i = 0; i < cases.length; i++) sum += cases[i].weight(token);
      if (!(sum > 0 && sum < Infinity)) {
        fail(step, "chance", "step-failed", `gave weights that sum to ${sum}.`, "One of them must be above 0.");
        return next;
      }
      let left = uniform() * sum;
      for (let i = 0; i < cases.length - 1; i++) {
        left -= cases[i].weight(token);
        if (left < 0) return cases[i].body;
      }
      return cases[cases.length - 1].body;
    });
  },
});

export const chanceCase = stepKind({
  kind: "case",
  label: "With weight",
  group: "choice",
  help: "One of the cases of a choice by chance, as likely as its weight among all weights says.",
  example: "With weight 70 %",
  sentence: "With weight {weight}",
  settings: settings({
    weight: number("Weight", "Such as 70 %, or 7.", { initial: "50 %", least: 0, entity: true, steady: true }),
  }),
  holdsSteps: true,
  under: ["chance"],
  lower: (_, { next }) => next,
});

/** Goes round as long as something holds. */
export const repeatWhile = stepKind({
  kind: "while",
  label: "Repeat while",
  group: "choice",
  help: "Does the steps under it again and again, as long as the condition holds; it is looked at before each time.",
  example: "Repeat while Stock < 20",
  sentence: "Repeat while {condition}",
  settings: settings({ condition: CONDITION }),
  holdsSteps: true,
  lower(step, { lowering: { kernel }, next, under, read }) {
    const holds = read(step, "condition");
    let head = next;
    const back = kernel.emit(() => head);
    const body = under(step.steps, back, { leaveLoop: next });
    head = kernel.emit((token) => (holds(token) !== 0 ? body : next));
    return head;
  },
});

/** The head of a loop that counts in places among the values of a call. */
function counting(
  step: StepModel,
  { lowering: { kernel }, next, under, locals }: Emitting,
  limit: Read,
  enter: (token: number, at: number) => void,
): number {
  const [at, most] = [step.slots.get(" at")!, step.slots.get(" most")!];
  let head = next;
  const back = kernel.emit(() => head);
  const body = under(step.steps, back, { leaveLoop: next });
  head = kernel.emit((token) => {
    const now = locals.read(token, at);
    if (!(now < locals.read(token, most))) return next;
    locals.write(token, at, now + 1);
    enter(token, now);
    return body;
  });
  return kernel.emit((token) => {
    locals.write(token, at, 0);
    locals.write(token, most, limit(token));
    return head;
  });
}

const COUNTING = [
  { field: " at", type: PLAIN },
  { field: " most", type: PLAIN },
] as const;

export const repeatTimes = stepKind({
  kind: "times",
  label: "Repeat so many times",
  group: "choice",
  help: "Does the steps under it so many times; the number of the time, from 1, can be given a name.",
  example: "Repeat 3 times, counting them as round",
  sentence: "Repeat {count} times(, counting them as {name})",
  settings: settings({
    count: number("Times", "How many; asked once, before the first.", {
      initial: "2",
      least: 0,
      entity: true,
      draws: 321,
    }),
    name: name("Counting as", "A name for the number of the time. Empty: none.", { optional: true }),
  }),
  holdsSteps: true,
  declares: [{ field: "name", type: PLAIN, inside: true }, ...COUNTING],
  lower(step, at) {
    const slot = step.slots.get("name");
    return counting(step, at, at.read(step, "count"), (token, now) => {
      if (slot !== undefined) at.locals.write(token, slot, now + 1);
    });
  },
});

export const forEach = stepKind({
  kind: "each",
  label: "For each of",
  group: "choice",
  help: "Does the steps under it for each value of a list, each row of a table, each member of a family, or each entity that stands in the line of an element as it begins, in their order.",
  example: "For each berth of Berths",
  sentence: "For each {name} of {what}",
  settings: settings({
    name: name("Name", "What it is called under this step, such as berth."),
    what: collection(
      "Of",
      "A list, a table, a family or a line, such as [5, 10, 20], Berths, or Desk: who stands in line there.",
    ),
  }),
  holdsSteps: true,
  declares: [{ field: "name", of: "what", each: true, inside: true }, ...COUNTING],
  lower(step, at) {
    const { lowering, locals, id } = at;
    const checked = step.fields.get("what")!;
    const slot = step.slots.get("name")!;
    if (isLine(checked, lowering.model.nodes.length)) return eachInLine(step, at, slot);
    const { length, valueAt } = valuesOf(checked, lowering, id, `${step.step.id}.what`);
    return counting(
      step,
      at,
      () => length,
      (token, now) => locals.write(token, slot, valueAt(now, token)),
    );
  },
});

/** Goes through those who stand in a line as the loop begins. */
function eachInLine(step: StepModel, at: Emitting, slot: number): number {
  const { lowering, locals, read } = at;
  const { pool } = lowering.kernel;
  const lineOf = linesBy(step, "what", at, read(step, "what"));
  // By the call that the loop is of: a procedure may be under way for many at once.
  const seen = new Map<number, number[]>();
  lowering.replication.atStart(() => seen.clear());
  return counting(
    step,
    at,
    (token) => {
      const handles: number[] = [];
      lineOf(token)?.each((one) => handles.push(handleOf(pool, one)));
      seen.set(locals.callOf(token), handles);
      return handles.length;
    },
    (token, now) => locals.write(token, slot, seen.get(locals.callOf(token))?.[now] ?? 0),
  );
}

export const leaveLoop = stepKind({
  kind: "leave",
  label: "Leave the loop",
  group: "choice",
  help: "Goes on behind the loop that it stands in.",
  example: "Leave the loop",
  sentence: "Leave the loop",
  settings: settings({}),
  lower: (_, { leaveLoop: to, lowering: { kernel } }) => kernel.emit(() => to),
});
