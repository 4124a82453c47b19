import { SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import { nameKey, PLAIN } from "../../expression/index.ts";
import { choice, expression, number, settings } from "../../settings/setting.ts";
import type { StepModel } from "../../model/logic.ts";
import type { Emitting } from "../emitting.ts";
import { anyValue } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Most that are together. */
const MOST = 100_000;

/** So many, as the first of them says. */
export const howMany = (help: string) =>
  number("How many", help, { initial: "2", least: 1, entity: true, steady: true });

/** What those have alike who come together. */
export const alike = (help: string) => anyValue("Of", help, { optional: true, steady: true });

/** How many a token says are to be together; what is no such number is told of a step, and is 0. */
export function sizeOf(step: StepModel, { read, fail }: Emitting): (token: number) => number {
  const count = read(step, "count", 1);
  return (token) => {
    const size = count(token);
    if (Number.isInteger(size) && size >= 1 && size <= MOST) return size;
    const message = `gave ${size}, and it is a whole number from 1 to ${MOST}.`;
    fail(step, "count", "invalid-count", message, "Use round(…).", size);
    return 0;
  };
}

/** Entities wait for each other; the first goes on for all. */
export const gather = stepKind({
  kind: "gather",
  label: "Gather into a group",
  group: "entities",
  help: "The entity waits, in a place by a name of yours, until so many are there. Then the first of them goes on; the others are carried by it until it sets them down, or are part of it for good.",
  example: "Gather 4 in pallets of entity.depot, carried by the first",
  sentence: "Gather {count} in {place}( of {key}), {keeps}",
  settings: settings({
    count: howMany("A whole number of 1 or more, as the first of them says."),
    place: expression("Place", "Its name, such as pallets.", PLAIN, { names: "new" }),
    key: alike("What all of a group have alike, such as entity.depot. Empty: any go together."),
    keeps: choice("The others", "What becomes of all but the first.", [
      ["carried", "the others carried by the first"],
      ["for good", "the others part of the first for good"],
    ]),
  }),
  ofEntity: true,
  takesTime: () => true,
  carries: (step) => step.keeps === "carried",
  lower(step, at) {
    const { lowering, next, read, holdings, locals, nodeOf, standingAt } = at;
    const { kernel, population, presence, model } = lowering;
    const { pool, clock } = kernel;
    const { place, keeps } = step.step as unknown as { place: string; keeps: string };
    // Apart from the waiting places from which steps take.
    const gathered = holdings.of(` gathered in ${nameKey(place)}`);
    const [together, key] = [sizeOf(step, at), read(step, "key", 0)];
    const contents = keeps === "carried" ? population.contents : undefined;
    const stand = standingAt("waiting");
    const over = kernel.emit((token) => {
      pool.credit(token, PART.waiting, clock);
      return next;
    });
    const add = (first: number, token: number): void => {
      pool.credit(token, PART.waiting, clock);
      locals.drop(token);
      const at = nodeOf(token);
      if (!contents) population.endInside(token, model.nodes[at]);
      else {
        presence.gone(at);
        contents.put(first, token);
      }
    };
    return kernel.emit((token) => {
      const of = key(token);
      stand(token);
      pool.setPc(token, over);
      gathered.keep(token, of);
      const size = together(gathered.firstOf(of));
      if (size === 0) return SUSPEND;
      if (gathered.countOf(of) < size) return SUSPEND;
      const first = gathered.shift(of);
      for (let i = 1; i < size; i++) add(first, gathered.shift(of));
      if (first === token) return over;
      kernel.resume(first);
      return SUSPEND;
    });
  },
});
