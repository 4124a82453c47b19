export * from "./dimension.ts";
export * from "./units.ts";
export * from "./format.ts";
