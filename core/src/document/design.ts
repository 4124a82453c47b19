import { z } from "zod";
import { id, name } from "../settings/parts.ts";
import { customMeasureSchema } from "./customMeasure.ts";
import { displaySchema } from "./display.ts";
import type { ElementBase } from "./element.ts";
import { entityTypeSchema } from "./entityType.ts";
import { linkSchema } from "./link.ts";
import { procedureSchemaOf, ruleSchemaOf, type StepBase } from "./logic.ts";
import { MOST_ROADS, roadSchema } from "./road.ts";
import { tableSchema } from "./table.ts";
import { ownValueSchema } from "./variable.ts";

/** A design whose elements and steps are as `element` and `step` say: which kinds there are is known higher up. */
export const designSchemaOf = <E, S>(element: z.ZodType<E>, step: z.ZodType<S>) =>
  z.strictObject({
    id,
    name,
    note: z.string().max(4000).default(""),
    copiedFrom: z.string().nullable().default(null).describe("Id of the design this one was copied from."),
    entityTypes: z.array(entityTypeSchema).max(500).default([]),
    elements: z.array(element).max(20_000).default([]),
    links: z.array(linkSchema).max(40_000).default([]),
    roads: z.array(roadSchema).max(MOST_ROADS).optional().describe("Walkways and roads, joined into a network."),
    displays: z.array(displaySchema).max(500).default([]),
    tables: z.array(tableSchema).max(500).default([]).describe("Versions of the study's tables for this design alone."),
    variables: z
      .array(ownValueSchema)
      .max(1000)
      .optional()
      .describe("First values of the study's variables that this design has in place of the study's."),
    measures: z
      .array(customMeasureSchema)
      .max(500)
      .default([])
      .describe("Custom measures, and groups of elements with merged measures."),
    procedures: z.array(procedureSchemaOf(step)).max(500).optional().describe("Steps that rules and others call."),
    rules: z.array(ruleSchemaOf(step)).max(2000).optional().describe("Steps that are done when something happens."),
  });

/** A design; its elements are of any kind unless told. */
export type DesignOf<E = ElementBase, S = StepBase> = z.output<ReturnType<typeof designSchemaOf<E, S>>>;
