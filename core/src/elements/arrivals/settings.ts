import {
  attribute,
  choice,
  count,
  expression,
  longText,
  number,
  reference,
  rows,
  settings,
  time,
  value,
} from "../../settings/setting.ts";
import type { ElementWith } from "../kind.ts";
import { WAY_OUT } from "../wayOut.ts";

/** Most entities in one group. */
export const MOST_IN_GROUP = 10_000;

export const ARRIVALS = settings({
  by: choice(
    "When",
    "What says when entities arrive.",
    [
      ["time between", "by the time between"],
      ["profile", "by a demand profile"],
      ["list", "at listed times"],
      ["table", "by the rows of a table"],
    ],
    { told: "when they arrive" },
  ),
  entityType: reference("entity type", "Entity type", "The entity type that arrives.", {
    first: true,
    used: ({ mix }) => !Array.isArray(mix) || mix.length === 0,
  }),
  mix: rows(
    "Mix of entity types",
    "Entity types that arrive, by their shares, in place of one; shares are weighed against their sum.",
    {
      one: "entity type",
      told: "mix of entity types",
      many: false,
      most: 200,
      draws: 60,
      fresh: ({ entityType }) => ({ entityType }),
      row: {
        entityType: reference("entity type", "Entity type", "An entity type that arrives.", { first: true }),
        share: number("Share", "Its share, such as 20 %; shares are weighed against their sum.", {
          initial: "50 %",
          least: 0,
          draws: 130,
        }),
      },
    },
  ),
  between: time("Time between", "Time from one arrival to the next.", {
    initial: "exponential(5 min)",
    entity: false,
    width: 230,
    used: ({ by }) => by === "time between",
    draws: 10,
  }),
  first: time("First arrival", "Time of the first arrival. Empty: after one time between arrivals.", {
    entity: false,
    optional: true,
    used: ({ by }) => by === "time between",
    draws: 20,
  }),
  profile: reference("demand profile", "Profile", "The demand profile that gives the rate of arrivals.", {
    told: "demand profile",
    used: ({ by }) => by === "profile",
    draws: 50,
  }),
  spacing: choice(
    "Spacing",
    "By a profile: at random is a Poisson process whose rate follows it exactly; even is evenly at that rate.",
    [
      ["random", "at random, at that rate"],
      ["even", "even, at that rate"],
    ],
    { used: ({ by }) => by === "profile" },
  ),
  listed: longText("Times, one a line", "Times, one a line or separated by commas.", "0 min\n12 min\n1.5 h", {
    told: "listed times",
    many: true,
    used: ({ by }) => by === "list",
  }),
  listedAs: choice(
    "Listed are",
    "Whether the list holds times from the start or gaps from one arrival to the next.",
    [
      ["times", "times from the start"],
      ["gaps", "gaps between arrivals"],
    ],
    { used: ({ by }) => by === "list" },
  ),
  table: reference("table", "Rows of", "A table of which each arrival takes a row, known here as row.", {
    none: "no table",
  }),
  arrivesAt: time("Arrives at", "Time of the arrival of each row, from the start, such as row.due.", {
    entity: false,
    steady: true,
    used: ({ by, table }) => by === "table" && table !== "",
  }),
  takes: choice(
    "Takes",
    "Which row each entity takes.",
    [
      ["at random", "one at random"],
      ["in turn", "one after another"],
    ],
    { used: ({ by, table }) => by !== "table" && table !== "" },
  ),
  weight: number("By weight", "Weight of a row, such as row.share. Empty: each is as likely.", {
    entity: false,
    steady: true,
    optional: true,
    used: ({ by, table, takes }) => by !== "table" && table !== "" && takes === "at random",
  }),
  typeOf: expression(
    "Type by row",
    "The entity type of a row, such as row.kind. Empty: as above.",
    { kind: "entityType" },
    { entity: false, steady: true, optional: true, used: ({ table }) => table !== "" },
  ),
  group: count("Group size", "Entities that arrive together.", [0, MOST_IN_GROUP], { initial: "1", draws: 30 }),
  limit: count("Limit", "Most arrivals (groups); empty: no limit.", [1, 1e12], { optional: true, fixed: true }),
  until: time("Until", "Time from the start after which none arrive; empty: no limit.", {
    entity: false,
    optional: true,
    fixed: true,
  }),
  sets: rows("Attributes given at birth", "Attributes given at birth in place of the type's own values.", {
    one: "attribute",
    told: "attributes given at birth",
    most: 60,
    row: {
      attribute: attribute("Attribute", "Name of the attribute."),
      value: value("Value", "Value at birth, in place of the type's own.", {
        initial: "0",
        entity: true,
        draws: 120,
      }),
    },
  }),
  ...WAY_OUT,
});
export type Arrivals = ElementWith<"arrivals", typeof ARRIVALS>;

/** Whether the row at hand says which type arrives. */
export const isByRow = ({ table, typeOf }: Pick<Arrivals, "table" | "typeOf">): boolean =>
  table !== "" && typeOf.trim() !== "";
