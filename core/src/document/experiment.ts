import { z } from "zod";
import { expression, id } from "../settings/parts.ts";

/** The most scenarios an experiment has. */
export const MOST_SCENARIOS = 1000;
/** The most factors. */
export const MOST_FACTORS = 60;

/** Something of the study that is not the same in all scenarios. */
export const factorSchema = z.strictObject({
  id,
  name: z.string().trim().max(80).default("").describe("Empty: named after what it sets."),
  at: z
    .array(z.string().min(1).max(400))
    .min(2)
    .max(12)
    .describe(
      "Where it stands in the study: the list, the thing's id, and the setting, such as elements, desk, capacity. Rows of lists are named by their id, or counted from 0; cells of a table by the key of their row (without one, its number from 1) and the id of their column.",
    ),
});

/** One row of an experiment: a design with values of the factors. */
export const scenarioSchema = z.strictObject({
  id,
  name: z.string().trim().max(120).default("").describe("Empty: named after its values."),
  design: z.string().max(60).describe("Id of the design."),
  values: z
    .record(z.string().max(60), expression)
    .default({})
    .describe("By the id of a factor, its value as a person types it; missing: as the design has it."),
  replications: z.int().min(1).max(100_000).optional().describe("Missing: as many as the study's run settings say."),
  off: z.boolean().optional().describe("It is left out when the experiment runs, and when it is read."),
});

/** What a search goes through, and by which measure it finds the best. */
export const searchPlanSchema = z.strictObject({
  design: z.string().max(60).describe("Id of the design."),
  ranges: z
    .record(
      z.string().max(60),
      z.strictObject({
        from: expression.default(""),
        to: expression.default(""),
        steps: z.int().min(1).max(10_000).default(20).describe("Of a range of real numbers."),
        choices: expression.default("").describe("Separated by commas, in place of a range."),
      }),
    )
    .default({})
    .describe("By the id of a factor; whole numbers without unit at both ends give whole numbers."),
  measure: z.string().max(400).default("").describe("Key of the measure that is to be the best."),
  better: z.enum(["more", "less"]).default("less"),
  matters: expression.default("").describe("The smallest difference that matters."),
  chance: z.number().min(0.5).max(0.9999).default(0.95).describe("That of the right one among the finalists."),
  bound: z
    .strictObject({
      measure: z.string().max(400),
      is: z.enum(["at most", "at least"]).default("at most"),
      value: expression.default(""),
    })
    .optional()
    .describe("A second measure that is kept within a bound on average."),
  also: z
    .array(
      z.strictObject({
        measure: z.string().max(400).describe("Key of the measure."),
        weight: z.number().default(1).describe("What one unit of it counts in units of the first, in a weighted sum."),
        better: z.enum(["more", "less"]).default("less").describe("On a front."),
      }),
    )
    .max(5)
    .optional()
    .describe("Further measures: added up with weights, or on a front."),
  as: z.enum(["sum", "front"]).optional().describe("How several measures are taken together; a sum unless said."),
  constraints: z
    .array(z.strictObject({ coefficients: z.record(z.string().max(60), z.number()), most: z.number() }))
    .max(20)
    .default([])
    .describe("Sums of coefficients, by factor, times values that are at most so much; in the units of the ranges."),
  budget: z.int().min(50).max(1_000_000).default(1000).describe("Replications in all."),
});

/** Scenarios that are run and compared. */
export const experimentSchema = z.strictObject({
  id,
  name: z.string().trim().min(1).max(120),
  note: z.string().max(4000).default(""),
  factors: z.array(factorSchema).max(MOST_FACTORS).default([]),
  scenarios: z.array(scenarioSchema).max(MOST_SCENARIOS).default([]),
  baseline: z.string().max(60).default("").describe("Id of the scenario others are held against; empty: the first."),
  measures: z
    .array(z.string().max(400))
    .max(200)
    .default([])
    .describe("Keys of the measures that are read beside the deciding ones."),
  random: z
    .enum(["common", "independent"])
    .default("common")
    .describe("Whether replications of one number have the same random numbers in all scenarios."),
  search: searchPlanSchema.optional().describe("A search over ranges of the factors."),
});

export type Factor = z.output<typeof factorSchema>;
export type Scenario = z.output<typeof scenarioSchema>;
export type SearchPlan = z.output<typeof searchPlanSchema>;
export type ExperimentPlan = z.output<typeof experimentSchema>;
