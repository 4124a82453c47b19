import { z } from "zod";
import { attributeSchema } from "./entityType.ts";
import { familySchema } from "./family.ts";
import { fileId, id, name, pictureFormat, point, streams, type Point } from "../settings/parts.ts";

/** Ways in which an entity chooses among several links out. */
export const WAYS_OUT = [
  "share",
  "shortest line",
  "in turn",
  "first free",
  "condition",
  "cheapest",
  "named",
  "route",
] as const;
export type WayOut = (typeof WAYS_OUT)[number];

/** What every element has, whatever its kind. */
export const elementFrame = {
  id,
  name,
  at: point.describe("Middle of the symbol, [x, y] in metres."),
  group: z.string().max(60).default("").describe("Elements of one group are selected and moved together; empty: none."),
  locked: z.boolean().default(false).describe("Stays where it is, and is not deleted, until unlocked."),
  picture: z
    .strictObject({
      file: fileId,
      format: pictureFormat,
      size: z.number().min(0.5).max(20).default(2),
      turn: z.number().min(-360).max(360).default(0),
    })
    .optional()
    .describe("Drawn in place of the symbol: so many times as wide as one slot, turned clockwise by degrees."),
  family: familySchema.optional(),
  attributes: z
    .array(attributeSchema)
    .max(60)
    .optional()
    .describe("Values of its own, which expressions read as Dock.name and steps set; entities do not have them."),
  streams,
};

type Frame = z.output<z.ZodObject<typeof elementFrame>>;

/** An element as all that knows no kinds sees it. */
export interface ElementBase extends Frame {
  kind: string;
  at: Point;
  /** How an entity chooses its way, where any goes on from it. */
  wayOut?: WayOut;
  destination?: string;
  /** Id of the table of which a row is at hand here. */
  table?: string;
}
