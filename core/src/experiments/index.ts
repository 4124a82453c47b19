/** Experiments stand apart: scenarios with values of factors, how they are made, named and run. */
export * from "./constant.ts";
export * from "./describe.ts";
export * from "./generate.ts";
export * from "./levels.ts";
export * from "./place.ts";
export * from "./runPrecision.ts";
export * from "./scenarioStudy.ts";
export * from "./searchPlace.ts";
export * from "./searchPlan.ts";
