import { SUSPEND } from "../../kernel/kernel.ts";
import { nameKey, PLAIN } from "../../expression/index.ts";
import { expression, flag, settings } from "../../settings/setting.ts";
import { stepTime } from "../fields.ts";
import { alike, howMany, sizeOf } from "./gather.ts";
import { stepKind } from "../kind.ts";
import { FOR_ONE, TAKING, taking } from "./holding.ts";
import { OVER, PACE, sending, TO, targetOf } from "./motion.ts";
import { waiting } from "./time.ts";

/** Those of a party come together again: each waits for the others, and goes on with its own steps. */
export const meet = stepKind({
  kind: "meet",
  label: "Meet others",
  group: "entities",
  help: "The entity waits, at a meeting by a name of yours, until so many are there, itself among them; then all of them go on, each with its own steps. Where it waits for a time at most, an Otherwise behind it is for when that is over.",
  example: "Meet 4 at coach of entity.party",
  sentence: "Meet {count} at {place}( of {key})(, for at most {patience})",
  settings: settings({
    count: howMany("All together, a whole number of 1 or more, as the first of them says."),
    place: expression("Meeting", "Its name, such as coach.", PLAIN, { names: "new" }),
    key: alike("What those who meet have alike, such as entity.party. Empty: any meet."),
    patience: stepTime("For at most", "How long it waits. Empty: for ever.", { optional: true, draws: 396 }),
  }),
  ofEntity: true,
  takesTime: () => true,
  lower(step, at) {
    const { lowering, holdings, read, waits } = at;
    const { kernel } = lowering;
    // Apart from the waiting places from which steps take.
    const meeting = holdings.of(` met at ${nameKey((step.step as unknown as { place: string }).place)}`);
    const [together, key] = [sizeOf(step, at), read(step, "key", 0)];
    let here = 0;
    lowering.replication.atStart(() => (here = 0));
    waits.measure(at.id, step, () => here);
    const join = (token: number): void => {
      const of = key(token);
      here += 1;
      meeting.keep(token, of);
      const size = together(meeting.firstOf(of));
      if (size === 0 || meeting.countOf(of) < size) return;
      for (let i = 0; i < size; i++) {
        here -= 1;
        kernel.resume(meeting.shift(of));
      }
    };
    const leave = (token: number): void => {
      here -= 1;
      meeting.leave(token, key(token));
    };
    return kernel.emit(waiting(step, at, join, leave));
  },
});

/** One of those who wait is called, and walks to where it is wanted. */
export const call = stepKind({
  kind: "call for",
  label: "Call somebody",
  group: "entities",
  help: "Calls one of the entities that are kept in a waiting place, which then walks to an element, where its own steps go on. While there is none, it waits for one; an Otherwise behind it is for when its time for that is over.",
  example: "Call the first from hall, calling it guest, to Desk 2, waiting until it is there",
  sentence:
    "Call {which}( by {by}) from {place}( of {key}), calling it {name}(, where {where}), to {to}, {over}(, at {pace})( {stays})(, waiting at most {patience})",
  settings: settings({
    ...TAKING,
    to: TO,
    over: OVER,
    pace: PACE,
    stays: flag(
      "Waits for it",
      "waiting until it is there",
      "Whether who calls goes on when it has come; else at once, while it walks.",
    ),
    patience: FOR_ONE,
  }),
  declares: [{ field: "name", type: { kind: "entity" }, own: true }],
  takesTime: () => true,
  lower(step, at) {
    const { lowering, next } = at;
    const { kernel, replication, places } = lowering;
    const { pool } = kernel;
    const { stays } = step.step as unknown as { stays: boolean };
    const target = targetOf(step, at);
    /** By who walks: the step with which it goes on, and who waits for it. */
    const walking = new Map<number, { readonly pc: number; readonly caller: number; readonly to: number }>();
    replication.atStart(() => walking.clear());
    const arrived = kernel.emit((entity) => {
      const { pc, caller, to } = walking.get(entity)!;
      walking.delete(entity);
      pool.begin(entity, places.of({ index: to }, "dwelling"), kernel.clock);
      if (caller >= 0) kernel.resume(caller);
      return pc;
    });
    const send = sending(step, at, arrived);
    const there = kernel.emit(() => next);
    return taking(step, at, (token, entity) => {
      const to = target(token);
      if (to < 0) return SUSPEND;
      walking.set(entity, { pc: pool.pcOf(entity), caller: stays ? token : -1, to });
      if (!send(entity, to, token)) return SUSPEND;
      if (!stays) return next;
      pool.setPc(token, there);
      return SUSPEND;
    });
  },
});
