import { z } from "zod";
import { expression, id, name, timeOfDay } from "../settings/parts.ts";

const date = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "Write a date as 2026-06-24.");
const block = { from: timeOfDay.default("08:00"), to: timeOfDay.default("16:00"), value: expression.default("all") };

/** A number over time: capacity by shifts, or the rate of arrivals. Times not in any row give 0. */
export const calendarSchema = z.strictObject({
  id,
  name,
  gives: z
    .enum(["capacity", "rate"])
    .default("capacity")
    .describe("Capacity: each value is all, or a count. Rate: each is a rate of arrivals, such as 12/h."),
  repeats: z
    .enum(["weeks", "pattern"])
    .default("weeks")
    .describe("By days of the week, or by a pattern of durations from the start of the run."),
  weeks: z.int().min(1).max(52).default(1).describe("Weeks after which it begins again."),
  firstWeek: z
    .union([date, z.literal("")])
    .default("")
    .describe("A date in its first week; empty: the week in which the run starts."),
  rows: z
    .array(
      z.strictObject({
        week: z.int().min(1).max(52).default(1),
        days: z.array(z.int().min(0).max(6)).min(1).max(7).default([0, 1, 2, 3, 4]),
        ...block,
      }),
    )
    .max(2000)
    .default([])
    .describe("Days count from Monday, 0. A row whose end is not after its start goes on past midnight."),
  exceptions: z
    .array(
      z.strictObject({
        date,
        note: z.string().max(200).default(""),
        rows: z.array(z.strictObject(block)).max(100).default([]),
      }),
    )
    .max(1000)
    .default([])
    .describe("Dates on which other rows hold, from midnight to midnight; none: nothing all day."),
  pattern: z
    .array(z.strictObject({ duration: expression.default("8 h"), value: expression.default("all") }))
    .max(2000)
    .default([]),
  from: z
    .strictObject({
      table: z.string().max(200).describe("Id of a table of the study."),
      times: z.string().max(60).default("").describe("Id of the column of durations or times."),
      values: z.string().max(60).default("").describe("Id of the column of what holds."),
      by: z
        .enum(["durations", "times", "hours"])
        .default("durations")
        .describe(
          "Each row holds for so long, from such a time from the start on, or from such an hour of each day on.",
        ),
      counts: z.boolean().default(false).describe("Values are how many arrive while a row holds, and not rates."),
    })
    .optional()
    .describe("Its pattern is the rows of a table, in place of `pattern`."),
  fills: expression
    .default("24 h")
    .describe("What the durations of the pattern should come to; what they leave open gives 0."),
  after: z
    .enum(["repeat", "hold", "stop"])
    .default("repeat")
    .describe("After the pattern: again from its start, the last value for ever, or 0."),
});

export type Calendar = z.infer<typeof calendarSchema>;
