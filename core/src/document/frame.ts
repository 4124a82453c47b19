import { z } from "zod";
import { expression, id } from "../settings/parts.ts";

const words = z.string().max(4000).default("");

/** Something that is taken to be so, and what is known of that. */
export const assumptionSchema = z.strictObject({
  id,
  text: z.string().max(1000).default(""),
  state: z.enum(["open", "confirmed", "refuted"]).default("open"),
  by: z.string().max(200).default("").describe("Who confirmed or refuted it."),
  on: z
    .string()
    .regex(/^(\d{4}-\d{2}-\d{2})?$/)
    .default("")
    .describe("When, as yyyy-mm-dd; empty: not told."),
});

/** A measure by which the question is decided. */
export const decidingSchema = z.strictObject({
  id,
  measure: z.string().max(400).default("").describe("Key of the measure, such as `t1/timeInSystem.mean`."),
  better: z.enum(["more", "less"]).default("less"),
  target: expression.default("").describe("What it is to reach, such as 10 min; empty: none."),
  matters: expression.default("").describe("The smallest difference that matters, such as 30 s; empty: any."),
});

/** What a study is about, besides its question. */
export const frameSchema = z.strictObject({
  inside: words.describe("What belongs to the system."),
  outside: words.describe("What does not."),
  assumptions: z.array(assumptionSchema).max(500).default([]),
  deciding: z.array(decidingSchema).max(60).default([]).describe("The measures that decide, the weightiest first."),
});

export type StudyFrame = z.output<typeof frameSchema>;
export type Assumption = z.output<typeof assumptionSchema>;
export type Deciding = z.output<typeof decidingSchema>;
