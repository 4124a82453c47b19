import { z } from "zod";
import { LAST_STREAM } from "../settings/parts.ts";

/** What is said of a random stream, by its number. */
export const streamSettingsSchema = z.strictObject({
  stream: z.int().min(0).max(LAST_STREAM),
  name: z.string().max(80).default(""),
  seed: z.int().min(0).max(LAST_STREAM).nullable().default(null).describe("A seed of its own; null: the run's."),
  again: z.boolean().default(false).describe("Every replication meets the same numbers; else each meets new ones."),
});

export type StreamSettings = z.infer<typeof streamSettingsSchema>;
