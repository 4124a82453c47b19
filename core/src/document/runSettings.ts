import { z } from "zod";
import { expression, timeOfDay } from "../settings/parts.ts";
import { condition, count, settings, time } from "../settings/setting.ts";

/** What a run of each type is counted in: one of it, and several. */
export const COUNTED_IN = {
  terminating: ["replication", "replications"],
  long: ["batch", "batches"],
  pairs: ["pair", "pairs"],
} as const;

/** Run settings that hold expressions. */
export const RUN_SETTINGS = settings({
  length: time("Length", "Length of a replication.", { fixed: true, least: undefined, above: 0, entity: false }),
  count: count("Departures", "Departures after which a replication ends.", [1, 1e12], {
    fixed: true,
    used: ({ ends }) => ends === "count",
  }),
  condition: condition("Ends when", "Such as Dock.done >= 100 or Yard.length = 0.", {
    steady: true,
    used: ({ ends }) => ends === "condition",
  }),
  warmUp: time("Warm-up", "Time at the start whose data are discarded.", { fixed: true, entity: false }),
});

const runSettings = {
  length: expression.describe("Length of a replication."),
  warmUp: expression.describe("Time at the start whose data are discarded."),
  replications: z.int().min(1).max(100_000),
  seed: z.int().min(0).max(Number.MAX_SAFE_INTEGER),
  level: z.number().gt(0).lt(1).describe("Confidence level of intervals."),
  start: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, "Write the start as 2026-06-03T08:00.")
    .describe("Calendar date and time at which a replication starts."),
  ends: z
    .enum(["time", "date", "count", "condition"])
    .describe(
      "What ends a replication: its length; a date; so many departures, or a condition, and its length at the latest.",
    ),
  kind: z
    .enum(["terminating", "long", "pairs"])
    .describe(
      "Replications from start to end; one long replication, whose measured time is cut into as many batches as there are replications; or pairs of replications, the second of each antithetic to the first.",
    ),
  nights: z
    .enum(["simulated", "skipped"])
    .describe(
      "Whether the hours outside the operating hours are simulated, or each day follows at once on the one before.",
    ),
  opens: timeOfDay.describe("When a day of operation begins, where nights are skipped."),
  closes: timeOfDay.describe("When a day of operation ends, where nights are skipped."),
  endDate: z
    .string()
    .regex(/^(\d{4}-\d{2}-\d{2}T\d{2}:\d{2})?$/, "Write the end as 2026-06-12T18:00.")
    .describe("When a replication ends, where a date ends it."),
  count: expression.describe("Departures after which a replication ends, where a count ends it."),
  condition: expression.describe("Condition that ends a replication; it is looked at when what it reads changes."),
  observations: z
    .boolean()
    .describe("Each entity that leaves after the warm-up is a row of a file, written while the run goes on."),
  kept: z
    .array(z.string().max(400))
    .max(50)
    .describe(
      "Measures of which every observation, or every change of a level, is kept: owner and measure, such as dock/wait.",
    ),
  precision: z
    .strictObject({
      goals: z
        .array(
          z.strictObject({
            measure: z.string().max(400).describe("Key of the measure."),
            to: expression.describe(
              "The half-width it is to have, such as 30 s, or the share of its mean, such as 5 %.",
            ),
            relative: z.boolean().default(false).describe("Whether `to` is a share of the mean."),
          }),
        )
        .min(1)
        .max(20),
      most: z.int().min(10).max(100_000).default(1000).describe("Replications at which it stops in any case."),
    })
    .describe("Replications go on, from ten, until the half-widths are small enough."),
  mostEntities: z
    .int()
    .min(1)
    .max(10_000_000)
    .describe("Entities in the system at once above which a replication is stopped."),
  mostEvents: z.int().min(1).max(20_000_000_000).describe("Events after which a replication is stopped."),
};

export const runSettingsSchema = z.strictObject({
  length: runSettings.length.default("8 h"),
  warmUp: runSettings.warmUp.default("0 h"),
  replications: runSettings.replications.default(20),
  seed: runSettings.seed.default(1),
  level: runSettings.level.default(0.95),
  start: runSettings.start.default("2026-06-01T08:00"),
  ends: runSettings.ends.default("time"),
  kind: runSettings.kind.default("terminating"),
  nights: runSettings.nights.default("simulated"),
  opens: runSettings.opens.default("06:00"),
  closes: runSettings.closes.default("22:00"),
  endDate: runSettings.endDate.default(""),
  count: runSettings.count.default("1000"),
  condition: runSettings.condition.default(""),
  observations: runSettings.observations.optional(),
  kept: runSettings.kept.optional(),
  precision: runSettings.precision.optional(),
  mostEntities: runSettings.mostEntities.default(1_000_000),
  mostEvents: runSettings.mostEvents.default(20_000_000_000),
});

/** Some of the run settings. It has no defaults: what is left out stays as it is. */
export const changedRunSettingsSchema = z.strictObject(runSettings).partial();

export type RunSettings = z.infer<typeof runSettingsSchema>;
