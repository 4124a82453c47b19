import { z } from "zod";

/** The most lines that may name columns. */
export const MOST_HEADER_LINES = 5;

/** Where the rows of a table come from, so that they can be fetched again when the file has changed. */
export const tableLinkSchema = z.strictObject({
  folder: z
    .string()
    .max(200)
    .describe("Name of the folder that the server may read; empty: the file is chosen again each time."),
  file: z.string().min(1).max(1000).describe("Path of the file in the folder, or the name of the file."),
  sheet: z.string().max(200).default("").describe("Name of the sheet; empty where the file has none."),
  cells: z
    .string()
    .regex(/^([A-Z]{1,3}[1-9]\d{0,6}:[A-Z]{1,3}[1-9]\d{0,6})?$/)
    .default("")
    .describe("The cells that were read, such as B3:F20; empty where the file has no sheets."),
  pinned: z
    .boolean()
    .default(false)
    .describe("Just these cells are read; otherwise the range that begins there, as far as it is filled."),
  header: z.int().min(0).max(MOST_HEADER_LINES).default(1).describe("How many lines name the columns."),
  commas: z.boolean().default(false).describe("3,5 means three and a half."),
  mode: z
    .enum(["replace", "update"])
    .default("replace")
    .describe("Whether rows come in place of those there are, or update those of the same key."),
  columns: z
    .array(z.strictObject({ name: z.string().max(500), to: z.string().max(60) }))
    .max(1000)
    .default([])
    .describe("Which column of the table takes which of the file, by the name it has there."),
  atStart: z.boolean().default(false).describe("It is read anew whenever a run is started."),
  readAt: z.string().max(40).default("").describe("When it was last read, by ISO 8601."),
});

export type TableLink = z.infer<typeof tableLinkSchema>;
