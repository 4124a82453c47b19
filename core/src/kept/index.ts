/** Reading what was kept of chosen measures: fetched by those who read it, and by nobody else. */
export * from "./bins.ts";
export * from "./distribution.ts";
export * from "./overTime.ts";
export * from "./series.ts";
