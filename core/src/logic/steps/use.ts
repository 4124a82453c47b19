import { PLAIN } from "../../expression/index.ts";
import type { Pool } from "../../lowering/need.ts";
import { skillsOf } from "../../lowering/skills.ts";
import { timesAsLong, whoCan } from "../../settings/needs.ts";
import { expression, resources, settings } from "../../settings/setting.ts";
import { asking } from "../asking.ts";
import { stepTime } from "../fields.ts";
import { stepKind } from "../kind.ts";
import { timed } from "./time.ts";

/** One of some resources is used for a time, where the entity is. */
export const use = stepKind({
  kind: "use",
  label: "Use a resource",
  group: "resources",
  help: "Waits until one of the resources named is there, works with it for a time, and gives it back. Work stands still while it is down or off shift. Where it waits for one for a time at most, an Otherwise behind it is for when that is over.",
  example: "Use Scanner for 2 min",
  sentence:
    "Use {anyOf} for {time}(, by one where {can})(, {times} times as long)(, with priority {priority})(, waiting at most {patience})",
  settings: settings({
    anyOf: resources("What", "Resources, any one of which will do, the preferred first.", { required: true }),
    time: stepTime("Time", "For how long.", { initial: "1 min", draws: 393 }),
    can: whoCan({}),
    times: timesAsLong("It with one"),
    priority: expression("Priority", "Who gets one first: the highest number. Empty: 0.", PLAIN, {
      optional: true,
      entity: true,
      draws: 394,
    }),
    patience: stepTime("At most", "How long it waits for one. Empty: for ever.", { optional: true, draws: 395 }),
  }),
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next, optional, read, claims, id } = at;
    const { requests } = lowering.resources;
    const anyOf = claims.named((step.step as unknown as { anyOf: string[] }).anyOf);
    const skills = skillsOf(step.who, optional(step, "can"), optional(step, "times"));
    const seconds = read(step, "time");
    /** By token: of which resource it was given one. */
    const given = new Map<number, Pool>();
    lowering.replication.atStart(() => given.clear());
    const asker = claims.asker(
      id,
      [{ anyOf, count: () => 1, ...skills }],
      (token, pool) => void given.set(token, pool),
    );
    const work = timed(
      step,
      at,
      "work",
      (token) => {
        const pool = given.get(token)!;
        return seconds(token) * (skills.times?.(token, pool, requests.lastGiven(token, pool)) ?? 1);
      },
      (token) => {
        claims.free(token, [given.get(token)!.id], 1);
        given.delete(token);
        return next;
      },
    );
    return lowering.kernel.emit(asking(step, at, asker, work));
  },
});
