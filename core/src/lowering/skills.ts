import type { Read } from "../expression/index.ts";
import type { AtHand } from "../model/atHand.ts";
import type { Need } from "./need.ts";

/** What a row of needs asks of the members: who can do it, and how many times as long it takes with each. */
export const skillsOf = (who: AtHand, can: Read | undefined, times?: Read): Pick<Need, "able" | "times"> => ({
  ...(can && {
    able(token, _, unit) {
      who.at = unit;
      return can(token) !== 0;
    },
  }),
  ...(times && {
    times(token, _, unit) {
      who.at = unit;
      return times(token);
    },
  }),
});
