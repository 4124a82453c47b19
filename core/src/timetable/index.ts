export * from "./timetable.ts";
export * from "./readCalendar.ts";
