import { z } from "zod";
import { expression } from "../settings/parts.ts";

/** From which observations an expression was fitted. */
export const fittedSchema = z.strictObject({
  owner: z.string().max(200).describe("Id of the element it stands at."),
  field: z.string().max(200).describe("Its setting."),
  text: expression.describe("What was written; where something else stands there, it is fitted no more."),
  table: z.string().max(200).describe("Ids of the table and the column of the observations."),
  column: z.string().max(200),
  count: z.int().min(0).describe("How many observations there were."),
});
