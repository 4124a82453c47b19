import { z } from "zod";
import { type DesignOf, designSchemaOf } from "../document/design.ts";
import { type StudyOf, studySchemaOf } from "../document/study.ts";
import type { StepBase } from "../document/logic.ts";
import { type Element, elementKinds } from "../elements/index.ts";
import { stepKinds } from "../logic/steps/index.ts";

/** An element of any of the kinds, told apart by `kind`. */
export const elementSchema: z.ZodType<Element> = z.discriminatedUnion(
  "kind",
  Object.values(elementKinds).map(({ schema }) => schema) as unknown as [z.ZodObject, ...z.ZodObject[]],
) as unknown as z.ZodType<Element>;

/** A step of any kind, told apart by `do`, with those under it. */
export const stepSchema: z.ZodType<StepBase> = z.discriminatedUnion(
  "do",
  stepKinds.map(({ schemaOf }) => schemaOf(z.lazy(() => stepSchema))) as unknown as [z.ZodObject, ...z.ZodObject[]],
) as unknown as z.ZodType<StepBase>;

export const designSchema = designSchemaOf(elementSchema, stepSchema);
export const studySchema = studySchemaOf(elementSchema, stepSchema);

export type Design = DesignOf<Element>;
export type Study = StudyOf<Element>;

/** The JSON Schema (2020-12) of a study file as a person may write it: keys with defaults may be left out. */
export const studyJsonSchema = (): object => ({
  $id: "busy-harbor-study-1.schema.json",
  title: "Busy Harbor study, version 1",
  ...z.toJSONSchema(studySchema, { io: "input" }),
});
