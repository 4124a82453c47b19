/** Fitting stands apart: it is fetched by those who fit, and by nobody else. */
export * from "../kept/bins.ts";
export * from "./checks.ts";
export * from "./fit.ts";
export type { Goodness } from "./goodness.ts";
export { Sample } from "./sample.ts";
export * from "./rates.ts";
