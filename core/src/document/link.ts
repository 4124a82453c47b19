import { z } from "zod";
import { expression as expressionText, id, point, streams } from "../settings/parts.ts";
import { condition, expression, length, number, settings, shapeOf, share, time } from "../settings/setting.ts";

/** Settings of a link that hold expressions. */
export const LINK_SETTINGS = settings({
  time: time("Time", "Time under way, for a timed link.", { initial: "1 min", draws: 1 }),
  length: length("Length", "Length of a walkway. Empty: as drawn.", { optional: true }),
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
});
const held = shapeOf(LINK_SETTINGS) as { readonly [K in keyof typeof LINK_SETTINGS]: z.ZodType<string> };

export const LINK_TAKES = ["done", "turned away", "scrapped", "parts"] as const;

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
    .enum(["direct", "timed", "walkway", "ways", "carried"])
    .default("direct")
    .describe(
      "No time, a time, a length walked at the entity type's speed, the shortest way over the walkways and roads that are drawn, or carried by a vehicle.",
    ),
  time: held.time,
  length: held.length,
  by: z.string().max(60).optional().describe("Id of the vehicles that carry who goes along it."),
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
  streams,
});

export type Link = z.infer<typeof linkSchema>;
