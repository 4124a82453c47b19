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
