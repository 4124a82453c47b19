import { cost } from "../settings/setting.ts";

/** Cost of time at work and on shift, of each slot or unit. */
export const COST_RATES = {
  costBusy: cost("Cost of work", "For time at work, such as 40 money/h for each slot or unit. Empty: none.", "time"),
  costOpen: cost("Cost on shift", "For time on shift, at work or not, for each slot or unit. Empty: none.", "time"),
};
