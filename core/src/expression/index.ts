export * from "./types.ts";
export * from "./scope.ts";
export * from "./check.ts";
export * from "./entityReads.ts";
export { parseExpression } from "./parser.ts";
export { references } from "./references.ts";
export { renameIn, writeName } from "./rename.ts";
export * from "./read.ts";
export * from "./running.ts";
