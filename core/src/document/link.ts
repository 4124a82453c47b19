import { z } from "zod";
import { expression as expressionText, id, point, streams } from "../settings/parts.ts";
import { numberOf } from "../expression/index.ts";
import { LENGTH } from "../quantity/index.ts";
import { condition, expression, length, number, settings, shapeOf, share, speed, time } from "../settings/setting.ts";

const isConveyor = ({ kind }: Readonly<Record<string, unknown>>): boolean => kind === "conveyor";

/** Settings of a link that hold expressions. */
export const LINK_SETTINGS = settings({
  time: time("Time", "Time under way, for a timed link.", { initial: "1 min", draws: 1 }),
  length: length("Length", "Length of a walkway or conveyor. Empty: as drawn.", { optional: true }),
  quickestAt: speed("Quickest at", "Over the ways: the way that is quickest at this speed. Empty: the shortest.", {
    optional: true,
    fixed: true,
    entity: false,
    used: ({ kind }) => kind === "ways",
  }),
  share: share("Share", "Share of entities that take this way, such as 20 %. Empty on all ways: even shares.", {
    optional: true,
    entity: true,
  }),
  condition: condition("Condition", "Taken when this holds; empty: otherwise.", {
    optional: true,
    entity: true,
    draws: 2,
  }),
  cost: number("Cost of the way", "The way of least cost is taken; any number, such as Crane.queue.length * 2.", {
    any: "number",
    entity: true,
    draws: 3,
  }),
  member: expression(
    "Member",
    "A member of the family, such as Bays[entity.bay].",
    { kind: "element" },
    { entity: true, draws: 4, drawsWhere: (link) => link.among !== undefined },
  ),
  radius: length("Radius of curves", "Its bends are so round, as far as there is room. Empty: corners.", {
    optional: true,
    used: isConveyor,
  }),
  beltSpeed: speed("Speed", "How fast the belt runs.", { fixed: true, entity: false, used: isConveyor }),
  beltRoom: expression(
    "Room of each",
    "Length of the belt that each takes, with the gap to the next, such as entity.length + 0.2 m.",
    numberOf(LENGTH),
    { above: 0, entity: true, draws: 5, drawsWhere: isConveyor, used: isConveyor },
  ),
  precedence: number(
    "Goes before",
    "Where several conveyors end at one place and go on over one belt, the lowest number goes first. Empty: 0, first come.",
    { optional: true, fixed: true, used: isConveyor },
  ),
  beltStands: condition("Stands while", "The belt stands with all that is on it while this holds.", {
    optional: true,
    used: isConveyor,
  }),
  beltEvery: time("Runs for", "Time that it runs from a repair to the next breakdown. Empty: it never breaks down.", {
    optional: true,
    entity: false,
    draws: 6,
    drawsWhere: isConveyor,
    used: isConveyor,
  }),
  beltRepair: time("Time to repair", "How long it is down.", {
    optional: true,
    entity: false,
    draws: 7,
    drawsWhere: isConveyor,
    used: isConveyor,
  }),
});
/** Settings that only conveyors have, with what a new one has. */
export const CONVEYOR_DEFAULTS = { beltSpeed: "0.5 m/s", beltRoom: "1 m" } as const;
const held = shapeOf(LINK_SETTINGS) as { readonly [K in keyof typeof LINK_SETTINGS]: z.ZodType<string> };

export const LINK_TAKES = ["done", "turned away", "scrapped", "parts"] as const;

/** How somebody of a crew takes an entity along: one beside it, pushed by one, or carried by two. */
export const ESCORTS = ["beside", "pushes", "carries"] as const;
export type Escort = (typeof ESCORTS)[number];

/** How an entity chooses among the members of a family to which a link leads. */
export const AMONG = ["shortest line", "first free", "in turn", "at random", "named", "same"] as const;
export type Among = (typeof AMONG)[number];

export const linkSchema = z.strictObject({
  id,
  from: z.string().describe("Id of the element it leaves."),
  to: z.string().describe("Id of the element it leads to."),
  takes: z
    .enum(LINK_TAKES)
    .default("done")
    .describe(
      "Who goes this way: those who are done at the element; those who find it full, do not join its line, or give up waiting; those whose work a breakdown spoils; or the parts or copies that a split sets free.",
    ),
  kind: z
    .enum(["direct", "timed", "walkway", "ways", "carried", "conveyor", "escorted"])
    .default("direct")
    .describe(
      "No time, a time, a length walked at the entity type's speed, the shortest way over the walkways and roads that are drawn, carried by a vehicle, a conveyor on which they go one behind the other, or beside a member of a crew.",
    ),
  time: held.time,
  length: held.length,
  quickestAt: expressionText.optional().describe(LINK_SETTINGS.quickestAt.help),
  by: z
    .string()
    .max(60)
    .optional()
    .describe("Id of the vehicles that carry who goes along it, or of the crew that escorts them."),
  how: z
    .enum(ESCORTS)
    .optional()
    .describe("How a member of the crew goes with who is escorted: beside (unless told), pushing, or carrying by two."),
  bends: z.array(point).max(60).default([]).describe("Points the link passes, [x, y] in metres."),
  share: held.share,
  condition: held.condition,
  cost: held.cost,
  among: z
    .enum(AMONG)
    .optional()
    .describe(
      "Which member of a family it leads to: that with the fewest in it or on the way to it (unless told), the first with room, in turn, at random, the one that an expression names, or the one with the same key.",
    ),
  member: expressionText.optional().describe(LINK_SETTINGS.member.help),
  radius: expressionText.optional().describe(LINK_SETTINGS.radius.help),
  beltSpeed: expressionText.optional().describe(LINK_SETTINGS.beltSpeed.help),
  beltRoom: expressionText.optional().describe(LINK_SETTINGS.beltRoom.help),
  precedence: expressionText.optional().describe(LINK_SETTINGS.precedence.help),
  beltStands: expressionText.optional().describe(LINK_SETTINGS.beltStands.help),
  beltEvery: expressionText.optional().describe(LINK_SETTINGS.beltEvery.help),
  beltRepair: expressionText.optional().describe(LINK_SETTINGS.beltRepair.help),
  accumulates: z
    .boolean()
    .optional()
    .describe(
      "Whether those behind one that waits at the end of a conveyor close up to it (unless told), or all stand.",
    ),
  calendar: z.string().max(60).optional().describe("Id of the calendar by which a conveyor runs; empty: always."),
  streams,
});

export type Link = z.infer<typeof linkSchema>;
