import { z } from "zod";
import { expression, id, point } from "../settings/parts.ts";
import { settings, speed } from "../settings/setting.ts";

export const ROAD_KINDS = ["walkway", "road"] as const;

/** Settings of a way that is drawn that hold expressions. */
export const ROAD_SETTINGS = settings({
  limit: speed("Speed limit", "Nobody moves faster on it. Empty: none.", {
    optional: true,
    fixed: true,
    entity: false,
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
  width: z.number().min(0.3).max(50).default(2).describe("Metres, for the picture."),
});

export type Road = z.infer<typeof roadSchema>;

/** The most ways that a design has. */
export const MOST_ROADS = 20_000;
