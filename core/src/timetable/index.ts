export * from "./timetable.ts";
export * from "./readCalendar.ts";
export * from "./dayClock.ts";
export * from "./fromTable.ts";
