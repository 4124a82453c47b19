import { PLAIN } from "../../expression/index.ts";
import { expression, number, resources, rows, settings } from "../../settings/setting.ts";
import { skillsOf } from "../../lowering/skills.ts";
import { whoCan } from "../../settings/needs.ts";
import { asking } from "../asking.ts";
import { stepTime } from "../fields.ts";
import { stepKind } from "../kind.ts";

interface NeedRow {
  readonly id: string;
  readonly anyOf: readonly string[];
}

/** Claims resources, several at once and all or none; they are kept until they are freed. */
export const claim = stepKind({
  kind: "claim",
  label: "Claim resources",
  group: "resources",
  help: "Waits until all of the resources named are there, and keeps them, wherever the entity goes, until they are freed. Of alternatives the first that is free is taken. Where it waits for a time at most, an Otherwise behind it is for when that is over.",
  example: "Claim 1 Pilot and 2 Tugs, for at most 30 min",
  sentence: "Claim {needs}(, with priority {priority})(, for at most {patience})",
  settings: settings({
    needs: rows("Resources", "What is claimed, all at once.", {
      one: "resource",
      most: 20,
      row: {
        anyOf: resources("Any of", "Resources, any one of which will do, the preferred first.", { required: true }),
        count: number("How many", "Units of one of them.", { initial: "1", entity: true, steady: true }),
        which: expression(
          "Which one",
          "Such as Crews[entity.crew]. Empty: any.",
          { kind: "element" },
          {
            optional: true,
            entity: true,
            steady: true,
          },
        ),
        can: whoCan({}),
      },
    }),
    priority: expression("Priority", "Who gets a resource first: the highest number. Empty: 0.", PLAIN, {
      optional: true,
      entity: true,
      draws: 330,
    }),
    patience: stepTime("For at most", "How long it waits. Empty: for ever.", { optional: true, draws: 331 }),
  }),
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, read, optional, id, claims } = at;
    const { kernel, model } = lowering;
    const asker = claims.asker(
      id,
      (step.step as unknown as { needs: NeedRow[] }).needs.map((need) => {
        const named = optional(step, `needs.${need.id}.which`);
        const anyOf = claims.named(need.anyOf);
        return {
          anyOf,
          count: read(step, `needs.${need.id}.count`, 1),
          which: named && ((token: number) => anyOf.indexOf(model.nodes[named(token)]?.element.id ?? "")),
          ...skillsOf(step.who, optional(step, `needs.${need.id}.can`)),
        };
      }),
    );
    return kernel.emit(asking(step, at, asker, () => next));
  },
});

/** Frees what was claimed by steps. */
export const free = stepKind({
  kind: "free",
  label: "Free resources",
  group: "resources",
  help: "Gives back resources that steps have claimed: so many of those named, or all.",
  example: "Free Pilot",
  sentence: "Free {what}(, {count} of them)",
  settings: settings({
    what: resources("Resources", "Which; none named: all that is kept.", { none: "all that is kept" }),
    count: number("How many", "Units. Empty: all of them.", { optional: true, entity: true, steady: true, least: 0 }),
  }),
  lower(step, { lowering: { kernel }, next, optional, claims, fail }) {
    const what = claims.named((step.step as unknown as { what: string[] }).what);
    const count = optional(step, "count");
    return kernel.emit((token) => {
      const most = count ? count(token) : Infinity;
      const freed = claims.free(token, what, most);
      if (freed === 0 && most > 0)
        fail(step, "what", "step-failed", "frees what is not held.", "Claim it before, on every way that leads here.");
      return next;
    });
  },
});
