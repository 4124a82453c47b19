import { z } from "zod";

/** Requests and replies about what was kept of chosen measures of a run. */

/** What is kept, in the order of its positions. */
export const keptSourceSchema = z.object({
  /** Owner and measure, such as dock/wait. */
  id: z.string(),
  /** Which of several levels of the measure: a state. */
  part: z.string().optional(),
  /** A level that lasts, or observations one by one. */
  isLevel: z.boolean(),
});

export const keptSchema = z.object({
  sources: keptSourceSchema.array(),
  /** Seconds from the start between which it was measured, at most. */
  from: z.number(),
  to: z.number(),
  /** Seconds of the day at the start; where nights are skipped, of opening and closing. */
  startOfDay: z.number(),
  open: z.tuple([z.number(), z.number()]).nullable(),
});

/** Replications of which all is kept, besides. */
export const keptInRunSchema = keptSchema.extend({ replications: z.int().array() });

const number = z.coerce.number();
const numbers = z.number().array();
const orNone = z.number().nullable().array();

/** How a distribution is read: with bins of one's own, or round ones in a unit that is `factor` SI units. */
export const distributionQuerySchema = z
  .object({
    factor: number.positive().default(1),
    start: number.optional(),
    width: number.positive().optional(),
    count: number.int().min(1).max(1000).optional(),
    /** Of one replication alone. */
    replication: number.int().min(1).optional(),
  })
  .refine(({ start, width, count }) => [start, width, count].every((v) => v === undefined) || width !== undefined, {
    message: "Bins of one's own have a width.",
  });

/** The distribution of all that was kept; null where nothing was. SI units. */
export const distributionSchema = z
  .object({
    replications: z.int(),
    /** Observations, or seconds of a level. */
    weight: z.number(),
    mean: z.number(),
    deviation: z.number().nullable(),
    least: z.number(),
    most: z.number(),
    /** By how much quantiles may be off. */
    error: z.number(),
    quantiles: z.array(z.object({ p: z.number(), value: z.number() })),
    bins: z.object({ start: z.number(), width: z.number(), count: z.int() }),
    /** Observations, or seconds, in each bin, below all and above all. */
    weights: numbers,
    below: z.number(),
    above: z.number(),
    /** Points of the distribution function. */
    values: numbers,
    shares: numbers,
    box: z.object({
      low: z.number(),
      lower: z.number(),
      median: z.number(),
      upper: z.number(),
      high: z.number(),
      below: z.number(),
      above: z.number(),
    }),
  })
  .nullable();

const acrossSchema = z.object({
  /** Replications that have a value, in each class. */
  n: z.int().array(),
  mean: orNone,
  deviation: orNone,
});

/** Into how many equal pieces time is cut, and which replication is drawn as it was. */
export const overTimeQuerySchema = z.object({
  pieces: number.int().min(2).max(2000).default(100),
  replication: number.int().min(1).default(1),
});

export const overTimeSchema = z.object({
  /** Seconds from the start at which the first piece begins, and how long each is. */
  from: z.number(),
  width: z.number(),
  /** Means over replications, by piece of time and by hour of the day. */
  pieces: acrossSchema,
  hours: acrossSchema,
  /** Of the one replication: its means by piece, and what it was, thinned to what a drawing shows. */
  one: orNone,
  times: numbers,
  values: numbers,
});

export type Kept = z.infer<typeof keptSchema>;
export type KeptInRun = z.infer<typeof keptInRunSchema>;
export type KeptSource = z.infer<typeof keptSourceSchema>;
export type DistributionQuery = z.infer<typeof distributionQuerySchema>;
export type DistributionReading = z.infer<typeof distributionSchema>;
export type OverTimeQuery = z.infer<typeof overTimeQuerySchema>;
export type OverTimeReading = z.infer<typeof overTimeSchema>;
