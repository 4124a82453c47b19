import { nameKey, TEXT } from "../expression/index.ts";
import type { Node } from "../model/model.ts";
import type { Values } from "../settings/field.ts";
import { expression } from "../settings/setting.ts";
import type { Lowering } from "../lowering/lowering.ts";
import type { Timetable } from "../timetable/index.ts";
import { HOURS } from "./hours.ts";

/** What says which hours each keeps; empty where all go by one calendar, or are always there. */
export const ownHours = (of: object): string =>
  "hoursAt" in of && typeof of.hoursAt === "string" && "table" in of && of.table !== "" ? of.hoursAt.trim() : "";

/** Whether it is not always there, by the hours of all or of each. */
export const keepsHours = (of: { readonly calendar: string }): boolean => of.calendar !== "" || ownHours(of) !== "";

/** Hours of each member, or vehicle, by its row. */
export const HOURS_OF_EACH = expression(
  "Hours of each",
  "The shift calendar of one, such as row.hours: it is there where that says more than 0. Empty: all go by one.",
  TEXT,
  { optional: true, entity: false, steady: true, told: "hours of each", used: ({ table }) => table !== "" },
);

/** When members are there: by a calendar that says how many, or by one for each. */
export const MEMBER_HOURS = {
  calendar: { ...HOURS.calendar, used: (of: object) => ownHours(of) === "" },
  hoursAt: HOURS_OF_EACH,
  atBell: { ...HOURS.atBell, used: (of: Values) => of.calendar !== "" || ownHours(of) !== "" },
};

/** The calendar of each, by its number from 0, as its row says it; undefined where all go by one. */
export function hoursOfEach(node: Node, lowering: Lowering): ((unit: number) => Timetable | undefined) | undefined {
  const { rows, element } = node;
  if (!rows || !node.settings.has("hoursAt")) return undefined;
  const { model, kernel, expressions } = lowering;
  const byName = new Map(
    model.study.calendars.map(({ id, name }) => [nameKey(name), model.timetables.get(id)] as const),
  );
  const read = expressions.readLater(node, "hoursAt", 0);
  return (unit) => {
    rows.at = unit;
    const calendar = byName.get(nameKey(model.texts[read(-1)] ?? ""));
    if (!calendar)
      kernel.fail({
        code: "step-failed",
        message: `says of number ${unit + 1} no shift calendar.`,
        hint: "Name a calendar in its row.",
        id: element.id,
        field: "hoursAt",
      });
    return calendar;
  };
}
