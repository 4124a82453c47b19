import { failNoElement, isCount } from "../checks.ts";
import { EventClass, SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import { choice, number, reference, settings } from "../../settings/setting.ts";
import { anElement, stepTime } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Sends the entity elsewhere: what is done with it here is over. */
export const send = stepKind({
  kind: "send",
  label: "Send the entity elsewhere",
  group: "entities",
  help: "The entity goes to an element, at once or after a time on the way, whatever links there are; the steps for it end here. Where there is no room it waits until there is.",
  example: "Send the entity to Desk, in 2 min",
  sentence: "Send the entity to {to}(, in {time})",
  settings: settings({
    to: anElement("To", "An element that entities come into, or an expression that gives one, such as entity.berth."),
    time: stepTime("Time on the way", "How long it is on the way. Empty: none.", { optional: true, draws: 360 }),
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, { lowering, read, optional, movements, locals, node, id, fail, nodeOf, standingAt }) {
    const { kernel } = lowering;
    const { pool, clock } = kernel;
    const stand = standingAt("waiting");
    const to = read(step, "to");
    const time = optional(step, "time");
    const into = movements.everywhere();
    const go = (token: number, target: number, from: number): number => {
      locals.drop(token);
      return into.get(target)!(token, from);
    };
    const checked = (token: number): number => {
      const target = to(token);
      if (into.has(target)) return target;
      failNoElement(step, { fail }, target);
      return -1;
    };
    if (!time)
      return kernel.emit((token) => {
        const target = checked(token);
        return target < 0 ? SUSPEND : go(token, target, node?.index ?? nodeOf(token));
      });
    const arrived = kernel.emit((token) => {
      pool.credit(token, PART.moving, clock);
      return go(token, pool.wayOf(token), nodeOf(token));
    });
    const field = `${step.step.id}.time`;
    return kernel.emit((token) => {
      const target = checked(token);
      if (target < 0) return SUSPEND;
      pool.setWay(token, target);
      const duration = time(token);
      stand(token);
      pool.setPc(token, arrived);
      kernel.delay(token, duration, EventClass.activityEnd, id, field);
      return SUSPEND;
    });
  },
});

/** The entity ends. */
export const remove = stepKind({
  kind: "remove",
  label: "Remove the entity",
  group: "entities",
  help: "The entity leaves the system here, and is counted as lost or as departed; the steps for it end.",
  example: "Remove the entity, as lost",
  sentence: "Remove the entity, as {as}",
  settings: settings({
    as: choice("Counted as", "How it is counted.", [
      ["lost", "lost"],
      ["departed", "departed"],
    ]),
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, { lowering, nodeOf, locals }) {
    const { kernel, population } = lowering;
    const { as } = step.step as unknown as { as: "lost" | "departed" };
    return kernel.emit((token) => {
      locals.drop(token);
      const node = lowering.model.nodes[nodeOf(token)];
      return as === "lost" ? population.lose(token, node) : population.depart(token, node);
    });
  },
});

/** Makes entities, which come into an element. */
export const make = stepKind({
  kind: "make",
  label: "Make entities",
  group: "entities",
  help: "New entities of a type come into an element at once, each with the attributes that its type has at birth.",
  example: "Make 2 Crate at Yard",
  sentence: "Make {count} {type} at {at}",
  settings: settings({
    count: number("How many", "A whole number of 0 or more.", { initial: "1", least: 0, entity: true, draws: 361 }),
    type: reference("entity type", "Entity type", "What is made.", { first: true }),
    at: reference("element", "At", "The element that they come into.", { of: "enterable" }),
  }),
  lower(step, { lowering, next, read, movements, fail }) {
    const { kernel, model, population } = lowering;
    const { type, at } = step.step as unknown as { type: string; at: string };
    const target = model.nodes.findIndex(({ element }) => element.id === at);
    const into = movements.into(target);
    const bear = population.birth(model.types.findIndex((one) => one.type.id === type));
    const come = kernel.emit((token) => into(token, -1));
    const count = read(step, "count", 1);
    return kernel.emit((token) => {
      const n = count(token);
      if (!isCount(n, step, { fail })) return next;
      for (let i = 0; i < n; i++) if (bear(come) < 0) break;
      return next;
    });
  },
});
