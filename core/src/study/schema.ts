import { z } from "zod";
import { type DesignOf, designSchemaOf } from "../document/design.ts";
import { type StudyOf, studySchemaOf } from "../document/study.ts";
import { type Element, elementKinds } from "../elements/index.ts";

/** An element of any of the kinds, told apart by `kind`. */
export const elementSchema: z.ZodType<Element> = z.discriminatedUnion(
  "kind",
  Object.values(elementKinds).map(({ schema }) => schema) as unknown as [z.ZodObject, ...z.ZodObject[]],
) as unknown as z.ZodType<Element>;

export const designSchema = designSchemaOf(elementSchema);
export const studySchema = studySchemaOf(elementSchema);

export type Design = DesignOf<Element>;
export type Study = StudyOf<Element>;

/** The JSON Schema (2020-12) of a study file as a person may write it: keys with defaults may be left out. */
export const studyJsonSchema = (): object => ({
  $id: "busy-harbor-study-1.schema.json",
  title: "Busy Harbor study, version 1",
  ...z.toJSONSchema(studySchema, { io: "input" }),
});
