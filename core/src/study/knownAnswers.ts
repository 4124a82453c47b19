import { z } from "zod";
import { schemaProblem } from "./read.ts";
import type { Problem } from "../document/problem.ts";

/** Studies whose figures are known from theory, and what they are. */
export const knownAnswersSchema = z.strictObject({
  format: z.literal("busy-harbor-known-answers"),
  version: z.literal(1),
  answers: z
    .array(
      z.strictObject({
        study: z
          .string()
          .regex(/^[\w-]+\.json$/)
          .describe("Name of the study's file, beside this one."),
        name: z.string(),
        model: z.string().describe("The model in words."),
        source: z.string().describe("Whose result it is."),
        checks: z
          .array(
            z.strictObject({
              name: z.string(),
              value: z.number().describe("In SI units."),
              of: z
                .record(z.string(), z.number())
                .describe("What it is a sum of: measures of the first design by their keys, each with its weight."),
            }),
          )
          .min(1),
      }),
    )
    .min(1),
});

export type KnownAnswer = z.infer<typeof knownAnswersSchema>["answers"][number];

/** Reads the text of a file of known answers. */
export function readKnownAnswers(
  text: string,
):
  | { readonly ok: true; readonly answers: readonly KnownAnswer[] }
  | { readonly ok: false; readonly problems: readonly Problem[] } {
  let data: unknown;
  try {
    data = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    return {
      ok: false,
      problems: [
        {
          code: "not-json",
          severity: "error",
          path: [],
          message: `The file is not JSON text: ${error instanceof Error ? error.message : String(error)}`,
        },
      ],
    };
  }
  const read = knownAnswersSchema.safeParse(data);
  return read.success
    ? { ok: true, answers: read.data.answers }
    : { ok: false, problems: read.error.issues.slice(0, 50).map(schemaProblem) };
}
