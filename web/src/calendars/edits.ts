import {
  type Calendar,
  calendarSchema,
  freshName,
  nameKey,
  roadTitle,
  type Study,
  type Table,
} from "@busy-harbor/core";
import { newId } from "../state/edits.ts";

/** Adds a calendar to a draft of the study: the working week, or one rate all day. Returns its id. */
export function addCalendar(study: Study, gives: Calendar["gives"]): string {
  const rate = gives === "rate";
  const name = freshName(rate ? "Demand profile" : "Shift calendar", study.calendars);
  const calendar = calendarSchema.parse({
    id: newId("calendar"),
    name,
    gives,
    rows: rate
      ? [{ days: [0, 1, 2, 3, 4, 5, 6], from: "08:00", to: "18:00", value: "12/h" }]
      : [{ from: "08:00", to: "16:00" }],
    pattern: rate ? [{ duration: "8 h", value: "12/h" }] : [{ duration: "8 h", value: "all" }],
    fills: "24 h",
  });
  study.calendars.push(calendar);
  return calendar.id;
}

/** Elements, links and ways of designs that keep a calendar, and tables that name it, in words. */
export const keepersOf = (study: Study, id: string): string[] => [
  ...study.designs.flatMap((d) => {
    const nameAt = (of: string) => d.elements.find((e) => e.id === of)?.name ?? "";
    return [
      ...d.elements
        .filter((e) => ("calendar" in e && e.calendar === id) || ("profile" in e && e.profile === id))
        .map(({ name }) => name),
      ...d.links.filter(({ calendar }) => calendar === id).map(({ from, to }) => `${nameAt(from)} to ${nameAt(to)}`),
      ...(d.roads ?? []).filter(({ calendar }) => calendar === id).map((road) => roadTitle(road)),
      ...tablesNaming(study, d.tables, id),
    ].map((name) => (study.designs.length > 1 ? `${name} in ${d.name}` : name));
  }),
  ...tablesNaming(study, study.tables, id),
];

/** Tables in which a cell names a calendar. */
function tablesNaming({ calendars }: Study, tables: readonly Table[], id: string): string[] {
  const key = nameKey(calendars.find((calendar) => calendar.id === id)?.name ?? "");
  return tables
    .filter(({ columns, rows }) =>
      columns.some(({ holds }, c) => holds === "calendar" && rows.some((cells) => nameKey(cells[c] ?? "") === key)),
    )
    .map(({ name }) => name);
}
