import { SUSPEND } from "../../kernel/kernel.ts";
import { PART } from "../../kernel/pool.ts";
import { nameKey, PLAIN } from "../../expression/index.ts";
import { choice, expression, number, settings } from "../../settings/setting.ts";
import { anyValue } from "../fields.ts";
import { stepKind } from "../kind.ts";

/** Most that are gathered. */
const MOST_GATHERED = 100_000;

/** Entities wait for each other; the first goes on for all. */
export const gather = stepKind({
  kind: "gather",
  label: "Gather into a group",
  group: "entities",
  help: "The entity waits, in a place by a name of yours, until so many are there. Then the first of them goes on; the others are carried by it until it sets them down, or are part of it for good.",
  example: "Gather 4 in pallets of entity.depot, carried by the first",
  sentence: "Gather {count} in {place}( of {key}), {keeps}",
  settings: settings({
    count: number("How many", "A whole number of 1 or more, as the first of them says.", {
      initial: "2",
      least: 1,
      entity: true,
      steady: true,
    }),
    place: expression("Place", "Its name, such as pallets.", PLAIN, { names: "new" }),
    key: anyValue("Of", "What all of a group have alike, such as entity.depot. Empty: any go together.", {
      optional: true,
      steady: true,
    }),
    keeps: choice("The others", "What becomes of all but the first.", [
      ["carried", "the others carried by the first"],
      ["for good", "the others part of the first for good"],
    ]),
  }),
  ofEntity: true,
  takesTime: () => true,
  carries: (step) => step.keeps === "carried",
  lower(step, { lowering, next, read, holdings, locals, nodeOf, standingAt, fail }) {
    const { kernel, population, presence, model } = lowering;
    const { pool, clock } = kernel;
    const { place, keeps } = step.step as unknown as { place: string; keeps: string };
    // Apart from the waiting places from which steps take.
    const gathered = holdings.of(` gathered in ${nameKey(place)}`);
    const [count, key] = [read(step, "count", 1), read(step, "key", 0)];
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
      const size = count(gathered.firstOf(of));
      if (!(Number.isInteger(size) && size >= 1 && size <= MOST_GATHERED)) {
        fail(
          step,
          "count",
          "invalid-count",
          `gave ${size} to gather, and it is a whole number from 1 to ${MOST_GATHERED}.`,
          "Use round(…).",
          size,
        );
        return SUSPEND;
      }
      if (gathered.countOf(of) < size) return SUSPEND;
      const first = gathered.shift(of);
      for (let i = 1; i < size; i++) add(first, gathered.shift(of));
      if (first === token) return over;
      kernel.resume(first);
      return SUSPEND;
    });
  },
});
