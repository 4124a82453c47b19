import { z } from "zod";
import { expression, id, point } from "../settings/parts.ts";
import { condition, count, number, settings, speed } from "../settings/setting.ts";

export const ROAD_KINDS = ["walkway", "road"] as const;

/** Settings of a way that is drawn that hold expressions. */
export const ROAD_SETTINGS = settings({
  limit: speed("Speed limit", "Nobody moves faster on it. Empty: none.", {
    optional: true,
    fixed: true,
    entity: false,
  }),
  room: count("Room", "The most that are on it at once, in both directions. Empty: no limit.", [1, 100_000], {
    optional: true,
    fixed: true,
    entity: false,
  }),
  factor: number("Counts as", "So many times its length when the shortest way is looked for. Empty: 1.", {
    optional: true,
    fixed: true,
    above: 0,
  }),
  closedWhile: condition("Closed while", "Nobody enters it while this holds; who is on it goes on.", {
    optional: true,
  }),
});

/** A walkway or road as it is drawn: what moves takes the shortest way over all that are joined. */
export const roadSchema = z.strictObject({
  id,
  name: z.string().trim().max(120).default(""),
  kind: z.enum(ROAD_KINDS).default("walkway").describe("For those who walk, or for what drives."),
  points: z
    .array(point)
    .min(2)
    .max(200)
    .describe("Points it passes, [x, y] in metres. Ways are joined where they share a point, or one ends on another."),
  from: z.string().max(60).default("").describe("Id of the element at which it begins; empty: at none."),
  to: z.string().max(60).default("").describe("Id of the element at which it ends; empty: at none."),
  oneWay: z.boolean().default(false).describe("From its first point to its last alone."),
  limit: expression.default("").describe(ROAD_SETTINGS.limit.help),
  room: expression.optional().describe(ROAD_SETTINGS.room.help),
  oneAtATime: z
    .boolean()
    .optional()
    .describe("Nobody enters against those who are on it: they wait until it is free of them."),
  keepsOrder: z.boolean().optional().describe("Nobody passes another who goes the same way."),
  factor: expression.optional().describe(ROAD_SETTINGS.factor.help),
  calendar: z.string().max(60).optional().describe("Id of the calendar by which it is open; empty: always."),
  closedWhile: expression.optional().describe(ROAD_SETTINGS.closedWhile.help),
  follow: z.boolean().optional().describe("Who is on it is measured, even where nothing holds anybody up."),
  width: z.number().min(0.3).max(50).default(2).describe("Metres, for the picture."),
});

export type Road = z.infer<typeof roadSchema>;

/** Whether who is on a way counts, for others or for what is measured: most are only so long and so fast. */
export const isFollowed = ({ room, oneAtATime, keepsOrder, calendar, closedWhile, follow }: Road): boolean =>
  [room, calendar, closedWhile].some((text) => (text ?? "").trim() !== "") ||
  oneAtATime === true ||
  keepsOrder === true ||
  follow === true;

/** The most ways that a design has. */
export const MOST_ROADS = 20_000;
