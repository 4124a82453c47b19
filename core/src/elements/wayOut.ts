import { WAYS_OUT } from "../document/element.ts";
import { choice, expression } from "../settings/setting.ts";

/** How an entity chooses its way, for all kinds from which any goes on. */
export const WAY_OUT = {
  wayOut: choice(
    "Way out",
    "How an entity chooses among several links out.",
    WAYS_OUT.map((way) => [way, way] as const),
    { draws: 40 },
  ),
  destination: expression(
    "Goes to",
    "An element that a link leads to, such as if(entity.size > 3, Crane, Ramp).",
    { kind: "element" },
    { entity: true, used: (element) => element.wayOut === "named", draws: 90 },
  ),
};
