export * from "./timetable.ts";
export * from "./readCalendar.ts";
export * from "./dayClock.ts";
