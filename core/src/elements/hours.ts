import type { EventSpecs } from "../lowering/events.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Node } from "../model/model.ts";
import { choice, reference } from "../settings/setting.ts";

/** A shift calendar, and what becomes of work in progress when it takes capacity away. */
export const HOURS = {
  calendar: reference("shift calendar", "Shift calendar", "When it is there.", {
    none: "none: always there",
    told: "calendar",
  }),
  atBell: choice(
    "At the bell",
    "What becomes of work in progress when the calendar takes capacity away.",
    [
      ["finish, then full break", "finish, then full break"],
      ["finish, keep the timetable", "finish, keep the timetable"],
      ["pause at the bell", "pause at the bell"],
    ],
    {
      initial: "finish, keep the timetable",
      told: "work when a pause begins",
      width: 190,
      used: ({ calendar }) => calendar !== "",
    },
  ),
};

/** Events of what has hours. */
export const SHIFT_EVENTS = {
  "comes on shift": { label: "More of it is there, by its hours or by steps", of: "element" },
  "goes off shift": { label: "Less of it is there, by its hours or by steps", of: "element" },
} as const satisfies EventSpecs;

/** Tells those who listen when there is more of something, or less; undefined where nobody does. */
export function tellShifts(
  { element }: Pick<Node, "element">,
  { events }: Pick<Lowering, "events">,
): ((more: boolean) => void) | undefined {
  const comes = events.teller(element.id, "comes on shift");
  const goes = events.teller(element.id, "goes off shift");
  return comes || goes ? (more) => (more ? comes : goes)?.(-1) : undefined;
}
