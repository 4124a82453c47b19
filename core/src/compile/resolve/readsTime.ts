import type { Checked } from "../../expression/index.ts";

/** Whether an expression reads the time, which is no event to be told of. */
export const readsTime = (checked: Checked): boolean => checked.sources.some(({ ofTime }) => ofTime);
