import { z } from "zod";

/** What the schemas of all parts of a study file are made of. Lengths are metres. */

export const id = z.string().min(1).max(60).describe("Unique within its design.");
export const name = z.string().trim().min(1).max(80);
/** Text that a person typed, kept as it is. */
export const expression = z.string().max(4000);
export const point = z
  .tuple([z.number().min(-1e7).max(1e7), z.number().min(-1e7).max(1e7)])
  .describe("[x, y] in metres, y downwards.");
export const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/);

/** The largest number of a random stream that is given out; those of members of families lie above. */
export const LAST_STREAM = 1e9;
export const streams = z
  .record(z.string(), z.int().min(0).max(Number.MAX_SAFE_INTEGER))
  .default({})
  .describe("Random stream of each setting that may draw, by setting; given out when missing and kept in copies.");

/** A file's name in a study: the SHA-256 of its bytes, so that equal files are kept once. */
export const fileId = z
  .string()
  .regex(/^[0-9a-f]{64}$/, "A file is named by the SHA-256 of its bytes, 64 hexadecimal digits.");

export const DRAWING_FORMATS = ["dxf", "svg", "png", "jpeg"] as const;
/** A picture is any of these but a drawing of lines. */
export const pictureFormat = z.enum(DRAWING_FORMATS).exclude(["dxf"]);

export const timeOfDay = z
  .string()
  .regex(/^([01]\d|2[0-3]):[0-5]\d$|^24:00$/, "Write a time of day as 06:30; the end of a day is 24:00.");

export type Point = z.infer<typeof point>;
