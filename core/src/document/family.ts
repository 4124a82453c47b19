import { z } from "zod";
import { point } from "../settings/parts.ts";

/** The most members a family has. */
export const MOST_MEMBERS = 2000;

/** What makes an element a family: how many members it stands for, where they lie, and what each has of its own. */
export const familySchema = z
  .strictObject({
    table: z.string().max(200).default("").describe("Id of the table of which each row is a member; empty: by count."),
    count: z.int().min(1).max(MOST_MEMBERS).default(4).describe("How many members, where no table says."),
    lies: z
      .enum(["line", "grid", "columns"])
      .default("line")
      .describe("Members lie one after another, in lines of a grid, or where two columns of the table say."),
    step: point
      .default([0, 6])
      .describe("Metres from one member to the next; in a grid, to the next beside it and to the next line."),
    across: z.int().min(1).max(MOST_MEMBERS).default(5).describe("Members in a line of a grid."),
    x: z.string().max(60).default("").describe("Id of the column of places from the left, lengths or metres."),
    y: z.string().max(60).default("").describe("Id of the column of places from the top."),
    columns: z
      .record(z.string().max(60), z.string().max(60))
      .default({})
      .describe(
        "By the name of a setting that is no expression: id of the column from which each member has it. Expressions read columns as row.column.",
      ),
  })
  .describe("It stands for several members, alike but for what a table says of each.");

export type Family = z.infer<typeof familySchema>;
