import { failNoElement, isCount } from "../checks.ts";
import { nameKey, PLAIN } from "../../expression/index.ts";
import { SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import type { StepModel } from "../../model/logic.ts";
import { handleOf } from "../../model/sources.ts";
import { condition, expression, flag, number, settings } from "../../settings/setting.ts";
import type { Emitting } from "../emitting.ts";
import { anElement, anyValue, name, stepTime } from "../fields.ts";
import { stepKind } from "../kind.ts";
import { BY, WHICH } from "./line.ts";
import { waiting } from "./time.ts";

const PLACE = expression("Place", "Its name, such as loads.", PLAIN, { names: "new" });
const KEY = anyValue("Of", "What keeps those in it apart, such as entity.depot. Empty: all are together.", {
  optional: true,
  steady: true,
});

const holdingOf = (step: StepModel, { holdings }: Emitting) =>
  holdings.of(nameKey((step.step as unknown as { place: string }).place));

/** The entity waits in a place of its own until steps take it. */
export const keep = stepKind({
  kind: "keep",
  label: "Keep in a waiting place",
  group: "entities",
  help: "The entity waits, in a place by a name of yours, until another step takes it from there. Where it waits for a time at most, an Otherwise behind it is for when that is over.",
  example: "Keep the entity in loads of entity.depot",
  sentence: "Keep the entity in {place}( of {key})(, for at most {patience})",
  settings: settings({
    place: PLACE,
    key: KEY,
    patience: stepTime("For at most", "How long it waits. Empty: until it is taken.", { optional: true, draws: 380 }),
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, at) {
    const holding = holdingOf(step, at);
    const key = at.read(step, "key", 0);
    const stand = waiting(
      step,
      at,
      (token) => holding.keep(token, key(token)),
      (token) => holding.leave(token, key(token)),
    );
    return at.lowering.kernel.emit(stand);
  },
});

/** Which of those that are kept, and for how long it is waited for one. */
export const TAKING = {
  which: WHICH,
  by: BY,
  place: PLACE,
  key: KEY,
  name: name("Name", "What it is called from here on, such as load."),
  where: condition("Where", "What must hold, such as load.weight < 20 kg. Empty: any will do.", {
    optional: true,
    entity: true,
    steady: true,
  }),
};
export const FOR_ONE = stepTime("At most", "How long it waits for one; 0 s: not at all. Empty: for ever.", {
  optional: true,
  draws: 381,
});

/**
 * Emits what takes one of those that are kept in a place, or waits for one: `take` is told of it, and says where the
 * one that takes goes on; negative where it is made to go on later.
 */
export function taking(step: StepModel, at: Emitting, take: (token: number, entity: number) => number): number {
  const { lowering, otherwise, locals, optional, read } = at;
  const { kernel } = lowering;
  const { pool } = kernel;
  const holding = holdingOf(step, at);
  const { which } = step.step as unknown as { which: string };
  const key = read(step, "key", 0);
  const [where, by] = [optional(step, "where"), optional(step, "by")];
  const slot = step.slots.get("name")!;
  const waitsNot = step.fields.get("patience")?.constant === 0;
  const call = (token: number, entity: number) => locals.write(token, slot, handleOf(pool, entity));
  const fits = (token: number) => (entity: number) => {
    call(token, entity);
    return entity !== token && (!where || where(token) !== 0);
  };
  let order = 0;
  const better = (token: number): ((entity: number) => number) | undefined => {
    if (which === "first") return undefined;
    order = 0;
    if (which === "last") return () => -order++;
    return (entity) => {
      call(token, entity);
      return (by?.(token) ?? 0) * (which === "most" ? -1 : 1);
    };
  };
  const given = (token: number, entity: number): number => {
    call(token, entity);
    if (pool.typeOf(entity) >= 0) pool.credit(entity, PART.waiting, kernel.clock);
    at.waits.serve(entity);
    return take(token, entity);
  };
  /** Whom it waited for, by who waits. */
  const found = new Map<number, number>();
  lowering.replication.atStart(() => found.clear());
  const come = kernel.emit((token) => {
    const entity = found.get(token)!;
    found.delete(token);
    return given(token, entity);
  });
  const stand = waiting(
    step,
    { ...at, next: come },
    (token) =>
      holding.wait({
        token,
        key: key(token),
        fits: fits(token),
        give(entity) {
          found.set(token, entity);
          kernel.resume(token);
        },
      }),
    (token) => holding.forget(token),
  );
  return kernel.emit((token) => {
    const of = key(token);
    const entity = holding.find(of, fits(token), better(token));
    if (entity < 0) return waitsNot ? otherwise : stand(token);
    holding.leave(entity, of);
    return given(token, entity);
  });
}

/** Takes an entity that is kept in a waiting place. */
export const takeKept = stepKind({
  kind: "take",
  label: "Take from a waiting place",
  group: "entities",
  help: "Takes one of the entities that are kept in a place: the first, the last, or that of which something is least or most, among those for which a condition holds. It goes on with its own steps, or is carried along until it is set down. While there is none, it waits for one; an Otherwise behind it is for when its time for that is over.",
  example: "Take the first from loads of depot, carrying it along, and call it load",
  sentence:
    "Take {which}( by {by}) from {place}( of {key}), calling it {name}(, where {where})( {carry})(, waiting at most {patience})",
  settings: settings({
    ...TAKING,
    carry: flag(
      "Carried",
      "carrying it along",
      "Whether it is carried along until it is set down; else it goes on with its own steps.",
    ),
    patience: FOR_ONE,
  }),
  declares: [{ field: "name", type: { kind: "entity" }, own: true }],
  takesTime: () => true,
  carries: (step) => step.carry === true,
  lower(step, at) {
    const { lowering, next, locals } = at;
    const { carry } = step.step as unknown as { carry: boolean };
    const contents = carry ? lowering.population.contents : undefined;
    return taking(step, at, (token, entity) => {
      if (contents) {
        locals.drop(entity);
        const place = at.nodeOf(entity);
        if (place >= 0 && place < lowering.model.nodes.length) lowering.presence.gone(place);
        contents.put(token, entity);
      } else lowering.kernel.resume(entity);
      return next;
    });
  },
});

/** Sets down what the entity carries. */
export const setDown = stepKind({
  kind: "set down",
  label: "Set down what is carried",
  group: "entities",
  help: "All that the entity carries comes into an element, the first taken up first, each with its attributes.",
  example: "Set down what is carried at Island store",
  sentence: "Set down what is carried at {to}",
  settings: settings({ to: anElement("At", "An element that entities come into.") }),
  ofEntity: true,
  lower(step, { lowering, read, movements, next, fail }) {
    const { kernel, population } = lowering;
    const to = read(step, "to");
    const { contents } = population;
    const into = movements.everywhere();
    const come = kernel.emit((token) => into.get(kernel.pool.wayOf(token))!(token, -1));
    return kernel.emit((token) => {
      const target = to(token);
      if (!into.has(target)) {
        failNoElement(step, { fail }, target);
        return SUSPEND;
      }
      contents.takeOut(token, (entity) => {
        kernel.pool.setWay(entity, target);
        kernel.pool.setPc(entity, come);
        kernel.resume(entity);
      });
      return next;
    });
  },
});

/** Makes entities like the one at hand. */
export const copy = stepKind({
  kind: "copy",
  label: "Copy the entity",
  group: "entities",
  help: "New entities of the same type, with the same attributes as the entity has now, come into an element at once.",
  example: "Copy the entity once at Archive",
  sentence: "Copy the entity {count} times at {to}",
  settings: settings({
    count: number("How many", "A whole number of 0 or more.", { initial: "1", least: 0, entity: true, draws: 382 }),
    to: anElement("At", "The element that the copies come into."),
  }),
  ofEntity: true,
  lower(step, { lowering, read, movements, next, fail }) {
    const { kernel, model, population } = lowering;
    const { pool } = kernel;
    const [count, to] = [read(step, "count", 1), read(step, "to")];
    const bear = model.types.map((_, type) => population.birth(type));
    const into = movements.everywhere();
    const come = kernel.emit((token) => into.get(pool.wayOf(token))!(token, -1));
    return kernel.emit((token) => {
      const [n, target] = [count(token), to(token)];
      if (!isCount(n, step, { fail })) return next;
      if (!into.has(target)) {
        failNoElement(step, { fail }, target);
        return next;
      }
      const { attributeCount } = model;
      for (let i = 0; i < n; i++) {
        const made = bear[pool.typeOf(token)](come);
        if (made < 0) break;
        pool.setWay(made, target);
        for (let slot = 0; slot < attributeCount; slot++)
          pool.attributes[made * attributeCount + slot] = pool.attributes[token * attributeCount + slot];
      }
      return next;
    });
  },
});
