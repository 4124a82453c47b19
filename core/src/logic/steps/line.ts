import type { LinePlace, OpenLine } from "../../lowering/lines.ts";
import { SUSPEND } from "../../kernel/kernel.ts";
import type { StepModel } from "../../model/logic.ts";
import { handleOf, tokenOf } from "../../model/sources.ts";
import { choice, condition, flag, settings } from "../../settings/setting.ts";
import { failNoElement } from "../checks.ts";
import type { Emitting } from "../emitting.ts";
import { anElement, anEntity, anyNumber, name } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Which of several entities is meant. */
export const WHICH = choice("Which", "Which of those that will do.", [
  ["first", "the first"],
  ["last", "the last"],
  ["least", "the one with the least"],
  ["most", "the one with the most"],
]);

export const BY = anyNumber("By", "What is compared, such as load.weight.", {
  optional: true,
  steady: true,
  used: ({ which }) => which === "least" || which === "most",
});

/** Finds an entity in a line, and leaves it there. */
export const find = stepKind({
  kind: "find",
  label: "Find in a line",
  group: "entities",
  help: "Looks through those who stand in the line of a queue, a station or a gate, and gives one of them a name; it stays where it is. An Otherwise behind it is for when there is none.",
  example: "Find the one with the most of waiting.weight in the line of Desk, and call it waiting",
  sentence: "Find {which}( of {by}) in the line of {at}, calling it {name}(, where {where})",
  settings: settings({
    which: WHICH,
    by: BY,
    at: anElement("Line of", "A queue, a station or a gate."),
    name: name("Name", "What it is called from here on, such as waiting."),
    where: condition("Where", "What must hold, such as waiting.weight < 20 kg. Empty: any will do.", {
      optional: true,
      entity: true,
      steady: true,
    }),
  }),
  declares: [{ field: "name", type: { kind: "entity" }, own: true }],
  usesLines: true,
  lower(step, at) {
    const { lowering, next, otherwise, locals, read, optional } = at;
    const { kernel } = lowering;
    const { which } = step.step as unknown as { which: string };
    const [where, by] = [optional(step, "where"), optional(step, "by")];
    const slot = step.slots.get("name")!;
    const lineOf = linesBy(step, "at", at, read(step, "at"));
    return kernel.emit((token) => {
      const line = lineOf(token);
      if (!line) return next;
      let found = -1;
      let best = 0;
      let order = 0;
      line.each((one) => {
        if (one === token) return;
        locals.write(token, slot, handleOf(kernel.pool, one));
        if (where && where(token) === 0) return;
        const value =
          which === "first" || which === "last"
            ? (order += which === "last" ? -1 : 1)
            : (by?.(token) ?? 0) * (which === "most" ? -1 : 1);
        if (found < 0 || value < best) [found, best] = [one, value];
      });
      locals.write(token, slot, found < 0 ? 0 : handleOf(kernel.pool, found));
      return found < 0 ? otherwise : next;
    });
  },
});

const WHO = anEntity("Who", "An entity that is at hand under a name, such as waiting.", { optional: false });

/** Takes an entity out of the line in which it stands. */
export const takeOut = stepKind({
  kind: "take out",
  label: "Take out of its line",
  group: "entities",
  help: "An entity that stands in the line of a queue, a station or a gate leaves it unserved, and comes into another element, or is carried along until it is set down.",
  example: "Take waiting out of its line, and send it to Other desk",
  sentence: "Take {who} out of its line(, {carry})(, and send it to {to})",
  settings: settings({
    who: WHO,
    carry: flag("Carried", "carrying it along", "Whether it is carried along until it is set down."),
    to: anElement("Sent to", "The element that it comes into.", { used: ({ carry }) => carry !== true }),
  }),
  usesLines: true,
  carries: (step) => step.carry === true,
  lower(step, at) {
    const { lowering, next, read, locals, movements, fail, nodeOf } = at;
    const { kernel, population, presence } = lowering;
    const { pool } = kernel;
    const { carry } = step.step as unknown as { carry: boolean };
    const who = read(step, "who");
    const to = read(step, "to");
    const contents = carry ? population.contents : undefined;
    const into = movements.everywhere();
    const come = kernel.emit((token) => into.get(pool.wayOf(token))!(token, -1));
    return kernel.emit((token) => {
      const stands = standing(step, at, token, who(token));
      if (!stands) return next;
      const { entity, line } = stands;
      const target = contents ? -1 : to(token);
      if (!contents && !into.has(target)) {
        failNoElement(step, { fail }, target);
        return SUSPEND;
      }
      line.takeOut(entity);
      locals.drop(entity);
      presence.gone(nodeOf(entity));
      if (contents) contents.put(token, entity);
      else {
        pool.setWay(entity, target);
        pool.setPc(entity, come);
        kernel.resume(entity);
      }
      return next;
    });
  },
});

/** Puts an entity elsewhere in its line. */
export const moveInLine = stepKind({
  kind: "place",
  label: "Change the place in line",
  group: "entities",
  help: "An entity that stands in the line of a queue, a station or a gate goes to another place in it: before all, behind all, or where the order of the line has it now that something has changed.",
  example: "Put waiting before all others in its line",
  sentence: "Put {who} {to} in its line",
  settings: settings({
    who: WHO,
    to: choice("Where", "Its new place.", [
      ["first", "before all others"],
      ["last", "behind all others"],
      ["in order", "where the order has it now"],
    ]),
  }),
  usesLines: true,
  lower(step, at) {
    const { lowering, next, read } = at;
    const who = read(step, "who");
    const { to } = step.step as unknown as { to: LinePlace };
    return lowering.kernel.emit((token) => {
      const stands = standing(step, at, token, who(token));
      if (stands) stands.line.move(stands.entity, to);
      return next;
    });
  },
});

/** The line of the element that a step names; fails where it has none. */
export function linesBy(
  step: StepModel,
  field: string,
  { lowering, fail }: Emitting,
  at: (token: number) => number,
): (token: number) => OpenLine | undefined {
  return (token) => {
    const element = at(token);
    const line = lowering.lines.of(element);
    if (line) return line;
    const name = lowering.model.nodes[element]?.element.name;
    fail(
      step,
      field,
      "step-failed",
      name === undefined ? "named no element." : `named ${name}, which has no line that steps look through.`,
      "Name a queue, a station or a gate.",
    );
    return undefined;
  };
}

/** An entity that stands in a line, with that line; fails where it does not. */
function standing(
  step: StepModel,
  { lowering, fail, nodeOf }: Emitting,
  token: number,
  handle: number,
): { readonly entity: number; readonly line: OpenLine } | undefined {
  const entity = tokenOf(lowering.kernel.pool, handle);
  const line = entity < 0 || entity === token ? undefined : lowering.lines.of(nodeOf(entity));
  let stands = false;
  line?.each((one) => (stands ||= one === entity));
  if (line && stands) return { entity, line };
  fail(
    step,
    "who",
    "step-failed",
    entity < 0 ? "an entity is asked for that is no longer there." : "an entity is asked for that stands in no line.",
    "Find it in its line in the step before.",
  );
  return undefined;
}
