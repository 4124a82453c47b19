import { z } from "zod";
import { expression, id, name, streams } from "../settings/parts.ts";

/** A value of the system as a whole, which expressions read by its name. */
export const variableSchema = z.strictObject({
  id,
  name,
  note: z.string().max(4000).default(""),
  value: expression
    .default("0")
    .describe("Its first value: a number with its unit, text, yes or no, a list; a number may be drawn."),
  table: z
    .string()
    .max(60)
    .default("")
    .describe(
      "Id of the table for each row of which it has a value, which `row` in `value` may say; empty: it has one.",
    ),
  streams,
});

/** The first value that a design has in place of the study's. */
export const ownValueSchema = z.strictObject({ variable: z.string().min(1).max(60), value: expression });

export type Variable = z.infer<typeof variableSchema>;
export type OwnValue = z.infer<typeof ownValueSchema>;

/** The variables as a design has them: with its own first value of some. */
export const variablesOf = (
  variables: readonly Variable[] | undefined,
  own: readonly OwnValue[] | undefined,
): readonly Variable[] =>
  (variables ?? []).map((variable) => {
    const value = own?.find((o) => o.variable === variable.id)?.value;
    return value === undefined ? variable : { ...variable, value };
  });
