import { type Checked, sourcesOf } from "../../expression/index.ts";

/** Whether an expression reads the time, which is no event to be told of. */
export const readsTime = (checked: Checked): boolean =>
  sourcesOf(checked).some((source) => source.kind === "clock" || source.kind === "timeOfDay" || source.kind === "day");
