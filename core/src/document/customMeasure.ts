import { z } from "zod";
import { expression, id, name } from "../settings/parts.ts";

/** Something measured besides what is measured of everything with no set-up. It changes nothing of a run. */
export const customMeasureSchema = z.discriminatedUnion("kind", [
  z.strictObject({
    kind: z.literal("average"),
    id,
    name,
    value: expression.default("").describe("What is averaged over time; it reads elements and draws nothing."),
  }),
  z.strictObject({
    kind: z.literal("ranges"),
    id,
    name,
    value: expression.default(""),
    bounds: z
      .array(expression)
      .min(1)
      .max(20)
      .default(["1", "5"])
      .describe("Rising; the share of time is measured below the first, between each two, and from the last on."),
  }),
  z.strictObject({
    kind: z.literal("condition"),
    id,
    name,
    condition: expression.default("").describe("The share of time in which this holds is measured."),
  }),
  z.strictObject({
    kind: z.literal("recorded"),
    id,
    name,
    as: z
      .enum(["observations", "level", "count", "state"])
      .default("observations")
      .describe(
        "What steps record: single observations, the value or the state from now on, or how many and how much.",
      ),
    bounds: z
      .array(expression)
      .max(20)
      .optional()
      .describe("Of observations and levels: rising; the shares below, between and above are measured too."),
    states: z.array(z.string().trim().max(60)).max(40).optional().describe("Of a state: those that are told apart."),
    byType: z.boolean().default(false).describe("Also for each entity type by itself."),
  }),
  z.strictObject({
    kind: z.literal("derived"),
    id,
    name,
    value: expression
      .default("")
      .describe("An expression of measures of one's own that stand before it, by their names, such as Fees / Visits."),
  }),
  z.strictObject({
    kind: z.literal("group"),
    id,
    name,
    elements: z
      .array(z.string())
      .max(2000)
      .default([])
      .describe("Ids of the elements whose measures are merged, with the right weights."),
  }),
]);

export type CustomMeasure = z.infer<typeof customMeasureSchema>;
