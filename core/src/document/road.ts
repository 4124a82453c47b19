import { z } from "zod";
import { expression, id, point } from "../settings/parts.ts";
import { condition, count, length, number, settings, speed, time } from "../settings/setting.ts";

export const ROAD_KINDS = ["walkway", "road"] as const;

const breaks = ({ every }: Readonly<Record<string, unknown>>): boolean =>
  typeof every === "string" && every.trim() !== "";

/** Settings of a way that is drawn that hold expressions. */
export const ROAD_SETTINGS = settings({
  limit: speed("Speed limit", "Nobody moves faster on it. Empty: none.", {
    optional: true,
    fixed: true,
    entity: false,
  }),
  room: count("Room", "The most that are on it at once. Empty: no limit.", [1, 100_000], {
    optional: true,
    fixed: true,
    entity: false,
  }),
  factor: number(
    "Counts as",
    "So many times its length when a way is looked for, such as 1 + way.on / 2: asked when somebody sets out. Empty: 1.",
    { optional: true, entity: false, steady: true, above: 0 },
  ),
  closedWhile: condition("Closed while", "Nobody enters it while this holds; who is on it goes on.", {
    optional: true,
  }),
  radius: length(
    "Radius of curves",
    "Its corners are so round, as far as there is room and nothing joins. Empty: not.",
    {
      optional: true,
    },
  ),
  every: time("Breaks down every", "From when it is open again to the next breakdown. Empty: never.", {
    optional: true,
    entity: false,
    draws: 1,
    drawsWhere: breaks,
  }),
  repair: time("Time to repair", "For which nobody comes onto it; who is on it goes on.", {
    optional: true,
    entity: false,
    draws: 2,
    drawsWhere: breaks,
    used: breaks,
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
  roomEach: z.boolean().optional().describe("Its room is that of each direction, which are apart: two lanes."),
  keepsOrder: z.boolean().optional().describe("Nobody passes another who goes the same way."),
  factor: expression.optional().describe(ROAD_SETTINGS.factor.help),
  calendar: z.string().max(60).optional().describe("Id of the calendar by which it is open; empty: always."),
  closedWhile: expression.optional().describe(ROAD_SETTINGS.closedWhile.help),
  radius: expression.optional().describe(ROAD_SETTINGS.radius.help),
  every: expression.optional().describe(ROAD_SETTINGS.every.help),
  repair: expression.optional().describe(ROAD_SETTINGS.repair.help),
  streams: z
    .record(z.string(), z.int().min(0).max(Number.MAX_SAFE_INTEGER))
    .optional()
    .describe("Random stream of each setting that may draw, by setting; given out when missing."),
  follow: z.boolean().optional().describe("Who is on it is measured, even where nothing holds anybody up."),
  width: z.number().min(0.3).max(50).default(2).describe("Metres, for the picture."),
});

export type Road = z.infer<typeof roadSchema>;

/** Whether who is on a way counts, for others or for what is measured: most are only so long and so fast. */
export const isFollowed = ({ room, oneAtATime, keepsOrder, calendar, closedWhile, every, follow }: Road): boolean =>
  [room, calendar, closedWhile, every].some((text) => (text ?? "").trim() !== "") ||
  oneAtATime === true ||
  keepsOrder === true ||
  follow === true;

/** Whether what a way counts may change while a model runs: it is no plain number. */
export const mayCountOtherwise = ({ factor = "" }: Road): boolean =>
  factor.trim() !== "" && !Number.isFinite(Number(factor));

/** The most ways that a design has. */
export const MOST_ROADS = 20_000;
