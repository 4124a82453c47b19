import { z } from "zod";
import { expression, id, name } from "../settings/parts.ts";
import { tableLinkSchema } from "./tableLink.ts";

/** What the cells of a column may hold. */
export const COLUMN_HOLDS = [
  "number",
  "text",
  "yes or no",
  "date",
  "duration",
  "element",
  "resource",
  "calendar",
  "entity type",
  "row",
  "expression",
] as const;
export type ColumnHolds = (typeof COLUMN_HOLDS)[number];

/** The most rows a table has. */
export const MOST_ROWS = 200_000;
/** The most columns. */
export const MOST_COLUMNS = 1000;

export const columnSchema = z.strictObject({
  id,
  name,
  holds: z.enum(COLUMN_HOLDS).default("number"),
  unit: z
    .string()
    .max(20)
    .default("")
    .describe("Unit of a number that is written without one, and what an expression gives; empty: a plain number."),
  of: z.string().max(60).default("").describe("Id of the table whose rows it names."),
  default: expression.default("").describe("Stands in place of an empty cell."),
  required: z.boolean().default(false).describe("No cell may be empty."),
  unique: z.boolean().default(false).describe("No two cells are the same."),
  least: expression.default("").describe("No number is below this."),
  most: expression.default("").describe("No number is above this."),
});

/** Typed columns and rows of cells, each as it was typed. */
export const tableSchema = z.strictObject({
  id,
  name,
  note: z.string().max(4000).default(""),
  matrix: z
    .boolean()
    .default(false)
    .describe(
      "Values are asked for by the key of a row and that of a column: all columns but the first hold the same.",
    ),
  route: z
    .boolean()
    .default(false)
    .describe("Entities go along it: its rows are the steps of each entity type, in order; one table is."),
  link: tableLinkSchema.optional().describe("The file that its rows are fetched from."),
  key: z.string().max(60).default("").describe("Id of the column by which rows are found; empty: by their number."),
  columns: z.array(columnSchema).max(MOST_COLUMNS).default([]),
  rows: z
    .array(z.array(expression).max(MOST_COLUMNS))
    .max(MOST_ROWS)
    .default([])
    .describe("Cells in the order of the columns; what is missing at the end of a row is empty."),
});

export type Column = z.infer<typeof columnSchema>;
export type Table = z.infer<typeof tableSchema>;

/** The tables as a design has them: its own version of some, the study's of the others. */
export const tablesOf = (tables: readonly Table[], own: readonly Table[]): Table[] =>
  tables.map((table) => own.find(({ id }) => id === table.id) ?? table);
